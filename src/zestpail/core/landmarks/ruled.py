"""A ruled line as a landmark, although scanners break, thicken and tilt it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.landmarks.match import LandmarkMatch
from zestpail.core.reading.document import DocumentReading


class RuledLine(Landmark):
    """A level line across a part of the page."""

    landmark: Literal["ruled_line"] = "ruled_line"

    @property
    def sentence(self) -> str:
        """The landmark as a person reads it."""
        share = self.reference.box.width / self.reference.width
        across = (
            "nearly the whole page"
            if share > 0.8
            else "more than half the page"
            if share > 0.5
            else f"{share:.0%} of the page"
        )
        return f"a ruled line across {across}, in its {self.reference.part} part"

    def landmark_matches(self, document: DocumentReading) -> Iterator[LandmarkMatch]:
        """Every ruled line, by its length and place."""
        for page, reading in enumerate(document.pages):
            for box in reading.rules:
                longer, shorter = max(box.width, self.reference.box.width), min(box.width, self.reference.box.width)
                parts = {"length": round(shorter / longer, 3), "place": self.near_reference(page, box)}
                yield LandmarkMatch(page=page, box=box, text="", parts=parts)
