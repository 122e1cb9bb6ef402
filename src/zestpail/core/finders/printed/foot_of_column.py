"""The finder of sums at the foot of a table: on the line that adds its columns up, under their headers."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from zestpail.core.finders.candidate import Candidate, of_span
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.landmarks.labels import LabelMatch, folded
from zestpail.core.landmarks.wordings import usual_folded
from zestpail.core.reading.lines import Line

SUMS = ("grand_total", "net_total", "amount_due")
"""What a line that adds columns up is headed with."""


class FootOfColumn(Finder):
    """Take the amount under a column's header on a line that begins with a word for a total."""

    finder: Literal["foot_of_column"] = "foot_of_column"
    weight: float = Field(default=0.5, gt=0, le=1)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take what adds up a column of that name, at the foot of a table.")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The amounts of such lines that stand under a label of the field."""
        headers = [match for match in context.matches if match.label.owner == target.key]
        for line in context.lines if headers else ():
            spans = context.spans(line, target.kind)
            if len(spans) < 2 or not _adds_up(line):
                continue
            for span in spans:
                over = [match for match in headers if _heads(match, line) and match.box.stacked(span.box) > 0.5]
                if over:
                    nearest = max(over, key=lambda match: match.box.cy)
                    yield of_span(
                        span,
                        self.finder,
                        {"foot": self.weight, "label": round(nearest.similarity, 3), "shape": round(span.shape, 3)},
                        f"at the foot of “{nearest.line.text[nearest.start : nearest.end]}”",
                    )


def _heads(match: LabelMatch, line: Line) -> bool:
    return match.line.page == line.page and match.box.y1 < line.box.y0


def _adds_up(line: Line) -> bool:
    """Whether the line begins with a word for a total."""
    first = next((word.text for word in line.words if any(c.isalpha() for c in word.text)), "")
    pieces = [first, *line.text.split("\t")]
    return any(folded(piece) in usual_folded(SUMS) for piece in pieces)
