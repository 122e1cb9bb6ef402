"""A ruled line as a landmark, although scanners break, thicken and tilt it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line
from zestpail.core.sighting import Home, Sighting

LEAST = 0.45


class RuledLine(BaseModel):
    """A level line across a part of the page."""

    model_config = ConfigDict(frozen=True)

    landmark: Literal["ruled line"] = "ruled line"
    key: str = Field(pattern=r"^[A-Za-z][A-Za-z0-9_]*$")
    alike: float = Field(default=LEAST, ge=0.1, le=1)
    home: Home

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
        down = self.home.box.cy / self.home.height
        where = "upper" if down < 0.4 else "lower" if down > 0.6 else "middle"
        return f"a ruled line across {across}, in its {where} part"

    def sightings(self, lines: Iterable[Line], rules: Iterable[tuple[int, Box]]) -> Iterator[Sighting]:  # noqa: ARG002
        """Every ruled line, by its length and place."""
        for page, box in rules:
            longer, shorter = max(box.width, self.home.box.width), min(box.width, self.home.box.width)
            near = self.home.nearness(page, box)
            parts = {
                "length": round(shorter / longer, 3),
                "place": round((near - 0.54) / 0.46 if near > 0.54 else 0.0, 3),
            }
            yield Sighting(page=page, box=box, text="", parts=parts)

    def taken(self, sighting: Sighting) -> bool:
        """Whether a sighting is like enough to be taken."""
        return sighting.score >= self.alike
