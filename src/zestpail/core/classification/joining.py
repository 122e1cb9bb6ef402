"""How likely a page goes on with the document of the page before it, as it was learned from piles of other papers."""

from __future__ import annotations

import itertools
import json
from collections.abc import Sequence
from functools import cache
from importlib import resources

import numpy as np
from numpy.typing import NDArray

from zestpail.core.classification.bag import Bag, bag_of_page
from zestpail.core.classification.beginnings import Seen, seen_of
from zestpail.core.classification.page_ties import Facts, PageTies, facts_between
from zestpail.core.learning.forest import Forest

PRIOR = 1.0
"""Added to the logarithm of odds: in the piles that it learned from there were more beginnings than there are."""
Leaf = tuple[PageTies, Seen]
"""A page as it is compared with its neighbours, and as it looks by itself."""


def joins(pages: Sequence[PageTies], bags: Sequence[Bag] = ()) -> NDArray[np.float64]:
    """For each page but the first the logarithm of the odds that it goes on with the document before it."""
    if len(pages) < 2:
        return np.zeros(0)
    leaves = list(zip(pages, seen_of(bags or [bag_of_page(page.sketch) for page in pages]), strict=True))
    return _forest().log_odds([pair_facts(before, leaf) for before, leaf in itertools.pairwise(leaves)]) + PRIOR


def pair_facts(before: Leaf, leaf: Leaf) -> Facts:
    """What speaks for and against the second of two leaves going on with the document of the first."""
    (ties_before, seen_before), (ties, seen) = before, leaf
    return facts_between(ties_before, ties) | {
        "first": seen.first, "first_before": seen_before.first,
        "look": float(seen_before.look @ seen.look), "look_plain": float((seen.look**2).max()),
    }  # fmt: skip


@cache
def _forest() -> Forest:
    text = (resources.files("zestpail.core.classification") / "joining.json").read_text("utf-8")
    return Forest.model_validate(json.loads(text))
