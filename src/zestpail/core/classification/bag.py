"""A page or document as counted tokens: words, those that stand out, what they speak of; and numbers of its form."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from math import log
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from zestpail.core.classification.concepts import spoken
from zestpail.core.classification.page_sketch import PICTURE, SHAPE, PageSketch
from zestpail.core.classification.stop_words import STOP_WORDS

Block = Literal["words", "standing_out", "concepts"]
BLOCKS: tuple[Block, ...] = ("words", "standing_out", "concepts")
FOLLOWING = 0.5
"""What a following page weighs in its document, beside its first page."""
LARGE, TOP = "large ", "top "
"""What tokens begin with that stand in large print, and on the first lines."""
Counted = dict[str, float]


@dataclass(frozen=True)
class Bag:
    """Tokens with their weights by block, and the numbers of its form."""

    tokens: dict[Block, Counted]
    form: NDArray[np.float32]
    picture: NDArray[np.float32]


def bag_of_page(page: PageSketch) -> Bag:
    """The bag of one page alone."""
    words = Counter(word for word in page.words if _tells(word))
    outstanding = Counter(LARGE + word for word in page.large if _tells(word))
    outstanding.update(TOP + word for word in page.top if _tells(word))
    concepts = Counter(concept for _, concept in spoken(page.words))
    concepts.update(LARGE + concept for _, concept in spoken(page.large, True))
    concepts.update(TOP + concept for _, concept in spoken(page.top, True))
    shape = np.array(page.shape, np.float32)
    ink = page.ink()
    return Bag(
        {"words": _damped(words), "standing_out": _damped(outstanding), "concepts": _damped(concepts)},
        np.concatenate([shape, shape, [0.25]]).astype(np.float32),
        ink if len(ink) == PICTURE[0] * PICTURE[1] else np.zeros(PICTURE[0] * PICTURE[1], np.float32),
    )


def bag_of(pages: Sequence[PageSketch]) -> Bag:
    """The bag of a document."""
    return joined([bag_of_page(page) for page in pages])


def joined(bags: Sequence[Bag]) -> Bag:
    """The bag of a document of its pages' bags: the first page counts in full, each following one by half."""
    if len(bags) == 1:
        return bags[0]
    tokens: dict[Block, Counted] = {}
    for block in BLOCKS:
        together = dict(bags[0].tokens[block])
        for bag in bags[1:]:
            for token, weight in bag.tokens[block].items():
                together[token] = together.get(token, 0.0) + FOLLOWING * weight
        tokens[block] = together
    count, half = len(bags), len(SHAPE)
    following = np.mean([bag.form[:half] for bag in bags[1:]], axis=0)
    form = np.concatenate([bags[0].form[:half], following, [min(count, 4) / 4]]).astype(np.float32)
    return Bag(tokens, form, bags[0].picture)


def _tells(word: str) -> bool:
    return len(word) > 1 and word not in STOP_WORDS and not word.isdigit()


def _damped(counts: Counter[str]) -> Counted:
    """Ten times the same word tells little more than twice (sublinear counts: Manning et al. 2008, 6.4.1)."""
    return {token: 1 + log(count) for token, count in counts.items()}
