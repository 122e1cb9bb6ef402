"""Least squares with a price on large weights: one solution for all types, and what it would be without each sample.

Hoerl and Kennard 1970; solved among samples, not columns, since there are few of the former; the scores without a
sample from the solution with all of them (Cook and Weisberg 1982, 2.2).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

PRICE = 0.3


@dataclass(frozen=True)
class Fit:
    """Weights by column and type, so that ``row @ weights + base`` is near 1 for the type of a row and 0 for others."""

    weights: NDArray[np.float32]
    base: NDArray[np.float32]
    without: NDArray[np.float32]
    """For each row what its scores would be, had it not been among them."""


def fitted(rows: NDArray[np.float32], types: Sequence[int], count: int) -> Fit:
    """Fit to ``rows`` of ``count`` types, each of which weighs the same however many rows it has."""
    kind = np.array(types)
    truth = np.eye(count, dtype=np.float64)[kind]
    weight = 1 / np.bincount(kind, minlength=count)[kind]
    weight = weight / weight.mean()
    middle, base = (weight[:, None] * rows).sum(0) / weight.sum(), (weight[:, None] * truth).sum(0) / weight.sum()
    root = np.sqrt(weight)[:, None]
    scaled, wanted = root * (rows - middle), root * (truth - base)
    kernel = (scaled @ scaled.T).astype(np.float64)
    inverse = np.linalg.inv(kernel + PRICE * np.eye(len(kernel)))
    columns = scaled.T @ (inverse @ wanted)
    hat = kernel @ inverse
    residual = wanted - hat @ wanted
    without = truth - residual / (1 - np.diag(hat))[:, None].clip(1e-6) / root
    return Fit(columns.astype(np.float32), (base - middle @ columns).astype(np.float32), without.astype(np.float32))
