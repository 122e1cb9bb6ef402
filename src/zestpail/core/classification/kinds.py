"""What general kind of paper something looks like: a letter, a listing, a receipt, a poem, and how much like each.

Few samples do not tell which of their traits are those of their kind. What parts kinds of paper from each other was
learned from the papers of many makers (``python -m training.kinds``), by what they speak of and by their form alone, so
that it holds in any language. It is nowhere shown: a document is like the samples of a type if it looks like the same
kinds as they do, whatever these are.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np
from numpy.typing import NDArray

CONCEPTS, MOST_OF_A_FORM, FAR = 3.0, 3.0, 4.0
"""How long the part of the concepts is; what no number of the form and no number at all exceeds."""
Vector = NDArray[np.float32]


@dataclass(frozen=True)
class Kinds:
    """A linear model over concepts and form (multinomial logistic regression)."""

    names: tuple[str, ...]
    place: Mapping[str, int]
    """By concept its column; the numbers of the form follow after all of them."""
    middle: Vector
    spread: Vector
    weights: NDArray[np.float32]
    """By column and kind."""
    base: Vector

    def look(self, concepts: Mapping[str, float], form: Vector) -> Vector:
        """The roots of the shares that it has of each kind.

        Vectors of length 1: the scalar product of two says how alike they look (Bhattacharyya 1943).
        """
        row = (row_of(self.place, concepts, form) - self.middle) / self.spread
        odds = np.clip(row, -FAR, FAR) @ self.weights + self.base
        shares = np.exp(odds - odds.max())
        return np.asarray(np.sqrt(shares / shares.sum()), np.float32)


def row_of(place: Mapping[str, int], concepts: Mapping[str, float], form: Vector) -> Vector:
    """Concepts and form as one row."""
    spoken = np.zeros(len(place), np.float32)
    for concept, weight in concepts.items():
        if concept in place:
            spoken[place[concept]] = weight
    length = max(float(np.linalg.norm(spoken)), 1e-6)
    return np.concatenate([spoken / length * CONCEPTS, np.clip(form, 0, MOST_OF_A_FORM)]).astype(np.float32)


@cache
def learned() -> Kinds:
    """The kinds that the package comes with."""
    told = json.loads((resources.files("zestpail.core.classification") / "kinds.json").read_text("utf-8"))
    return Kinds(
        names=tuple(told["kinds"]),
        place={concept: at for at, concept in enumerate(told["concepts"])},
        middle=np.array(told["middle"], np.float32),
        spread=np.array(told["spread"], np.float32),
        weights=np.array(told["weights"], np.float32),
        base=np.array(told["base"], np.float32),
    )
