"""Printed words as a landmark: a label, in all its wordings, although OCR garbles it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from zestpail.core.landmarks.labels import Label, match_labels
from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.landmarks.match import NEAR_MISS, LandmarkMatch
from zestpail.core.reading.document import DocumentReading

_DIAL = ((0.93, "strict"), (0.82, "rather strict"), (0.72, "rather forgiving"), (0.0, "forgiving"))
"""From this similarity on, the dial is called so."""


class PrintedWords(Landmark):
    """Words that are printed on every page of the kind."""

    landmark: Literal["printed_words"] = "printed_words"
    wordings: tuple[str, ...] = Field(min_length=1)
    alike: float = Field(default=0.78, ge=0.5, le=1)

    @property
    def sentence(self) -> str:
        """The landmark as a person reads it."""
        words = " or ".join(f"“{wording}”" for wording in self.wordings)
        dial = next(message for least, message in _DIAL if self.alike >= least)
        return f"the words {words}; how alike: {dial}"

    def landmark_matches(self, document: DocumentReading) -> Iterator[LandmarkMatch]:
        """All places where they may stand, near misses too."""
        labels = [Label(wording, None) for wording in self.wordings]
        for match in match_labels(document.lines, labels, min(self.alike, NEAR_MISS + 0.1)):
            near = self.reference.nearness(match.line.page, match.box) ** self.keeps_place
            parts = {"alike": round(match.similarity, 3), "place": round(near, 3)}
            text = match.line.text[match.start : match.end]
            yield LandmarkMatch(page=match.line.page, box=match.box, text=text, parts=parts)

    def taken(self, match: LandmarkMatch) -> bool:
        """Whether the text is like enough; the place only decides between several."""
        return match.parts["alike"] >= self.alike
