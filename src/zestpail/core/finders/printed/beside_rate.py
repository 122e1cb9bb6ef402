"""The finder that takes amounts from lines with a percentage: a tax whose label cannot be read."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from zestpail.core.finders.candidate import Candidate, of_span
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece


class BesideRate(Finder):
    """Take an amount that stands to the right of a percentage on the same line."""

    finder: Literal["beside_rate"] = "beside_rate"
    weight: float = Field(default=0.3, gt=0, le=1)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take an amount that stands beside a percentage.")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The last amount of each line with a percentage before it."""
        for rate in context.rates:
            after = [span for span in context.spans(rate.line, target.kind) if span.start >= rate.end]
            if not after:
                continue
            end = max(span.end for span in after)
            for span in (s for s in after if s.end == end):
                yield of_span(
                    span,
                    self.finder,
                    {
                        "rate": self.weight,
                        "shape": round(span.shape, 3),
                    },
                    f"beside {rate.line.text[rate.start : rate.end]}",
                )
