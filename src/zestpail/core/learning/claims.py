"""One place is the value of one field: what another field claims more surely is left to it.

Each field's shares are lowered by what the others claim of the same place, over and over until little changes (a mean
field approximation to choosing for all fields at once).
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence

import numpy as np

from zestpail.core.kinds.kind import Span
from zestpail.core.learning.choice import Floats

ROUNDS = 4
MOST_CLAIMED = 0.98
"""How much of a place another field can claim at most."""
SAME = 0.5
"""The share of the smaller of two pieces that must lie in both for them to be one place."""


def settled(
    shares: Mapping[str, Floats], spans: Mapping[str, Sequence[Span]], names: Collection[str]
) -> dict[str, Floats]:
    """The shares, each with that of none last, after all fields have claimed their places.

    Of fields in ``names`` the same value at another place is claimed too: two parties are not one.
    """
    shared = {
        (key, other): _shared(spans[key], spans[other], by_value=key in names and other in names)
        for key in shares
        for other in shares
        if key != other
    }
    now = dict(shares)
    for _ in range(ROUNDS):
        now = {key: _without(shares[key], key, now, shared) for key in shares}
    return now


def _without(own: Floats, key: str, now: Mapping[str, Floats], shared: Mapping[tuple[str, str], Floats]) -> Floats:
    left = np.ones(len(own))
    for other, theirs in now.items():
        if other != key:
            left[:-1] *= 1 - MOST_CLAIMED * np.minimum(shared[key, other] @ theirs[:-1], 1)
    return np.asarray(own * left / (own * left).sum())


def _shared(ours: Sequence[Span], theirs: Sequence[Span], *, by_value: bool) -> Floats:
    """For each pair 1 where both are one place, else 0."""
    one, other = _sides(ours)[:, None, :], _sides(theirs)[None, :, :]
    width = np.minimum(one[..., 3], other[..., 3]) - np.maximum(one[..., 1], other[..., 1])
    height = np.minimum(one[..., 4], other[..., 4]) - np.maximum(one[..., 2], other[..., 2])
    area = np.maximum(width, 0) * np.maximum(height, 0)
    smaller = np.minimum(_area(one), _area(other))
    same = (area > SAME * smaller) & (one[..., 0] == other[..., 0])
    if by_value:
        values = np.array([span.value for span in theirs], object)
        same |= np.array([[span.value] for span in ours], object) == values[None, :]
    return np.asarray(same, np.float64)


def _sides(spans: Sequence[Span]) -> Floats:
    return np.array([(span.line.page, *span.box) for span in spans], np.float64).reshape(-1, 5)


def _area(sides: Floats) -> Floats:
    return np.asarray((sides[..., 3] - sides[..., 1]) * (sides[..., 4] - sides[..., 2]))
