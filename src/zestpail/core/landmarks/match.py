"""Where a landmark may stand on a page, and how well it fits there."""

from __future__ import annotations

from math import prod

from pydantic import BaseModel, ConfigDict, model_validator

from zestpail.core.reading.geometry import Box

NEAR_MISS = 0.5
"""Places of at least this score are shown, though they are not taken."""


class LandmarkMatch(BaseModel):
    """One place that might be the landmark; its score is the product of its named parts, each in [0, 1]."""

    model_config = ConfigDict(frozen=True)

    page: int
    box: Box
    text: str
    parts: dict[str, float]

    @property
    def score(self) -> float:
        return prod(self.parts.values())


class ReferencePosition(BaseModel):
    """Where the landmark stood on the sample on which it was pointed at: page from 0, size and box in points."""

    model_config = ConfigDict(frozen=True)

    page: int = 0
    width: float = 595.0
    height: float = 842.0
    box: Box

    @model_validator(mode="after")
    def _on_its_page(self) -> ReferencePosition:
        box = self.box
        if (
            box.x1 < box.x0
            or box.y1 < box.y0
            or box.x0 > self.width
            or box.y0 > self.height
            or box.x1 < 0
            or box.y1 < 0
        ):
            raise ValueError("a zone or a landmark lies outside its page")
        return self

    @property
    def part(self) -> str:
        """The part of the page's height it stands in: "upper", "middle" or "lower"."""
        down = self.box.cy / self.height
        return "upper" if down < 0.4 else "lower" if down > 0.6 else "middle"

    def nearness(self, page: int, box: Box) -> float:
        """How near a place is to home, from 1 down to 0.6 a whole page away: layouts shift, so it only breaks ties."""
        off = abs(box.cx - self.box.cx) / self.width + abs(box.cy - self.box.cy) / self.height
        return (1.0 if page == self.page else 0.9) * (1 - 0.4 * min(off, 1.0))
