"""What a document is: its type or none, how sure that is, what else it may be, and why."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from zestpail.core.classification.bag import Bag
from zestpail.core.classification.belonging import belonging_facts, likely
from zestpail.core.classification.cues import NOTHING_TOLD, Told
from zestpail.core.classification.model import UNKNOWN
from zestpail.core.classification.page_sketch import PageSketch
from zestpail.core.classification.reasons import Reason, reasons_for
from zestpail.core.classification.space import Placed
from zestpail.core.classification.taught import CUE, Scores, Taught

SURE, KNOWN = 0.85, 0.4
"""From which confidence on a type is sure, and under which a document is held to be of none."""
MOST_ALTERNATIVES = 3
SHARP = 5.0
"""By what scores are multiplied to share out what is not the best type's."""
CUE_SURE, CUE_APART = 0.9, 0.25
"""How sure a type is whose cues alone speak, if those of no other do as much; so far apart they must be."""
DESCRIBED_SURE = 0.7
"""How sure a type is at most that is known by its description alone: a person confirms it."""
CLASH = 0.5
"""How sure a type is where cues of two speak as much."""

State = Literal["sure", "check", "unknown"]


class Alternative(BaseModel):
    """Another type that it may be."""

    model_config = ConfigDict(frozen=True)

    type: str
    confidence: float


class Decision(BaseModel):
    """What a document is."""

    model_config = ConfigDict(frozen=True)

    type: str
    """Key of its type, or ``unknown``."""
    confidence: float
    """How sure that is, in [0, 1]; of ``unknown``, that it is none of the types."""
    state: State
    alternatives: tuple[Alternative, ...] = ()
    """Types that it may be too, likeliest first; of an unknown one, what it is nearest to."""
    reasons: tuple[Reason, ...] = ()

    @property
    def likeliest(self) -> str:
        """The type that it would be if it were of one; "" where there is none."""
        if self.type != UNKNOWN:
            return self.type
        return self.alternatives[0].type if self.alternatives else ""


def decide(taught: Taught, bag: Bag, pages: Sequence[PageSketch], told: Told = NOTHING_TOLD) -> Decision:
    """Decide on a document, given its bag and its written pages. One without a word or ink is unknown."""
    if not taught.keys or all(page.empty for page in pages):
        return Decision(type=UNKNOWN, confidence=1.0, state="unknown")
    placed = taught.place(bag)
    scores = taught.scores(placed, pages, told)
    return _decision(taught, bag, pages, scores, _certain(taught, placed, bag, pages, scores, told=told), told)


def decide_without(taught: Taught, number: int, pages: Sequence[PageSketch]) -> Decision:
    """What the sample of that row would be taken for, were it not among the samples."""
    row = taught.rows[number]
    placed, scores = taught.left_out(number, pages)
    return _decision(taught, row.bag, pages, scores, _certain(taught, placed, row.bag, pages, scores, number))


def _certain(
    taught: Taught, placed: Placed | None, bag: Bag, pages: Sequence[PageSketch], scores: Scores,
    without: int | None = None, told: Told = NOTHING_TOLD,
) -> float:  # fmt: skip
    """How likely the highest score is right."""
    best = int(scores.argmax())
    facts = (
        belonging_facts(taught, placed, bag, scores, without)
        if placed is not None and best in taught.with_samples and len(taught.with_samples) > 1
        else {}
    )
    if facts:
        return _with_cues(likely(facts), taught.cue_scores(pages, told)[best])
    by_words = _by_cues(scores)
    return by_words if taught.classifier.types[best].cues else min(by_words, DESCRIBED_SURE)


def _decision(
    taught: Taught, bag: Bag, pages: Sequence[PageSketch], scores: Scores, certain: float, told: Told = NOTHING_TOLD
) -> Decision:
    shares = np.exp(SHARP * (scores - scores.max()))
    order = [int(at) for at in np.argsort(-scores)]
    best = order[0]
    known = certain >= KNOWN
    # What is not the best type's is shared out among the others; of none of them, each is as near as beside the best.
    spare = (1 - certain) / (float(shares.sum() - shares[best]) or 1.0) if known else certain
    others = [
        Alternative(type=taught.keys[at], confidence=round(spare * float(shares[at]), 3))
        for at in order[1 : 1 + MOST_ALTERNATIVES]
    ]
    if not known:
        others = [Alternative(type=taught.keys[best], confidence=round(certain, 3)), *others][:MOST_ALTERNATIVES]
    return Decision(
        type=taught.keys[best] if known else UNKNOWN,
        confidence=round(certain if known else 1 - certain, 3),
        state="sure" if certain >= SURE else "check" if known else "unknown",
        alternatives=tuple(others),
        reasons=reasons_for(taught, bag, pages, best, order[1] if len(order) > 1 else None, told),
    )


def _with_cues(certain: float, cue: float) -> float:
    """How sure a type is that samples speak for, when its cues have their say: as much again in odds."""
    odds = np.log(max(certain, 1e-4) / max(1 - certain, 1e-4)) + 4 * cue
    return float(1 / (1 + np.exp(-odds)))


def _by_cues(scores: Scores) -> float:
    """How sure a type is for which cues or a description alone speak."""
    ordered = sorted((float(score) for score in scores), reverse=True)
    if ordered[0] < min(CUE.values()) - 0.01:
        return 0.0
    apart = ordered[0] - (max(ordered[1], 0.0) if len(ordered) > 1 else 0.0)
    return CUE_SURE if apart >= CUE_APART else CLASH
