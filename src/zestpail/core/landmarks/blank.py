"""A blank strip as a landmark: a part of the page's height without print, although specks lie in it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.landmarks.match import LandmarkMatch
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.features.blank_strips import strips_of


class BlankStrip(Landmark):
    """A strip from edge to edge in which nothing is printed."""

    landmark: Literal["blank_strip"] = "blank_strip"
    alike: float = 0.4

    @property
    def sentence(self) -> str:
        """The landmark as a person reads it."""
        height = self.reference.box.height / 72 * 25.4
        return f"a blank strip about {height:.0f} mm high, in the page's {self.reference.part} part"

    def landmark_matches(self, document: DocumentReading) -> Iterator[LandmarkMatch]:
        """Every blank strip, by its height and place."""
        for page, reading in enumerate(document.pages):
            for box in strips_of(reading):
                heights = sorted((box.height, self.reference.box.height))
                parts = {"height": round((heights[0] / heights[1]) ** 0.5, 3), "place": self.near_reference(page, box)}
                yield LandmarkMatch(page=page, box=box, text="", parts=parts)
