"""The space in which samples and pages are compared: each block weighted by how rare its tokens are, and scaled."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import log

import numpy as np
from numpy.typing import NDArray

from zestpail.core.classification.bag import BLOCKS, Bag, Block
from zestpail.core.classification.kinds import Vector, learned

WEIGHTS: dict[Block, float] = {"words": 1.0, "standing_out": 0.7, "concepts": 1.5}
FORM, PICTURE, LOOK = 1.3, 0.15, 0.5
"""What the blocks weigh beside each other; measured on papers of strangers, flat around these values."""
LEAST_SPREAD, FAR = 0.08, 2.5
"""A number of the form varies by so much at least; beyond so many spreads nothing is further."""

Look = Callable[[Bag], Vector]
"""What tells of a bag which general kinds of paper it looks like, see :mod:`zestpail.core.classification.kinds`."""


def look_of(bag: Bag) -> Vector:
    """How a bag looks to the kinds that the package comes with."""
    return learned().look(bag.tokens["concepts"], bag.form)


@dataclass(frozen=True)
class Placed:
    """A bag in the space: which columns are not zero, and their values."""

    columns: NDArray[np.int32]
    values: Vector
    known: float
    """The share of its words that any sample has, in [0, 1]."""
    look: Vector
    """Which general kinds of paper it looks like; of length 1."""

    def dense(self, width: int) -> Vector:
        """All columns."""
        whole = np.zeros(width, np.float32)
        whole[self.columns] = self.values
        return whole


class Space:
    """Columns for every token of the samples, and for form, picture and look."""

    def __init__(self, bags: Sequence[Bag], look: Look = look_of) -> None:
        self.look = look
        self.column: dict[Block, dict[str, int]] = {}
        self.rarity: dict[Block, Vector] = {}
        self.start: dict[Block, int] = {}
        at = 0
        for block in BLOCKS:
            spread = Counter(token for bag in bags for token in bag.tokens[block])
            self.column[block] = {token: number for number, token in enumerate(spread)}
            rare = [log((1 + len(bags)) / (1 + count)) + 1 for count in spread.values()]
            self.rarity[block], self.start[block] = np.array(rare, np.float32), at
            at += len(spread)
        forms = np.array([bag.form for bag in bags], np.float32)
        self.middle = forms.mean(axis=0)
        self.spread = np.maximum(forms.std(axis=0), LEAST_SPREAD)
        self.usual_picture = np.array([bag.picture for bag in bags], np.float32).mean(axis=0)
        self.form_at = at
        self.usual_look = np.array([look(bag) for bag in bags], np.float32).mean(axis=0)
        self.look_at = at + forms.shape[1] + len(self.usual_picture)
        self.width = self.look_at + len(self.usual_look)

    def place(self, bag: Bag) -> Placed:
        """Where a bag lies."""
        columns, values = [], []
        known = 0.0
        for block in BLOCKS:
            of = self.column[block]
            hits = [(of[token], weight) for token, weight in bag.tokens[block].items() if token in of]
            if block == "words":
                known = sum(weight for _, weight in hits) / (sum(bag.tokens[block].values()) or 1.0)
            if not hits:
                continue
            numbers = np.array([number for number, _ in hits], np.int32)
            weights = np.array([weight for _, weight in hits], np.float32) * self.rarity[block][numbers]
            columns.append(numbers + self.start[block])
            values.append(weights / np.linalg.norm(weights) * np.sqrt(WEIGHTS[block]))
        form = np.clip((bag.form - self.middle) / self.spread, -FAR, FAR)
        picture, look = bag.picture - self.usual_picture, self.look(bag)
        columns.append(np.arange(self.form_at, self.width, dtype=np.int32))
        values.append(form / np.sqrt(len(form)) * np.sqrt(FORM))
        values.append(picture / max(float(np.linalg.norm(picture)), 1e-6) * np.sqrt(PICTURE))
        values.append((look - self.usual_look) * np.sqrt(LOOK))
        return Placed(np.concatenate(columns), np.concatenate(values).astype(np.float32), known, look)

    @cached_property
    def tokens(self) -> list[tuple[Block, str]]:
        """By column its block and token, up to those of form, picture and look."""
        return [(block, token) for block in BLOCKS for token in self.column[block]]
