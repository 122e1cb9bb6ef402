"""The reliability of confidence as a drawing: for each bin how many of its values were right, with the interval."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from zestpail.core.evaluation.measure import wilson
from zestpail.desk.quality.view import Bin

SIDE, EDGE = 240.0, 34.0
"""The side of the square in which it is drawn, and the room for its figures."""
LEAST_SHOWN = 0.4
"""Shares below this are drawn at the foot: what matters is near 1."""


@dataclass(frozen=True)
class Point:
    """One bin in the drawing: its place, the ends of its interval, and what it says."""

    x: float
    y: float
    top: float
    foot: float
    said: str


def reliability(bins: Sequence[Bin]) -> list[Point]:
    """The points of the bins that hold values."""
    return [_point(one) for one in bins if one.of]


def _point(one: Bin) -> Point:
    low, high = wilson(one.right, one.of)
    said = f"{one.low:.0%} to {one.high:.0%} sure: {one.right} of {one.of} right"
    return Point(_at((one.low + one.high) / 2), _level(one.right / one.of), _level(high), _level(low), said)


def _at(share: float) -> float:
    return round(EDGE + SIDE * (max(share, LEAST_SHOWN) - LEAST_SHOWN) / (1 - LEAST_SHOWN), 1)


def _level(share: float) -> float:
    return round(EDGE / 2 + SIDE * (1 - (max(share, LEAST_SHOWN) - LEAST_SHOWN) / (1 - LEAST_SHOWN)), 1)
