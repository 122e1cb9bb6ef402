"""A box to be ticked as a landmark."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.landmarks.match import LandmarkMatch
from zestpail.core.reading.document import DocumentReading


class MarkPlace(Landmark):
    """A small drawn box, ticked or not."""

    landmark: Literal["mark"] = "mark"
    alike: float = 0.6

    @property
    def sentence(self) -> str:
        """The landmark as a person reads it."""
        return f"a box to be ticked, in the {self.reference.part} part of the page"

    def landmark_matches(self, document: DocumentReading) -> Iterator[LandmarkMatch]:
        """Every box, by its size and place."""
        for page, reading in enumerate(document.pages):
            for mark in reading.marks:
                sizes = sorted((mark.box.width, self.reference.box.width))
                parts = {"size": round(sizes[0] / sizes[1], 3), "place": self.near_reference(page, mark.box)}
                yield LandmarkMatch(page=page, box=mark.box, text="", parts=parts)
