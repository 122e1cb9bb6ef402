"""The part of the document in which a field is looked for, bounded by landmarks."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from pydantic import BaseModel, ConfigDict

from zestpail.core.finders.context import SearchContext
from zestpail.core.reading.geometry import Box

OUTSIDE = 0.02
"""What is left of the score of a candidate outside the area: it is shown, but it hardly ever wins."""

Pages = Literal["any", "first", "last"]
PAGES: dict[str, str] = {"any": "any page", "first": "the first page", "last": "the last page"}


class Area(BaseModel):
    """Which page, and under, above, right or left of which landmarks."""

    model_config = ConfigDict(frozen=True)

    pages: Pages = "any"
    under: str | None = None
    above: str | None = None
    right_of: str | None = None
    left_of: str | None = None

    @property
    def landmarks(self) -> tuple[str, ...]:
        """The landmarks that bound it."""
        return tuple(key for key in (self.under, self.above, self.right_of, self.left_of) if key)

    @property
    def sentence(self) -> str:
        """The area as a person reads it."""
        bounds = [
            f"{message} {key}"
            for message, key in (
                ("under", self.under),
                ("above", self.above),
                ("right of", self.right_of),
                ("left of", self.left_of),
            )
            if key
        ]
        return " ".join(["on " + PAGES[self.pages], *bounds])

    def inside(self, context: SearchContext, page: int, box: Box) -> float:
        """1 for a place inside, else what is left of its score. Landmarks that are not found bound nothing."""
        last = len(context.document.pages) - 1
        if (self.pages == "first" and page != 0) or (self.pages == "last" and page != last):
            return OUTSIDE
        bounds: tuple[tuple[str | None, Callable[[Box], bool]], ...] = (
            (self.under, lambda mark: box.cy > mark.y1),
            (self.above, lambda mark: box.cy < mark.y0),
            (self.right_of, lambda mark: box.cx > mark.x1),
            (self.left_of, lambda mark: box.cx < mark.x0),
        )
        for key, beyond in bounds:
            seen = context.landmark(key) if key else None
            if seen and seen.page == page and not beyond(seen.box):
                return OUTSIDE
        return 1.0
