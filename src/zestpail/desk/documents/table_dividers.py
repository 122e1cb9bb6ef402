"""The column dividers of a table as they are shown on a page."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from zestpail.core.tables import Table
from zestpail.core.tables.found import Strip


@dataclass(frozen=True)
class Divider:
    page: int
    at: int
    x: float
    y0: float
    y1: float
    left: str
    right: str
    """The names of the columns on either side."""

    @property
    def between(self) -> str:
        """Both, as a person reads them."""
        return f"{self.left} and {self.right}"


def dividers_of(table: Table, strips: Sequence[Strip], feet: Sequence[tuple[int, float]]) -> list[Divider]:
    """The dividers on pages with a header, down to the last row; ``feet`` are the rows' pages and lower edges."""
    names = {**table.names, "": "what is left out"}
    foot = {
        strip.page: max((low for page, low in feet if page == strip.page), default=strip.box.y1) for strip in strips
    }
    return [
        Divider(
            page=strip.page,
            at=at,
            x=x,
            y0=max(strip.box.y0 - 14, 0),
            y1=foot[strip.page] + 6,
            left=names.get(strip.columns[at], ""),
            right=names.get(strip.columns[at + 1], ""),
        )
        for strip in strips
        if strip.header or not any(one.header for one in strips)
        for at, x in enumerate(strip.dividers)
    ]
