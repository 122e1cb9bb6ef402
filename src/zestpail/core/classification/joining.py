"""How likely a page goes on with the document of the page before it, as it was learned from piles of other papers."""

from __future__ import annotations

import itertools
import json
from collections.abc import Sequence
from functools import cache
from importlib import resources

import numpy as np
from numpy.typing import NDArray

from zestpail.core.classification.page_ties import PageTies, facts_between
from zestpail.core.learning.forest import Forest

PRIOR = 1.0
"""Added to the logarithm of odds: in the piles that it learned from there were more beginnings than there are."""


def joins(pages: Sequence[PageTies]) -> NDArray[np.float64]:
    """For each page but the first the logarithm of the odds that it goes on with the document before it."""
    if len(pages) < 2:
        return np.zeros(0)
    facts = [facts_between(before, page) for before, page in itertools.pairwise(pages)]
    return _forest().log_odds(facts) + PRIOR


@cache
def _forest() -> Forest:
    text = (resources.files("zestpail.core.classification") / "joining.json").read_text("utf-8")
    return Forest.model_validate(json.loads(text))
