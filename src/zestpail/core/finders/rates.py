"""Percentages printed in a document, and whether one amount is such a share of another."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from zestpail.core.reading.lines import Line

MOST = Decimal(35)
"""Percent above which it is no rate of tax."""
CENTS = Decimal("0.02")
"""How far rounding may take a share from what it should be."""

_PERCENT = re.compile(r"(?<![\d.,])(\d{1,2})(?:[.,](\d{1,2}))?[.,]?\s?[%°](?!\w)")


@dataclass(frozen=True)
class Rate:
    """A percentage and where it is printed."""

    percent: Decimal
    line: Line
    start: int
    end: int


@lru_cache(maxsize=600)
def rates_on(lines: tuple[Line, ...]) -> tuple[Rate, ...]:
    """The percentages on these lines that can be rates of tax."""
    found = [
        Rate(Decimal(f"{m[1]}.{m[2] or 0}"), line, m.start(), m.end())
        for line in lines
        for m in _PERCENT.finditer(line.text)
    ]
    return tuple(rate for rate in found if 0 < rate.percent <= MOST)


def share_of(part: Decimal, whole: Decimal, rates: Iterable[Rate]) -> Rate | None:
    """The printed rate by which ``part`` is a share of ``whole``, to the cent; None if there is none."""
    return next((rate for rate in rates if abs(whole * rate.percent / 100 - part) <= CENTS and part), None)
