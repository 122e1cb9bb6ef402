"""A blank strip as a landmark: a part of the page's height without print, although specks lie in it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import PageReading, Word
from zestpail.core.sighting import Sighting

LEAST_STRIP = 14.0
"""Points; less is the distance of two lines."""
SURE_PRINT = 0.4
"""Single characters that were read less surely than this are specks."""


class BlankStrip(Landmark):
    """A strip from edge to edge in which nothing is printed."""

    landmark: Literal["blank strip"] = "blank strip"
    alike: float = 0.4

    @property
    def sentence(self) -> str:
        """The landmark as a person reads it."""
        return (
            f"a blank strip about {self.home.box.height / 72 * 25.4:.0f} mm high, in the page's {self.home.part} part"
        )

    def sightings(self, document: DocumentReading) -> Iterator[Sighting]:
        """Every blank strip, by its height and place."""
        for page, reading in enumerate(document.pages):
            for box in strips_of(reading):
                heights = sorted((box.height, self.home.box.height))
                parts = {"height": round((heights[0] / heights[1]) ** 0.5, 3), "place": self.near_home(page, box)}
                yield Sighting(page=page, box=box, text="", parts=parts)


def strips_of(page: PageReading) -> Iterator[Box]:
    """The blank strips of a page between its print, top to bottom; those at its edges are none."""
    printed = sorted(
        (box.y0, box.y1)
        for box in (*(w.box for w in page.words if _print(w)), *page.rules, *(code.box for code in page.barcodes))
    )
    bottom = printed[0][1] if printed else 0.0
    for top, end in printed:
        if top - bottom >= LEAST_STRIP:
            yield Box(0.0, bottom, page.width, top)
        bottom = max(bottom, end)


def _print(word: Word) -> bool:
    return len(word.text) > 1 or (word.text.isalnum() and word.confidence >= SURE_PRINT)
