"""The best cut of a whole pile: where documents begin and what each is, decided together (Viterbi 1967).

Every page speaks for types; two pages in a row speak for or against belonging together. A document keeps its type over
all of its pages, so a page in doubt is decided by its neighbours.
"""

from __future__ import annotations

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


def best_cut(first: NDArray[np.float64], following: NDArray[np.float64], joined: NDArray[np.float64]) -> list[int]:
    """The numbers of the pages at which documents begin, the first one among them.

    ``first`` and ``following`` have for each page and type (the last column: none of them) the logarithm of how well the
    page fits as such a page of the type; ``joined`` has for each page but the first the logarithm of the odds that it
    goes on with what comes before.
    """
    count = len(first)
    if not count:
        return []
    joined = np.clip(joined, -FAR, FAR)
    best, back = first[0].copy(), np.zeros(first.shape, np.int32)
    for at in range(1, count):
        on = best + following[at] - np.log1p(np.exp(-joined[at - 1]))
        before = int(best.argmax())
        anew = best[before] + first[at] - np.log1p(np.exp(joined[at - 1]))
        cut = anew > on
        back[at] = np.where(cut, before, -1)
        best = np.where(cut, anew, on)
    starts, kind = [], int(best.argmax())
    for at in range(count - 1, 0, -1):
        if back[at, kind] >= 0:
            starts.append(at)
            kind = int(back[at, kind])
    return [0, *reversed(starts)]


def type_odds(scores: NDArray[np.float32]) -> NDArray[np.float64]:
    """For each page (rows) the logarithm of how likely it is of each type, and last of none."""
    sharp = SHARPNESS * np.concatenate([scores, np.full((len(scores), 1), NO_TYPE)], axis=1)
    sharp -= sharp.max(axis=1, keepdims=True)
    return np.asarray(sharp - np.log(np.exp(sharp).sum(axis=1, keepdims=True)), np.float64)
