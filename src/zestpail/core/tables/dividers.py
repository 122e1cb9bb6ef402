"""Where one column ends and the next begins.

The words of a table's body, laid over each other, make stretches that hold print with paper between them. Each stretch
belongs to the header that it lies under; one under no header goes with what is nearer on its level. A stretch under
two headers is cut where the fewest words are.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line
from zestpail.core.tables.tokens import box_of, tokens

STRAY = 0.07
"""The share of lines whose words may lie over a gutter, as those of a line of prose do."""
NARROWEST = 2.5
"""Points of paper between two stretches."""
MOVES, TUNED = 14, 4
"""How far, in points, all dividers of a page may have moved on the next, and one of them besides."""

Print = NDArray[np.int32]


@dataclass(frozen=True)
class Stretch:
    """From where to where, across the page in points, there is print; and the header that it is of."""

    x0: float
    x1: float
    header: int | None


def print_over(lines: Sequence[Line], width: float) -> Print:
    """For every point across a page of that width, how many lines have a word over it."""
    over = np.zeros(int(width) + 2, np.int32)
    for line in lines:
        for box in map(box_of, tokens(line.words)):
            over[max(int(box.x0 + 0.5), 0) : max(int(box.x1 + 0.5), 0)] += 1
    return over


def between(headers: Sequence[Box], lines: Sequence[Line], width: float) -> tuple[float, ...]:
    """The divider between every two neighbouring headers (points), one less than there are headers."""
    over = print_over(lines, width)
    owned = _owned(headers, list(_stretches(headers, over, STRAY * len(lines))))
    dividers = []
    for at in range(len(headers) - 1):
        end = max([s.x1 for s in owned if s.header is not None and s.header <= at], default=headers[at].x1)
        begin = min([s.x0 for s in owned if s.header is not None and s.header > at], default=headers[at + 1].x0)
        if not any(s.header == at for s in owned):
            end = max(end, min(headers[at].x1, begin))
        if not any(s.header == at + 1 for s in owned):
            begin = min(begin, max(headers[at + 1].x0, end))
        dividers.append((end + begin) / 2)
    return tuple(dividers)


def moved(dividers: Sequence[float], lines: Sequence[Line], width: float) -> tuple[float, ...]:
    """The same dividers on another page: moved together to where they cross the least, then each a little."""
    if not dividers:
        return ()
    over = np.convolve(print_over(lines, width), np.ones(3, np.int32), "same")

    def crossed(places: Sequence[float]) -> int:
        return int(sum(over[min(max(round(place), 0), len(over) - 1)] for place in places))

    shift = min(range(-MOVES, MOVES + 1), key=lambda by: (crossed([d + by for d in dividers]), abs(by)))

    def tuned(there: float) -> float:
        return min((there + by for by in range(-TUNED, TUNED + 1)), key=lambda at: (crossed([at]), abs(at - there)))

    return tuple(tuned(divider + shift) for divider in dividers)


def _stretches(headers: Sequence[Box], over: Print, stray: float) -> Iterator[Stretch]:
    """Where there is print, left to right, cut between headers that share a stretch."""
    there = np.flatnonzero(over > stray)
    if not there.size:
        return
    for run in np.split(there, np.flatnonzero(np.diff(there) > NARROWEST) + 1):
        x0, x1 = float(run[0]), float(run[-1] + 1)
        under = [at for at, header in enumerate(headers) if min(header.x1, x1) - max(header.x0, x0) > 0]
        for at, nxt in pairwise(under):
            origin = _thinnest(over, max(headers[at].cx, x0 + 1), min(headers[nxt].cx, x1 - 1))
            yield Stretch(x0, origin, at)
            x0 = origin
        yield Stretch(x0, x1, under[-1] if under else None)


def _owned(headers: Sequence[Box], stretches: Sequence[Stretch]) -> list[Stretch]:
    """All stretches with their header; one under none is of a near header without any, else of its neighbour's."""
    with_own = {stretch.header for stretch in stretches}
    owned: list[Stretch] = []
    for at, stretch in enumerate(stretches):
        header = stretch.header if stretch.header is not None else _nearest(headers, with_own, owned, stretches[at:])
        owned.append(Stretch(stretch.x0, stretch.x1, header))
    return owned


def _nearest(
    headers: Sequence[Box], with_own: set[int | None], before: Sequence[Stretch], here_on: Sequence[Stretch]
) -> int:
    """The header that the first of the stretches ``here_on``, which lies under none, goes with."""
    stretch = here_on[0]
    after = next((other for other in here_on[1:] if other.header is not None), None)
    near = [
        (max(header.x0 - stretch.x1, stretch.x0 - header.x1), at)
        for at, header in enumerate(headers)
        if at not in with_own
    ]
    if before and before[-1].header is not None:
        near.append((stretch.x0 - before[-1].x1, before[-1].header))
    if after and after.header is not None:
        near.append((after.x0 - stretch.x1, after.header))
    return min(near)[1] if near else 0


def _thinnest(over: Print, low: float, high: float) -> float:
    """The middle of the widest run of places that the fewest words lie over."""
    first, last = int(low), max(int(high), int(low) + 1)
    reach = over[first:last]
    clear = np.flatnonzero(reach == reach.min())
    best = max(np.split(clear, np.flatnonzero(np.diff(clear) > 1) + 1), key=len)
    return float(first + (best[0] + best[-1] + 1) / 2)
