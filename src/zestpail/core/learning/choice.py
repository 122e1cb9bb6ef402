"""Which of several candidates is the value, or none: a conditional logit (McFadden 1974), as plain weights.

Each candidate speaks by its facts; the odds of all of them and of there being no value are shared out. The weights
start from those that papers of many makers taught, and a field's own samples move them as far as they must (a ridge
towards the start).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Facts = dict[str, float]
Weights = Mapping[str, float]
STEPS, STILL = 40, 1e-7
"""Newton steps at most, and the gain from which on nothing changes."""


@dataclass(frozen=True)
class Choice:
    """The candidates of one field on one paper, the facts of there being no value last, and which are right."""

    table: Floats
    """A row of facts for each candidate and, as the last row, for none."""
    right: NDArray[np.bool_]


def table_of(names: Sequence[str], candidates: Sequence[Facts], none: Facts) -> Floats:
    """The facts as rows, in the order of ``names``."""
    return np.array([[row.get(name, 0.0) for name in names] for row in (*candidates, none)], np.float64)


def shares(table: Floats, weights: Floats) -> Floats:
    """How likely each row is the right one; they add up to 1."""
    odds = table @ weights
    risen = np.exp(odds - odds.max())
    return np.asarray(risen / risen.sum())


def fitted(choices: Sequence[Choice], start: Floats, strength: Floats) -> Floats:
    """The weights under which the right rows are likeliest, held to ``start`` by ``strength``, a number each.

    Where several rows are right, they are so together (expectation and maximisation; Dempster et al. 1977).
    """
    weights, before = start.copy(), _worth(choices, start, start, strength)
    for _ in range(STEPS):
        slope, bend = -strength * (weights - start), np.diag(strength)
        for choice in choices:
            share = shares(choice.table, weights)
            mean = share @ choice.table
            rights = share * choice.right
            slope = slope + rights @ choice.table / rights.sum() - mean
            bend = bend + (choice.table * share[:, None]).T @ choice.table - np.outer(mean, mean)
        step, full = 1.0, np.linalg.solve(bend, slope)
        while step > 1e-3 and _worth(choices, weights + step * full, start, strength) < before:
            step /= 2
        after = _worth(choices, weights + step * full, start, strength)
        if after <= before + STILL:
            break
        weights, before = weights + step * full, after
    return weights


def _worth(choices: Sequence[Choice], weights: Floats, start: Floats, strength: Floats) -> float:
    likely = sum(float(np.log((shares(c.table, weights) * c.right).sum() + 1e-300)) for c in choices)
    return likely - 0.5 * float((strength * (weights - start) ** 2).sum())
