"""The best cut of a whole pile: where documents begin and what each is, decided together (Viterbi 1967).

Every page speaks for types; two pages in a row speak for or against belonging together. A document keeps its type over
all of its pages, so a page in doubt is decided by its neighbours.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

SHARPNESS = 6.0
"""By what the scores of types, about 0 to 1, are multiplied to be logarithms of odds."""
FIRST, FOLLOWING = 1.0, 0.5
"""How much a first and a following page have to say of the type."""
NO_TYPE = 0.3
"""The score of being of no type."""
FAR = 12.0
"""No pair of pages is surer than this."""


@dataclass(frozen=True)
class BestCut:
    """Where documents begin, and how much speaks for it."""

    starts: list[int]
    """Numbers of the pages at which documents begin, the first one among them."""
    margins: NDArray[np.float64]
    """For each page how much better the best pile is in which it begins a document, or does not, as it was decided."""


def best_cut(first: NDArray[np.float64], following: NDArray[np.float64], joined: NDArray[np.float64]) -> BestCut:
    """The best cut of a pile.

    ``first`` and ``following`` have for each page and type (the last column: none of them) the logarithm of how well
    the page fits as such a page of the type; ``joined`` has for each page but the first the logarithm of the odds
    that it goes on with what comes before.
    """
    count = len(first)
    if not count:
        return BestCut([], np.zeros(0))
    odds = np.clip(joined, -FAR, FAR)
    on, cut = -np.log1p(np.exp(-odds)), -np.log1p(np.exp(odds))
    up_to, behind = np.zeros(first.shape), np.zeros(first.shape)
    up_to[0] = first[0]
    for at in range(1, count):
        anew = up_to[at - 1].max() + first[at] + cut[at - 1]
        up_to[at] = np.maximum(up_to[at - 1] + following[at] + on[at - 1], anew)
    for at in range(count - 2, -1, -1):
        anew = (first[at + 1] + behind[at + 1]).max() + cut[at]
        behind[at] = np.maximum(following[at + 1] + behind[at + 1] + on[at], anew)
    margins = np.zeros(count)
    for at in range(1, count):
        goes_on = (up_to[at - 1] + following[at] + behind[at]).max() + on[at - 1]
        margins[at] = up_to[at - 1].max() + (first[at] + behind[at]).max() + cut[at - 1] - goes_on
    starts = [0, *(int(at) for at in np.flatnonzero(margins > 0))]
    return BestCut(starts, np.abs(margins))


def type_odds(scores: NDArray[np.float32]) -> NDArray[np.float64]:
    """For each page (rows) the logarithm of how likely it is of each type, and last of none."""
    sharp = SHARPNESS * np.concatenate([scores, np.full((len(scores), 1), NO_TYPE)], axis=1)
    sharp -= sharp.max(axis=1, keepdims=True)
    return np.asarray(sharp - np.log(np.exp(sharp).sum(axis=1, keepdims=True)), np.float64)
