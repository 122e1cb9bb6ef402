"""The finder that works out an amount from two others, where a printed rate proves the three of them.

Total less net is the tax only if the net and the total were read rightly; that the difference is to the cent the
printed rate of the net says that they were. Without such a proof nothing is worked out.
"""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal
from itertools import product
from typing import ClassVar, Literal

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece, Stage
from zestpail.core.finders.rates import share_of

WORKED_OUT = 0.05
"""Low, as what is worked out always adds up: the sum must not count as evidence twice."""
MOST_TRIED = 4
"""Amounts of each other part that are tried: the sums grow with their product."""
LEGIBLE = 0.35
"""Where an amount of at least this score is printed, none is worked out: a printed slip is for a person to see."""
MOST_SURE = 0.89
"""How sure it is at most: a person should see what is not printed where it could be read."""


class Remainder(Finder):
    """The amount that is missing from net + tax = total, where tax is a printed rate of net."""

    stage: ClassVar[Stage] = "candidates"
    finder: Literal["remainder"] = "remainder"
    net: str
    tax: str
    total: str

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("If it cannot be read, work it out from the others, where a printed rate proves them.")

    def needs(self, key: str) -> dict[str, str | None]:
        """The three amounts."""
        return dict.fromkeys((key, self.net, self.tax, self.total), "amount")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The amount from each pair of the best candidates of the two other fields that a rate proves."""
        key = target.key
        if any(candidate.score >= LEGIBLE for candidate in target.found):
            return
        others = [field for field in (self.net, self.tax, self.total) if field != key]
        for pair in product(*(target.others.get(field, ())[:MOST_TRIED] for field in others)):
            known = dict(zip(others, (Decimal(candidate.value) for candidate in pair), strict=True))
            whole = _completed(known, self.net, self.tax, self.total)
            rate = share_of(whole[self.tax], whole[self.net], context.rates)
            if rate is None:
                continue
            low = min(pair, key=lambda candidate: candidate.score)
            yield Candidate(
                value=f"{whole[key]:.2f}",
                raw=rate.line.text[rate.start : rate.end],
                page=rate.line.page,
                box=rate.line.box_of(rate.start, rate.end),
                confidence=min(candidate.confidence for candidate in pair),
                finder=self.finder,
                made=True,
                most_sure=MOST_SURE,
                parts={"worked out": WORKED_OUT, "from": round(min(low.score / 0.5, 1.0), 3)},
                reason=f"worked out: {pair[0].value} and {pair[1].value} at {rate.percent.normalize():f} %",
            )


def _completed(known: dict[str, Decimal], net: str, tax: str, total: str) -> dict[str, Decimal]:
    if net not in known:
        return {**known, net: known[total] - known[tax]}
    if tax not in known:
        return {**known, tax: known[total] - known[net]}
    return {**known, total: known[net] + known[tax]}
