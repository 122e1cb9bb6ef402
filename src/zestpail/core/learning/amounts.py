"""What the amounts of a document say of each other: which is largest, which add up, which are a rate of which."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property

from zestpail.core.finders import Candidate
from zestpail.core.finders.rates import Rate

CENTS = Decimal("0.02")
"""How far rounding may take a sum from what it should be."""
MOST = 40
"""Different amounts that are set against each other: the largest ones, as sums are among them."""


@dataclass(frozen=True)
class Amounts:
    """All different amounts that are candidates for any field, and the sum of the rows of a table."""

    values: tuple[Decimal, ...]
    rates: tuple[Rate, ...]
    rows: Decimal | None = None
    """What the amounts of the rows make together; None where no table has any."""
    largest_row: Decimal | None = None

    @cached_property
    def _known(self) -> frozenset[Decimal]:
        return frozenset(self.values)

    def facts(self, value: Decimal) -> dict[str, float]:
        """What speaks for an amount being the whole, or a part, of others."""
        size = abs(value)
        larger = sum(abs(other) > size for other in self.values)
        facts = {
            "amount_rank": 1 / (1 + larger),
            "is_whole": float(self._is_whole(value)),
            "is_part": float(self._is_part(value)),
            "is_share": float(self._is_share(value)),
            "has_share": float(self._has_share(value)),
            "with_its_tax": float(self._with_its_tax(value)),
            "zero": float(value == 0),
            "negative": float(value < 0),
        }
        if self.rows is not None:
            facts["rows_sum"] = float(abs(abs(self.rows) - size) <= CENTS)
            facts["under_rows"] = float(size < abs(self.rows) - CENTS)
        if self.largest_row is not None:
            facts["under_a_row"] = float(size < abs(self.largest_row) - CENTS)
        return facts

    def _there(self, value: Decimal) -> bool:
        return any(value + step in self._known for step in (Decimal(0), Decimal("0.01"), Decimal("-0.01")))

    def _is_whole(self, value: Decimal) -> bool:
        parts = [other for other in self.values if 0 < abs(other) < abs(value)]
        return any(self._there(value - part) and value != part + part for part in parts)

    def _is_part(self, value: Decimal) -> bool:
        return value != 0 and any(self._there(value + other) for other in self.values if other not in (value, 0))

    def _is_share(self, value: Decimal) -> bool:
        return value != 0 and any(self._rated(other, value) for other in self.values)

    def _has_share(self, value: Decimal) -> bool:
        return value != 0 and any(self._there(_share(value, rate)) for rate in self.rates)

    def _with_its_tax(self, value: Decimal) -> bool:
        """Whether it is some other amount and a printed rate of that."""
        return value != 0 and any(
            abs(other + _share(other, rate) - value) <= CENTS for rate in self.rates for other in self.values if other
        )

    def _rated(self, whole: Decimal, part: Decimal) -> bool:
        return any(abs(_share(whole, rate) - part) <= CENTS for rate in self.rates)


def amounts_of(candidates: Iterable[Candidate], rates: Sequence[Rate], rows: Sequence[Decimal]) -> Amounts:
    """The amounts among candidates that stand on the page; ``rows`` are those of a table's last money column."""
    values = {Decimal(candidate.value) for candidate in candidates if not candidate.made}
    largest = sorted(values, key=abs, reverse=True)[:MOST]
    different = {rate.percent: rate for rate in rates}
    return Amounts(
        tuple(largest),
        tuple(different.values()),
        sum(rows, Decimal(0)) if rows else None,
        max(rows, key=abs) if rows else None,
    )


def _share(whole: Decimal, rate: Rate) -> Decimal:
    return (whole * rate.percent / 100).quantize(Decimal("0.01"))
