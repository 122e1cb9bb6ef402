"""Why a document is taken for a type: the words and features that weighed most, for it and against it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict

from zestpail.core.classification.bag import LARGE, TOP, Bag
from zestpail.core.classification.concepts import in_words, spoken
from zestpail.core.classification.cues import NOTHING_TOLD, Told
from zestpail.core.classification.page_sketch import PageSketch, folded_words
from zestpail.core.classification.taught import CUE, Taught

MOST = 4
"""Reasons for and against that are told."""
LEAST = 0.004
"""What a reason must add to a score to be told."""


class Reason(BaseModel):
    """One thing that weighed."""

    model_config = ConfigDict(frozen=True)

    speaks: Literal["for", "against"]
    message: str
    words: tuple[str, ...] = ()
    """Folded words of the page that it speaks of, to be marked there."""
    weight: float


def reasons_for(
    taught: Taught, bag: Bag, pages: Sequence[PageSketch], best: int, second: int | None, told: Told = NOTHING_TOLD
) -> tuple[Reason, ...]:
    """What made the one type likelier than the next one, heaviest first; what spoke against it after that."""
    found = [*_by_cues(taught, pages, best, told)]
    placed = taught.place(bag)
    if placed is not None and best in taught.with_samples and len(taught.with_samples) > 1:
        at = taught.with_samples.index(best)
        weights = taught.fit.weights[placed.columns, at]
        if second is not None and second in taught.with_samples:
            weights = weights - taught.fit.weights[placed.columns, taught.with_samples.index(second)]
        parts = placed.values * weights
        found += _by_columns(taught, pages, placed.columns, parts)
    speaking = sorted((r for r in found if r.speaks == "for"), key=lambda r: -r.weight)[:MOST]
    against = sorted((r for r in found if r.speaks == "against"), key=lambda r: -r.weight)[:MOST]
    return (*speaking, *against)


def _by_columns(
    taught: Taught, pages: Sequence[PageSketch], columns: NDArray[np.int32], parts: NDArray[np.float32]
) -> list[Reason]:
    """What single tokens add, the same word in several blocks taken together; what the form adds as one thing."""
    by_word: dict[tuple[str, str], float] = {}
    form = 0.0
    for column, part in zip(columns, parts, strict=True):
        if column >= taught.space.form_at:
            form += float(part)
            continue
        block, token = taught.space.tokens[int(column)]
        bare = token.removeprefix(LARGE).removeprefix(TOP)
        kind = "concept" if block == "concepts" else "word"
        by_word[kind, bare] = by_word.get((kind, bare), 0.0) + float(part)
    heavy = {token: part for token, part in by_word.items() if abs(part) >= LEAST}
    said = _said(pages) if heavy else {}
    told = [_told(kind, bare, part, said) for (kind, bare), part in heavy.items()]
    if abs(form) >= LEAST:
        told.append(Reason(speaks="for" if form > 0 else "against", weight=round(abs(form), 4),
                           message="its layout is like that of the samples" if form > 0
                           else "its layout is unlike that of the samples"))  # fmt: skip
    return told


def _said(pages: Sequence[PageSketch]) -> dict[str, list[str]]:
    """By concept the words with which the pages speak of it, those in large print first."""
    said: dict[str, dict[str, None]] = {}
    for page in pages:
        for words, out in ((page.large, True), (page.top, True), (page.words, False)):
            for text, concept in spoken(words, out):
                said.setdefault(concept, {})[text] = None
    return {concept: list(texts)[:3] for concept, texts in said.items()}


def _told(kind: str, bare: str, part: float, said: dict[str, list[str]]) -> Reason:
    speaks: Literal["for", "against"] = "for" if part > 0 else "against"
    weight = round(abs(part), 4)
    if kind == "word":
        return Reason(speaks=speaks, message=f"it says “{bare}”", words=(bare,), weight=weight)
    texts = said.get(bare, [])
    quoted = ", ".join(f"“{text}”" for text in texts)
    words = tuple(dict.fromkeys(word for text in texts for word in text.split()))
    return Reason(speaks=speaks, message=f"it speaks of {in_words(bare)}: {quoted}", words=words, weight=weight)


def _by_cues(taught: Taught, pages: Sequence[PageSketch], best: int, told: Told) -> list[Reason]:
    reasons = []
    for cue in taught.classifier.types[best].cues:
        text = cue.found(pages, told)
        if text:
            reasons.append(Reason(speaks=cue.speaks, message=f"the cue “{text}” stands there",
                               words=folded_words(text),
                               weight=CUE[cue.weight]))  # fmt: skip
        elif cue.speaks == "for" and cue.applies(told):
            reasons.append(Reason(speaks="against", message=f"nothing {cue.sentence}", weight=CUE[cue.weight] / 2))
    return reasons
