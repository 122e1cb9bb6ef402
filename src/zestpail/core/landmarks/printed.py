"""Printed words as a landmark: a label, in all its wordings, although OCR garbles it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.finders.labels import Label, match_labels
from zestpail.core.reading.lines import Line
from zestpail.core.sighting import NEAR_MISS, Home, Sighting

_DIAL = ((0.93, "strict"), (0.82, "rather strict"), (0.72, "rather forgiving"), (0.0, "forgiving"))


class PrintedWords(BaseModel):
    """Words that are printed on every page of the kind."""

    model_config = ConfigDict(frozen=True)

    landmark: Literal["printed words"] = "printed words"
    key: str = Field(pattern=r"^[A-Za-z][A-Za-z0-9_]*$")
    wordings: tuple[str, ...] = Field(min_length=1)
    alike: float = Field(default=0.78, ge=0.5, le=1)
    """How alike a text must be to count; the one dial, from strict to forgiving."""
    home: Home

    @property
    def sentence(self) -> str:
        """The landmark as a person reads it."""
        words = " or ".join(f"“{wording}”" for wording in self.wordings)
        dial = next(said for least, said in _DIAL if self.alike >= least)
        return f"the words {words}; how alike: {dial}"

    def sightings(self, lines: Iterable[Line], rules: object) -> Iterator[Sighting]:  # noqa: ARG002 - words only
        """All places where it may stand, near misses too."""
        labels = [Label(wording, None) for wording in self.wordings]
        for match in match_labels(tuple(lines), labels, min(self.alike, NEAR_MISS + 0.1)):
            parts = {
                "alike": round(match.similarity, 3),
                "place": round(self.home.nearness(match.line.page, match.box), 3),
            }
            text = match.line.text[match.start : match.end]
            yield Sighting(page=match.line.page, box=match.box, text=text, parts=parts)

    def taken(self, sighting: Sighting) -> bool:
        """Whether a sighting is like enough to be taken."""
        return sighting.parts["alike"] >= self.alike
