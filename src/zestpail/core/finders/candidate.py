"""A piece of the page that a finder proposes for a field."""

from __future__ import annotations

from math import prod

from pydantic import BaseModel, ConfigDict

from zestpail.core.kinds.kind import Span
from zestpail.core.reading.geometry import Box


class Candidate(BaseModel):
    """A proposed value; its score is the product of its named parts, each in [0, 1], or what the judge says instead."""

    model_config = ConfigDict(frozen=True)

    value: str
    raw: str
    page: int
    box: Box
    confidence: float
    """How surely its characters were read, in [0, 1]."""
    finder: str
    parts: dict[str, float]
    reason: str
    facts: dict[str, float] = {}
    """What else is known of it, each in [0, 1], for the judge."""
    likely: float | None = None
    """How likely it is right, as the judge has it; None where the judge was not asked."""
    made: bool = False
    """Worked out from other values: it takes no place of its own on the page, and is not read again."""
    elsewhere: bool = False
    """Known from elsewhere: it stands nowhere on the page."""
    most_sure: float = 1.0
    """How sure of it one can be at most, however well it fits: less for what is worked out and not read."""
    agreed: bool | None = None
    """Whether the second reader reads the same; None where it did not look."""

    @property
    def score(self) -> float:
        if self.likely is not None:
            return self.likely * self.parts.get("second reader", 1.0)
        return self.fit

    @property
    def fit(self) -> float:
        """How well it fits its field's rule, in [0, 1], whatever the judge says."""
        return prod(self.parts.values())


def of_span(span: Span, finder: str, parts: dict[str, float], reason: str) -> Candidate:
    """The candidate that stands in a span; how surely its characters were read is one of its parts."""
    return Candidate(
        value=span.value,
        raw=span.raw,
        page=span.line.page,
        box=span.box,
        confidence=span.confidence,
        finder=finder,
        parts={**parts, "reading": legibility(span.confidence)},
        reason=reason,
    )


def legibility(confidence: float) -> float:
    """What unsure characters leave of a score: hardly read is still better than elsewhere."""
    return round(0.6 + 0.4 * confidence, 3)
