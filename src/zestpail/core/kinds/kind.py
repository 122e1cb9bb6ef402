"""What all kinds of value have in common."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
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

    @cached_property
    def box(self) -> Box:
        return self.line.box_of(self.start, self.seen_to or self.end)

    @property
    def confidence(self) -> float:
        return self.line.confidence_of(self.start, self.end)


SheetFormat = Literal["text", "money", "number", "date"]
LEAST_SHAPE = 0.3
"""What fits a kind less well than this is no value of a table's column of that kind."""


class Kind(BaseModel):
    """A kind of value. Values are kept as normalised text: ISO dates, decimals with a point, ISO 4217 codes."""

    model_config = ConfigDict(frozen=True)

    wraps: ClassVar[Literal["never", "in sentences", "always"]] = "never"
    """Whether a value may go on at the beginning of the next line."""
    free: ClassVar[bool] = False
    """Whether any text fits, so that only what stands round it tells where it begins and ends."""
    a_name: ClassVar[bool] = False
    """Whether its values are names of firms or people, which have roles: seller, buyer, master."""
    narrow: ClassVar[bool] = True
    """Whether its values can be told from other text."""
    numeric: ClassVar[bool] = False
    """Whether its values are numbers, which are set flush right."""
    money: ClassVar[bool] = False
    in_words: ClassVar[bool] = False
    """Whether a sentence may say its value, or deny it."""
    of_maker: ClassVar[bool] = False
    """Whether its values are mostly the same on all papers of one maker."""
    identifies: ClassVar[bool] = False
    """Whether its values name a thing, as an article number does."""
    in_totals: ClassVar[bool] = False
    """Whether a line that adds up the rows of a table may have such values too."""
    sheet: ClassVar[SheetFormat] = "text"
    """How its values are written into a spreadsheet."""
    proposal_rank: ClassVar[int] = 0
    """The place at which it is tried for a text that a person points at, from 1; 0 if it is never proposed."""
    told_by: ClassVar[Literal["", "box", "stroke"]] = ""
    """What ink says it, for what is no text: a ticked box, or a stroke of the pen."""
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

    def as_entered(self, text: str, style: Style) -> tuple[str, str] | None:
        """The value that a person says a text is, and what speaks against it (""); None if it cannot be this kind.

        A person's word stands: what only fails its check figures is taken.
        """
        value = self.parse(text, style)
        return None if value is None else (value, "")

    def meant_by(self, text: str, style: Style) -> bool:
        """Whether a text that a person points at is meant as this kind: by default, if all of it fits well."""
        line = line_of_text(text)
        return any(s.shape > 0.9 and s.end - s.start >= len(line.text) - 1 for s in self.spot(line, style))

    def ambiguous(self, raw: str, style: Style) -> bool:  # noqa: ARG002 - most kinds say one thing
        """Whether what stands there may mean another value too, nothing on the paper telling which."""
        return False

    def in_cell(self, text: str, style: Style) -> str | None:
        """The value of a table's cell: the piece that fits best, if no figures are left over; else all of it."""
        if not self.narrow:
            return self.parse(text, style)
        best = self.best_span(text, style)
        if best is None:
            return None
        others = sum(c.isdigit() for c in text) - sum(c.isdigit() for c in best.raw)
        return best.value if others <= 0 else None

    def best_span(self, text: str, style: Style) -> Span | None:
        """The longest piece of a text that fits the kind."""
        spans = [span for span in self.spot(line_of_text(text), style) if span.shape >= LEAST_SHAPE]
        return max(spans, key=lambda span: (span.end - span.start, span.shape), default=None)

    def show(self, value: str) -> str:
        """The normalised value as a person likes to read it."""
        return value

    def said(self, value: str) -> str:
        """The value so that it cannot be understood in two ways, as it is told to somebody who types it."""
        return self.show(value)


def repaired(figures: str) -> tuple[str, float]:
    """Text that should be figures, with letters that OCR takes for figures put right, and the shape that is left."""
    right = figures.translate(_SLIPS)
    changed = sum(1 for a, b in zip(figures, right, strict=True) if a != b)
    return right, REPAIR_PRICE**changed
