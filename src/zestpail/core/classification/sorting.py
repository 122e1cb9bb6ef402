"""The sorting table: every sample with the type that it would be given, were it not itself among the samples."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zestpail.core.classification.bag import LARGE, TOP
from zestpail.core.classification.concepts import in_words
from zestpail.core.classification.decide import Decision, decide_without
from zestpail.core.classification.taught import Taught

MOST_WORDS = 8
"""Words that are told of what two samples have in common and what parts them."""


@dataclass(frozen=True)
class SortedSample:
    """A sample as the others would have it."""

    type: str
    """The type that it is a sample of."""
    number: int
    """Its place among the samples of that type."""
    decision: Decision
    beside: tuple[str, int] | None
    """The nearest sample of the type that it would be taken for instead: type and place; None where it is right."""
    common: tuple[str, ...] = ()
    """What it has in common with that."""
    own: tuple[str, ...] = ()
    """What parts it from that."""

    @property
    def right(self) -> bool:
        """Whether it would be taken for what it is."""
        return self.decision.type == self.type


def sorted_samples(taught: Taught) -> list[SortedSample]:
    """Every sample, type by type; none as long as there are no two types to tell apart."""
    found: list[SortedSample] = []
    if len(taught.with_samples) < 2:
        return found
    places = _places(taught)
    for number, (type_at, place) in enumerate(places):
        one = taught.classifier.types[type_at]
        decision = decide_without(taught, number, one.samples[place].pages)
        near = _nearest(taught, number, decision)
        common, own = compared(taught, number, near) if near is not None else ((), ())
        beside = (taught.keys[places[near][0]], places[near][1]) if near is not None else None
        found.append(SortedSample(one.key, place, decision, beside, common, own))
    return found


def _places(taught: Taught) -> list[tuple[int, int]]:
    """By row the number of its type and its place among that type's samples."""
    return [(at, place) for at, one in enumerate(taught.classifier.types) for place in range(len(one.samples))]


def _nearest(taught: Taught, number: int, decision: Decision) -> int | None:
    """The row of the nearest sample of the type that a sample is wrongly taken for, or of its rival."""
    own = taught.keys[taught.rows[number].type]
    rival = decision.likeliest if decision.likeliest != own else ""
    rows = [at for at, row in enumerate(taught.rows) if rival and taught.keys[row.type] == rival]
    if decision.type == own or not rows:
        return None
    unit = taught.table / taught.lengths["all"][:, None]
    return max(rows, key=lambda at: float(unit[at] @ unit[number]))


def compared(taught: Taught, one: int, other: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """What two samples have in common, and what the first has and the second lacks, heaviest first."""
    words = taught.space.form_at
    first, second = taught.table[one, :words], taught.table[other, :words]
    return _told(taught, first * second), _told(taught, np.where(second == 0, first, 0))


def _told(taught: Taught, weights: NDArray[np.float32]) -> tuple[str, ...]:
    told: dict[str, None] = {}
    for column in np.argsort(-weights):
        if weights[column] <= 0 or len(told) >= MOST_WORDS:
            break
        block, token = taught.space.tokens[int(column)]
        bare = token.removeprefix(LARGE).removeprefix(TOP)
        told[in_words(bare) if block == "concepts" else f"“{bare}”"] = None
    return tuple(told)
