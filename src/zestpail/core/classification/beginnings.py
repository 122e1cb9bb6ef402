"""How much a page by itself looks like the first one of a paper, whatever stands before it in the pile.

Learned from the pages of papers of many makers (``python -m training.piles``): from what a page speaks of and from its
form, so that it holds in any language and for papers that no sample was given of.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources

from zestpail.core.classification.bag import Bag
from zestpail.core.classification.kinds import Vector, learned
from zestpail.core.classification.page_sketch import SHAPE
from zestpail.core.learning.forest import Forest

Facts = dict[str, float]


@dataclass(frozen=True)
class Seen:
    """A page as it looks by itself."""

    first: float
    """The logarithm of the odds that it is the first page of a paper."""
    look: Vector
    """Which general kinds of paper it looks like."""


def page_facts(bag: Bag) -> Facts:
    """What tells first pages: what it speaks of, a concept that is missing being 0, and its form."""
    return {**bag.tokens["concepts"], **dict(zip(SHAPE, map(float, bag.form), strict=False))}


def seen_of(bags: Sequence[Bag]) -> list[Seen]:
    """How each page looks by itself."""
    if not bags:
        return []
    forest = _forest()
    nothing = dict.fromkeys(forest.features, 0.0)
    first = forest.log_odds([nothing | page_facts(bag) for bag in bags])
    return [
        Seen(float(odds), learned().look(bag.tokens["concepts"], bag.form))
        for odds, bag in zip(first, bags, strict=True)
    ]


@cache
def _forest() -> Forest:
    text = (resources.files("zestpail.core.classification") / "beginnings.json").read_text("utf-8")
    return Forest.model_validate(json.loads(text))
