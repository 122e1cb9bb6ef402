"""A ruled line as a landmark, although scanners break, thicken and tilt it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.landmarks.match import Sighting
from zestpail.core.reading.document import DocumentReading


class RuledLine(Landmark):
    """A level line across a part of the page."""

    landmark: Literal["ruled line"] = "ruled line"

    @property
    def sentence(self) -> str:
        """The landmark as a person reads it."""
        share = self.home.box.width / self.home.width
        across = (
            "nearly the whole page"
            if share > 0.8
            else "more than half the page"
            if share > 0.5
            else f"{share:.0%} of the page"
        )
        return f"a ruled line across {across}, in its {self.home.part} part"

    def sightings(self, document: DocumentReading) -> Iterator[Sighting]:
        """Every ruled line, by its length and place."""
        for page, reading in enumerate(document.pages):
            for box in reading.rules:
                longer, shorter = max(box.width, self.home.box.width), min(box.width, self.home.box.width)
                parts = {"length": round(shorter / longer, 3), "place": self.near_home(page, box)}
                yield Sighting(page=page, box=box, text="", parts=parts)
