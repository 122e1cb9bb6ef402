"""The finder of the sender by the line in small print over the addressee, which stays visible in a window envelope.

DIN 5008 and the letters of neighbouring countries put the sender's name, street and place there on one line.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from zestpail.core.finders.candidate import Candidate, legibility
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.postcodes import POSTCODE
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line

HEAD = 0.4
"""The share of the first page's height in which the line stands."""
UNDER = 6.0
"""How far below it the addressee begins at most, in heights of the line."""
SMALLER = 1.05
"""The addressee's lines are not smaller than the sender's by more than this."""
_BETWEEN = re.compile(r"\s*[·•|‧∙]\s*|\s+[-–—]\s+|,\s+")


class ReturnAddress(Finder):
    """Take the name at the beginning of the small line over the addressee."""

    finder: Literal["return_address"] = "return_address"
    weight: float = Field(default=0.95, gt=0, le=1)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take the name in the sender’s small line over the addressee.")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:  # noqa: ARG002 - it knows its kind
        """The first piece of each sender's line."""
        for line in sender_lines(context):
            name = _BETWEEN.split(line.text)[0]
            sure = line.confidence_of(0, len(name))
            yield Candidate(
                value=name.strip(" ,;:"),
                raw=name,
                page=0,
                box=line.box_of(0, len(name)),
                confidence=sure,
                finder=self.finder,
                parts={"sender": self.weight, "reading": legibility(sure)},
                reason="from the sender’s line over the addressee",
            )


def sender_lines(context: SearchContext) -> list[Line]:
    """The lines of the first page that look like a sender's, and have an addressee under them."""
    height = context.document.pages[0].height if context.document.pages else 0
    head = [line for line in context.lines if line.page == 0 and line.box.cy <= HEAD * height]
    return [line for line in head if _names_and_places(line.text) and _over_an_addressee(context, line)]


def begins_under(line: Line, box: Box) -> bool:
    """Whether what stands in the box is what a sender's line stands over."""
    return abs(box.x0 - line.box.x0) < 2 * line.height and -1 < box.y0 - line.box.y1 < UNDER * line.height


def _names_and_places(text: str) -> bool:
    name, *rest = _BETWEEN.split(text.split("\t", maxsplit=1)[0])
    named = name[:1].isalpha() and not any(c.isdigit() for c in name)  # else it is a street: the name stands over it
    return named and len(rest) >= 2 and any(POSTCODE.search(piece) for piece in rest)


def _over_an_addressee(context: SearchContext, line: Line) -> bool:
    """Whether lines with a postcode among them stand under it, in no smaller print and at its left edge."""
    under = [
        below
        for below in context.next_lines(line, 3 * UNDER * line.height)
        if abs(below.box.x0 - line.box.x0) < 2 * line.height and below.height * SMALLER >= line.height
    ]
    return (
        bool(under)
        and begins_under(line, under[0].box)
        and any(POSTCODE.search(below.text.split("\t")[0]) for below in under[1:7])
    )
