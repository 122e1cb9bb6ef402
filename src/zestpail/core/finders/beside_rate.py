"""The finder that takes amounts from lines with a percentage: a tax whose label cannot be read."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.ground import Ground, Sought
from zestpail.core.finders.labels import Label


class BesideRate(BaseModel):
    """Take an amount that stands to the right of a percentage on the same line."""

    model_config = ConfigDict(frozen=True)

    finder: Literal["beside a rate"] = "beside a rate"
    weight: float = Field(default=0.3, gt=0, le=1)

    @property
    def sentence(self) -> str:
        """The rule as a person reads it."""
        return "Else take an amount that stands beside a percentage."

    def wordings(self, key: str) -> Iterator[Label]:  # noqa: ARG002 - a percentage is no label
        """None: it goes by percentages."""
        yield from ()

    def candidates(self, ground: Ground, sought: Sought) -> Iterator[Candidate]:
        """The last amount of each line with a percentage before it."""
        for rate in ground.rates:
            after = [span for span in ground.spans(rate.line, sought.kind) if span.start >= rate.end]
            if not after:
                continue
            end = max(span.end for span in after)
            for span in (s for s in after if s.end == end):
                yield Candidate(
                    value=span.value,
                    raw=span.raw,
                    page=span.line.page,
                    box=span.box,
                    confidence=span.confidence,
                    finder="beside a rate",
                    parts={
                        "rate": self.weight,
                        "shape": round(span.shape, 3),
                        "reading": round(0.6 + 0.4 * span.confidence, 3),
                    },
                    reason=f"beside {rate.line.text[rate.start : rate.end]}",
                )
