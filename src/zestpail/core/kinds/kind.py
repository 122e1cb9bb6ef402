"""What all kinds of value have in common."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import ClassVar, Literal

from pydantic import BaseModel, ConfigDict

from zestpail.core.kinds.style import Style
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line, line_of_text

REPAIR_PRICE = 0.85
"""What each repaired character costs of the shape score."""

_SLIPS = str.maketrans({"O": "0", "o": "0", "Q": "0", "D": "0", "l": "1", "I": "1", "|": "1", "S": "5", "B": "8"})


@dataclass(frozen=True)
class Span:
    """Characters of a line that can be read as a value; ``shape`` in [0, 1] says how well they fit the kind."""

    line: Line
    start: int
    end: int
    value: str
    shape: float
    seen_to: int | None = None
    """Where its part on the first line ends, if it goes on at the next one."""

    @property
    def raw(self) -> str:
        return self.line.text[self.start : self.end].replace("\t", " ")

    @property
    def box(self) -> Box:
        return self.line.box_of(self.start, self.seen_to or self.end)

    @property
    def confidence(self) -> float:
        return self.line.confidence_of(self.start, self.end)


class Kind(BaseModel):
    """A kind of value. Values are kept as normalised text: ISO dates, decimals with a point, ISO 4217 codes."""

    model_config = ConfigDict(frozen=True)

    wraps: ClassVar[Literal["never", "in sentences", "always"]] = "never"
    """Whether a value may go on at the beginning of the next line."""
    free: ClassVar[bool] = False
    """Whether any text fits, so that only what stands round it tells where it begins and ends."""
    numeric: ClassVar[bool] = False
    """Whether its values are numbers that can be added up and are set flush right."""
    block: ClassVar[bool] = False
    """Whether the lines under it may belong to it."""

    def joined(self, lines: Sequence[str]) -> str:
        """The value of several lines that belong together."""
        return " ".join(lines)

    @abstractmethod
    def spot(self, line: Line, style: Style) -> Iterator[Span]:
        """Everything on the line that can be this kind."""

    @property
    @abstractmethod
    def words(self) -> str:
        """The kind in a sentence: "a date"."""

    def parse(self, text: str, style: Style) -> str | None:
        """The normalised value of a text that as a whole is this kind, or None."""
        if not text.strip():
            return None
        line = line_of_text(text)
        spans = sorted(self.spot(line, style), key=lambda s: (s.end - s.start, s.shape), reverse=True)
        if spans and 2 * (spans[0].end - spans[0].start) > len(line.text):
            return spans[0].value
        return None

    def show(self, value: str) -> str:
        """The normalised value as a person likes to read it."""
        return value


def repaired(figures: str) -> tuple[str, float]:
    """Text that should be figures, with letters that OCR takes for figures put right, and the shape that is left."""
    right = figures.translate(_SLIPS)
    changed = sum(1 for a, b in zip(figures, right, strict=True) if a != b)
    return right, REPAIR_PRICE**changed
