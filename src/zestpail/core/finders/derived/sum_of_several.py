"""The finder that adds up what stands beside the same label several times: one tax for each rate."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from decimal import Decimal
from itertools import combinations
from typing import ClassVar, Literal

from pydantic import Field

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece, Stage
from zestpail.core.reading.geometry import around

PRICE = 0.9
"""What each further part costs of the score: one amount is likelier than a sum."""


class SumOfSeveral(Finder):
    """Add up amounts that stand beside their labels one under the other, when together they make the sums come out."""

    stage: ClassVar[Stage] = "candidates"
    finder: Literal["sum_of_several"] = "sum_of_several"
    most: int = Field(default=4, ge=2, le=6)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece(f"If there are several, up to {self.most}, add them up.")

    def needs(self, key: str) -> dict[str, str | None]:
        """Amounts to add."""
        return {key: "amount"}

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:  # noqa: ARG002
        """Sums of candidates of other finders that stand in one column or one row, each in its own place."""
        parts: list[Candidate] = []
        for candidate in sorted(target.found, key=lambda c: -c.score)[:12]:
            if all(_apart(candidate, other) for other in parts):
                parts.append(candidate)
        for count in range(2, self.most + 1):
            for chosen in combinations(parts[: self.most + 2], count):
                if _in_column(chosen) or _in_row(chosen):
                    yield _sum(sorted(chosen, key=lambda c: c.box.y0))


def _apart(one: Candidate, other: Candidate) -> bool:
    return one.page != other.page or one.box.shared_area(other.box) == 0


def _in_row(chosen: Sequence[Candidate]) -> bool:
    return all(c.page == chosen[0].page and c.box.side_by_side(chosen[0].box) > 0.6 for c in chosen)


def _in_column(chosen: Sequence[Candidate]) -> bool:
    first = chosen[0]
    return all(
        c.page == first.page and min(abs(c.box.x1 - first.box.x1), abs(c.box.x0 - first.box.x0)) < 2 * first.box.height
        for c in chosen
    )


def _sum(chosen: Sequence[Candidate]) -> Candidate:
    weakest = min(chosen, key=lambda c: c.score)
    return Candidate(
        value=f"{sum((Decimal(c.value) for c in chosen), Decimal(0)):.2f}",
        raw=" + ".join(c.raw for c in chosen),
        page=weakest.page,
        box=around(c.box for c in chosen),
        confidence=min(c.confidence for c in chosen),
        finder="sum_of_several",
        made=True,
        parts={**weakest.parts, "several": PRICE ** (len(chosen) - 1)},
        reason=f"{len(chosen)} amounts, {weakest.reason}",
    )
