"""Which words of a page are the standing words of a remembered one, although it lies shifted, scaled or turned on it.

First the similarity transform that most of the words agree on (RANSAC: Fischler and Bolles 1981, over words that stand
once on either page; least squares after Umeyama 1991). Then each word takes the one of its equals whose shift from
there most of its neighbours share: a line more or less moves what stands under it, and nothing else.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from zestpail.core.document_type.learned import StandingWords
from zestpail.core.learning.layouts.remember import TENTH, key_of
from zestpail.core.reading.page import PageReading

Floats = NDArray[np.float64]

MOST_EQUAL = 6
"""Words that stand more often than this on a page tell nothing of places."""
SEEDS = 28
"""Words whose pairs are tried for a transform."""
APART = 60.0
"""Points between two words that tell a scale."""
NEAR = 6.0
"""Points by which a word may stand beside its place and still agree."""
BESIDE = 14.0
"""Points by which it may stand to the side when its neighbours are asked."""
MOST_SCALE = 1.45
"""How much larger or smaller the same layout may be printed."""
NEIGHBOURS = 70.0
"""Points over which the word of a neighbour sinks to a third."""
SHARED = 2.5
"""Points within which two shifts are the same."""
TURNED, SCALED, UNLIKELY = 0.02, 0.1, 0.25
"""Turn (radians) and scale from which a transform is the less likely by this share: pages come straightened."""
ALONG = 260.0
"""Points by which a word may stand further along its line, where what stands before it is longer or shorter."""
LEAST_SUPPORT = 0.6
"""What its neighbours must say for a word, where each says at most 1."""
LETTERS, FIGURES, SHORT = 1.0, 0.35, 0.25
"""What a word of letters, one with figures, and one of a character or two tells of a layout."""


@dataclass(frozen=True)
class PageWords:
    """Words with their places: left edge, middle height, right edge and height of print, a row each, in points."""

    texts: tuple[str, ...]
    places: Floats

    @cached_property
    def weights(self) -> Floats:
        """What each tells of a layout."""
        return weights_of(self.texts)

    @property
    def starts(self) -> Floats:
        """Left edge and middle height of each."""
        return self.places[:, :2]


@dataclass(frozen=True)
class Alignment:
    """Which remembered words were found, where they were expected, and by how much they stand beside that."""

    taught: tuple[int, ...]
    """Which of the remembered words were found, by their places."""
    transform: Floats
    """2 × 3: from places on the remembered page to places on this one."""
    there: Floats
    """Left edge, middle height, right edge and height of the remembered words that were found, in points."""
    here: Floats
    """The same of the words that they are on this page."""
    found: tuple[int, ...]
    """Which words of this page they are, by their place among those of :func:`words_of`."""
    all_there: Floats
    """The same of all remembered words, found or not."""
    weights: Floats
    """What each of all remembered words tells."""
    along: Floats
    """Remembered words that were found further along their line, and those that they are: eight numbers a row."""

    def moved(self, points: Floats) -> Floats:
        """Points of the remembered page as they would stand on this one, by the transform alone."""
        return np.asarray(points @ self.transform[:, :2].T + self.transform[:, 2])

    @property
    def shifts(self) -> Floats:
        """By how much each word stands beside its place, in points."""
        return np.asarray(self.here[:, :2] - self.moved(self.there[:, :2]))


def remembered_words(page: StandingWords) -> PageWords:
    """The words of a remembered page."""
    return PageWords(page.texts, np.array(page.places, np.float64).reshape(-1, 4) / TENTH)


@lru_cache(maxsize=256)
def words_of(reading: PageReading) -> tuple[PageWords, tuple[int, ...]]:
    """The words of a page, and where each is among those that were read."""
    kept = [(at, key) for at, word in enumerate(reading.words) if (key := key_of(word))]
    boxes = [reading.words[at].box for at, _ in kept]
    places = np.array([(b.x0, b.cy, b.x1, b.height) for b in boxes], np.float64).reshape(-1, 4)
    return PageWords(tuple(key for _, key in kept), places), tuple(at for at, _ in kept)


def weights_of(texts: Sequence[str]) -> Floats:
    """What each word tells of a layout."""
    return np.array([
        SHORT if len(text) < 3 else FIGURES if any(c.isdigit() for c in text) else LETTERS for text in texts
    ], np.float64)  # fmt: skip


def align(remembered: PageWords, page: PageWords) -> Alignment | None:
    """How the remembered page lies on this one; None where hardly a word of it is there."""
    pairs = _equals(remembered.texts, page.texts)
    if len(pairs) < 3:
        return None
    once = _once(pairs)
    transform = _transform(remembered.starts[once[:, 0]], page.starts[once[:, 1]], weights_of(
        [remembered.texts[at] for at in once[:, 0]]
    )) if len(once) >= 3 else None  # fmt: skip
    if transform is None:
        return None
    kept = _agreed(pairs, remembered, page, transform)
    if not len(kept):
        return None
    return Alignment(
        taught=tuple(kept[:, 0].tolist()), transform=transform, there=remembered.places[kept[:, 0]],
        here=page.places[kept[:, 1]], found=tuple(kept[:, 1].tolist()), all_there=remembered.places,
        weights=remembered.weights,
        along=_along(pairs, kept, remembered, page, transform),
    )  # fmt: skip


def _along(
    pairs: NDArray[np.intp], kept: NDArray[np.intp], remembered: PageWords, page: PageWords, transform: Floats
) -> Floats:
    """Words that stand on their line, and further left or right on it: each that nothing else was found for."""
    ours, theirs = (set(kept[:, side].tolist()) for side in (0, 1))
    found: dict[int, tuple[float, int]] = {}
    y_found = remembered.places[kept[:, 0], 1]
    shifts = page.starts[kept[:, 1]] - (remembered.starts[kept[:, 0]] @ transform[:, :2].T + transform[:, 2])
    for one, other in pairs.tolist():
        if one in ours or other in theirs:
            continue
        aside, under = page.starts[other] - (transform[:, :2] @ remembered.starts[one] + transform[:, 2])
        nearest = int(np.argmin(np.abs(y_found - remembered.places[one, 1])))
        if abs(under - shifts[nearest, 1]) < SHARED and abs(aside) < ALONG:
            found[one] = min(found.get(one, (ALONG, other)), (abs(aside), other))
    rows = [np.concatenate([remembered.places[one], page.places[other]]) for one, (_, other) in found.items()]
    return np.array(rows, np.float64).reshape(-1, 8)


def alike(remembered: PageWords, pages: Sequence[PageWords], found: Sequence[Alignment | None]) -> float:
    """How alike the pages are to the remembered one, in [0, 1]: the share of its words that are on any of them.

    A page of few words may have no more of them than it has words.
    """
    words = sorted({word for how in found if how for word in how.taught})
    most = min(remembered.weights.sum(), sum(page.weights.sum() for page in pages))
    return min(float(remembered.weights[words].sum() / max(most, 1e-6)), 1.0)


def _equals(ours: Sequence[str], theirs: Sequence[str]) -> NDArray[np.intp]:
    """Pairs of equal words, by their places in either list."""
    places: dict[str, list[int]] = defaultdict(list)
    for at, text in enumerate(theirs):
        places[text].append(at)
    mine: dict[str, list[int]] = defaultdict(list)
    for at, text in enumerate(ours):
        if text in places:
            mine[text].append(at)
    pairs = [
        (at, other)
        for text, several in mine.items()
        if len(several) <= MOST_EQUAL and len(places[text]) <= MOST_EQUAL
        for at in several
        for other in places[text]
    ]
    return np.array(pairs, np.intp).reshape(-1, 2)


def _once(pairs: NDArray[np.intp]) -> NDArray[np.intp]:
    """The pairs of words that stand once on either page; all of them where hardly any do."""
    ours, theirs = (np.bincount(pairs[:, side]) for side in (0, 1))
    once = pairs[(ours[pairs[:, 0]] == 1) & (theirs[pairs[:, 1]] == 1)]
    return once if len(once) >= 3 else pairs


def _transform(there: Floats, here: Floats, weights: Floats) -> Floats | None:
    """The similarity on which most of the pairs agree, or a mere shift where no two stand far enough apart."""
    order = np.argsort(-weights, kind="stable")[:SEEDS]
    one, other = (at.ravel() for at in np.meshgrid(order, order))
    wide = np.hypot(*(there[one] - there[other]).T) > APART
    one, other = one[wide & (one < other)], other[wide & (one < other)]
    shifts = np.array([[1, 0, dx, 0, 1, dy] for dx, dy in here - there]).reshape(-1, 2, 3)
    tried = np.concatenate([shifts, _similarities(there[one], there[other], here[one], here[other])])
    moved = there @ tried[:, :, :2].transpose(0, 2, 1) + tried[:, None, :, 2]
    agree = (np.abs(moved - here) < NEAR).all(axis=2)
    turn, scale = np.abs(tried[:, 1, 0]), np.abs(np.hypot(tried[:, 0, 0], tried[:, 1, 0]) - 1)
    unlikely = np.minimum(turn / TURNED, 1) + np.minimum(scale / SCALED, 1)
    best = int(np.argmax((agree @ weights) * (1 - UNLIKELY * unlikely)))
    inside = agree[best]
    if inside.sum() < 2:
        return None
    if np.ptp(there[inside], axis=0).max() < APART:
        return np.asarray(tried[best])
    return _least_squares(there[inside], here[inside])


def _similarities(a: Floats, b: Floats, c: Floats, d: Floats) -> Floats:
    """The similarities that take points ``a`` to ``c`` and ``b`` to ``d``, those that a printer might make."""
    one, other = (b - a) @ (1, 1j), (d - c) @ (1, 1j)
    factor = np.where(one == 0, 0, other / np.where(one == 0, 1, one))
    likely = (np.abs(factor) < MOST_SCALE) & (np.abs(factor) > 1 / MOST_SCALE) & (np.abs(np.angle(factor)) < 0.12)
    factor, a, c = factor[likely], a[likely], c[likely]
    real, turn = factor.real, factor.imag
    x, y = c[:, 0] - real * a[:, 0] + turn * a[:, 1], c[:, 1] - turn * a[:, 0] - real * a[:, 1]
    return np.stack([real, -turn, x, turn, real, y], axis=1).reshape(-1, 2, 3)


def _least_squares(there: Floats, here: Floats) -> Floats:
    middle, target = there.mean(axis=0), here.mean(axis=0)
    one, other = (there - middle) @ (1, 1j), (here - target) @ (1, 1j)
    factor = (np.conj(one) * other).sum() / (np.abs(one) ** 2).sum()
    turn = np.array([[factor.real, -factor.imag], [factor.imag, factor.real]])
    return np.column_stack([turn, target - turn @ middle])


def _agreed(pairs: NDArray[np.intp], remembered: PageWords, page: PageWords, transform: Floats) -> NDArray[np.intp]:
    """For each remembered word the one that it is: of its equals that whose shift most neighbours share."""
    there = remembered.starts[pairs[:, 0]] @ transform[:, :2].T + transform[:, 2]
    shift = page.starts[pairs[:, 1]] - there
    near = np.abs(shift[:, 0]) < BESIDE
    pairs, there, shift = pairs[near], there[near], shift[near]
    if not len(pairs):
        return pairs
    weights = weights_of([remembered.texts[at] for at in pairs[:, 0]])
    apart = np.hypot((there[:, None, 0] - there[None, :, 0]) * 0.5, there[:, None, 1] - there[None, :, 1])
    says = np.exp(-apart / NEIGHBOURS) * weights[None, :]
    alike = (np.abs(shift[:, None] - shift[None, :]) < SHARED).all(axis=2)
    others = pairs[:, None, 0] != pairs[None, :, 0]
    support = (says * (alike & others)).sum(axis=1)
    support += 0.3 * (np.abs(shift) < NEAR).all(axis=1)
    best: dict[int, int] = {}
    for at in np.argsort(-support, kind="stable").tolist():
        if support[at] >= LEAST_SUPPORT:
            best.setdefault(int(pairs[at, 0]), at)
    taken: dict[int, int] = {}
    for at in sorted(best.values(), key=lambda at: -support[at]):
        taken.setdefault(int(pairs[at, 1]), at)
    return np.asarray(pairs[sorted(taken.values())])
