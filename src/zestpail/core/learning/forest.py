"""A small forest of decision trees that was trained elsewhere, as plain numbers: nothing is needed to ask it but NumPy.

The trees are those of gradient boosting over histograms (Friedman 2001; Ke et al. 2017, as scikit-learn has it).
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict


class Forest(BaseModel):
    """Trees whose nodes lie one after the other; ``roots`` says where each tree begins."""

    model_config = ConfigDict(frozen=True, ignored_types=(cached_property,))

    features: tuple[str, ...]
    """What each column of what it is asked for is."""
    base: float
    """The logarithm of odds before any tree has spoken."""
    roots: tuple[int, ...]
    feature: tuple[int, ...]
    """By node the column that it asks for; -1 at a leaf."""
    threshold: tuple[float, ...]
    """By node the value up to which it goes left; at a leaf what it adds to the logarithm of odds."""
    left: tuple[int, ...]
    right: tuple[int, ...]
    unknown_left: tuple[bool, ...]
    """By node whether it goes left where the value is not known."""

    @cached_property
    def _nodes(
        self,
    ) -> tuple[NDArray[np.int32], NDArray[np.float64], NDArray[np.int32], NDArray[np.int32], NDArray[np.bool_]]:
        return (
            np.array(self.feature, np.int32), np.array(self.threshold), np.array(self.left, np.int32),
            np.array(self.right, np.int32), np.array(self.unknown_left),
        )  # fmt: skip

    def log_odds(self, rows: Sequence[dict[str, float]]) -> NDArray[np.float64]:
        """For each row, by the names of its features, the logarithm of the odds; a feature that it lacks is unknown."""
        table = np.array([[row.get(name, np.nan) for name in self.features] for row in rows])
        feature, threshold, left, right, unknown_left = self._nodes
        at = np.tile(np.array(self.roots, np.int32), (len(rows), 1))
        lines = np.arange(len(rows))[:, None]
        while (feature[at] >= 0).any():
            asked = table[lines, np.maximum(feature[at], 0)]
            goes_left = np.where(np.isnan(asked), unknown_left[at], asked <= threshold[at])
            at = np.where(feature[at] < 0, at, np.where(goes_left, left[at], right[at]))
        return np.asarray(self.base + threshold[at].sum(axis=1))


def averaged(forests: Sequence[Forest]) -> Forest:
    """One forest whose log odds are the mean of theirs (bagging: Breiman 1996)."""
    names = tuple(sorted({name for forest in forests for name in forest.features}))
    place = {name: at for at, name in enumerate(names)}
    starts = [sum(len(other.feature) for other in forests[:at]) for at in range(len(forests))]
    together = list(zip(forests, starts, strict=True))
    nodes = [
        (forest, start, at, forest.feature[at] < 0) for forest, start in together for at in range(len(forest.feature))
    ]
    return Forest(
        features=names,
        base=sum(forest.base for forest in forests) / len(forests),
        roots=tuple(root + start for forest, start in together for root in forest.roots),
        feature=tuple(-1 if leaf else place[f.features[f.feature[at]]] for f, _, at, leaf in nodes),
        threshold=tuple(
            round(f.threshold[at] / len(forests), 6) if leaf else f.threshold[at] for f, _, at, leaf in nodes
        ),
        left=tuple(0 if leaf else f.left[at] + start for f, start, at, leaf in nodes),
        right=tuple(0 if leaf else f.right[at] + start for f, start, at, leaf in nodes),
        unknown_left=tuple(f.unknown_left[at] for f, _, at, _ in nodes),
    )
