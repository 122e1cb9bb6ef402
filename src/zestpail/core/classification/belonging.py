"""How sure it is that a document is of the type with the highest score, and not of another one or of none.

A few samples tell nothing of their own error, so it was learned from many classifiers with few samples of other papers
(``python -m training.belonging``): how a document lies among the samples of a type that it is, or is not, of.
"""

from __future__ import annotations

import json
from functools import cache
from importlib import resources
from math import exp

import numpy as np
from numpy.typing import NDArray

from zestpail.core.classification.bag import BLOCKS, LARGE, TOP, Bag, Block
from zestpail.core.classification.concepts import BEGINNINGS
from zestpail.core.classification.space import Placed
from zestpail.core.classification.taught import Scores, Shared, Taught, shared_by
from zestpail.core.learning.forest import Forest

Facts = dict[str, float]


def belonging_facts(taught: Taught, placed: Placed, bag: Bag, scores: Scores, without: int | None = None) -> Facts:
    """What tells whether the highest score is right; ``without`` the sample of that row, if it is the one asked for."""
    order = np.argsort(-scores)
    best = int(order[0])
    counts = np.array([number != without for number in range(len(taught.rows))])
    own = np.array([row.type == best for row in taught.rows]) & counts
    others = ~own & counts
    if not own.any():
        return {}
    second = float(scores[order[1]]) if len(order) > 1 else 0.0
    facts = {
        "score": float(scores[best]), "margin": float(scores[best]) - second, "known": placed.known,
        "types": float(len(taught.keys)), "samples": float(own.sum()),
    }  # fmt: skip
    space, table = taught.space, taught.table[:, placed.columns]
    parts: dict[str, NDArray[np.bool_]] = {
        block: _within(placed.columns, space.start[block], space.start[block] + len(space.column[block]))
        for block in BLOCKS
    }
    parts["form"] = _within(placed.columns, space.form_at, space.look_at)
    for name, part in (("all", np.ones(len(placed.columns), bool)), *parts.items()):
        alike = _cosines(table[:, part], placed.values[part], taught.lengths[name])
        facts[f"near {name}"], facts[f"mean {name}"] = float(alike[own].max()), float(alike[own].mean())
        facts[f"others {name}"] = float(alike[others].max()) if others.any() else 0.0
    facts |= _looks(placed, taught.looks[own], taught.looks[others])
    usual = taught.usual[best]
    facts["mean beside samples"] = facts["mean all"] - usual.mean
    facts["near beside samples"] = facts["near all"] - usual.near
    facts["score beside samples"] = facts["score"] - usual.score
    facts["usual score"], facts["usual mean"] = usual.score, usual.mean
    titles, known = (
        _titles(bag),
        set().union(*(_titles(row.bag) for row, counted in zip(taught.rows, own, strict=True) if counted)),
    )
    facts["titles"], facts["titles known"] = float(len(titles)), float(len(titles & known))
    facts["titles foreign"] = float(len(titles - known))
    rows = [row.bag for row, counted in zip(taught.rows, own, strict=True) if counted]
    shared = taught.shared[best] if without is None else shared_by(rows)
    for block in BLOCKS:
        facts |= _core(block, bag, shared)
    facts["words"] = min(len(bag.tokens["words"]) / 100, 4.0)
    return facts


def _looks(placed: Placed, own: NDArray[np.float32], others: NDArray[np.float32]) -> Facts:
    """How much the document looks like the same general kinds of paper as the samples of the type, and as others."""
    together = np.sqrt((own**2).mean(axis=0))
    mean, count = float(together @ placed.look), len(own)
    among = float((own @ own.T).sum() - count) / (count * (count - 1)) if count > 1 else np.nan
    return {
        "look near": float((own @ placed.look).max()), "look mean": mean,
        "look others": float((others @ placed.look).max()) if len(others) else 0.0,
        "look plain": float((placed.look**2).max()), "look beside samples": mean - among,
    }  # fmt: skip


def _core(block: Block, bag: Bag, shared: Shared) -> Facts:
    """How much the document has of what most samples of a type have in common, and how much it has beside."""
    core, spread = shared[block]
    there = bag.tokens[block]
    return {
        f"core {block}": min(len(core) / 20, 5.0),
        f"core kept {block}": sum(token in there for token in core) / len(core) if core else -1.0,
        f"beside {block}": sum(token not in spread for token in there) / len(there) if there else -1.0,
    }


def likely(facts: Facts) -> float:
    """How likely the highest score is right, in [0, 1]."""
    return float(1 / (1 + exp(-float(_forest().log_odds([facts])[0]))))


def _titles(bag: Bag) -> set[str]:
    """The kinds of paper that its headings name."""
    return {
        concept
        for token in bag.tokens["concepts"]
        for mark in (LARGE, TOP)
        if token.startswith(mark) and (concept := token.removeprefix(mark)) in BEGINNINGS
    }


def _within(columns: NDArray[np.int32], start: int, end: int) -> NDArray[np.bool_]:
    return (columns >= start) & (columns < end)


def _cosines(
    rows: NDArray[np.float32], values: NDArray[np.float32], lengths: NDArray[np.float32]
) -> NDArray[np.float32]:
    own = max(float(np.linalg.norm(values)), 1e-6)
    return np.asarray(rows @ values / (lengths * own), np.float32)


@cache
def _forest() -> Forest:
    text = (resources.files("zestpail.core.classification") / "belonging.json").read_text("utf-8")
    return Forest.model_validate(json.loads(text))
