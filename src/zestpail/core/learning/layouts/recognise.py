"""Which of the layouts that are remembered a document has, or none of them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from zestpail.core.document_type.learned import RememberedLayout
from zestpail.core.learning.layouts.alignment import Alignment, PageWords, align, alike, remembered_words, words_of
from zestpail.core.reading.document import DocumentReading

KNOWN = 0.3
"""The share of the standing words from which a layout is taken for known; set on papers of other makers."""
SURELY = 0.55
"""The share from which nothing speaks against it."""
TRIED = 5
"""Layouts that share the most telling words, whose places are compared."""
ENOUGH = 2
"""Where so many are surely known, those that share fewer words are not compared."""


@dataclass(frozen=True)
class Recognised:
    """A remembered layout that the document has, and how its pages lie on those of the document."""

    layout: RememberedLayout
    score: float
    """How alike the first pages are, in [0, 1]."""

    @property
    def sure(self) -> float:
        """How surely it is that layout, in [0, 1]."""
        return min(max((self.score - KNOWN) / (SURELY - KNOWN), 0.0), 1.0)


class Layouts:
    """The layouts that are remembered, indexed by their words."""

    def __init__(self, layouts: Sequence[RememberedLayout]) -> None:
        self.layouts = tuple(layouts)
        self._kept: dict[int, PageWords] = {}

    @cached_property
    def _by_word(self) -> dict[str, NDArray[np.intp]]:
        index: dict[str, list[int]] = defaultdict(list)
        for at, layout in enumerate(self.layouts):
            for text in set(layout.words[0].texts) if layout.words else ():
                index[text].append(at)
        return {text: np.array(having, np.intp) for text, having in index.items()}

    def recognised(self, document: DocumentReading) -> list[Recognised]:
        """The layouts that the document may have, likeliest first; none where it has none of them."""
        found = [Recognised(self.layouts[at], score) for at, score in self._scores(document) if score >= KNOWN]
        return sorted(found, key=lambda one: -one.score)

    def nearest(self, document: DocumentReading) -> tuple[str, float] | None:
        """The sample whose layout is most like the document's, and how alike they are, in [0, 1]; None without any."""
        best = max(self._scores(document), key=lambda one: one[1], default=None)
        return None if best is None else (self.layouts[best[0]].sample, best[1])

    def _scores(self, document: DocumentReading) -> Iterator[tuple[int, float]]:
        """How alike the first page of each layout is to the document's first and last."""
        ends = [document.pages[at] for at in sorted({0, len(document.pages) - 1})]
        pages = [words_of(page)[0] for page in ends]
        there = {text for page in pages for text in page.texts}
        sure = 0
        for at in self._alike(there):
            remembered = self._words_of(at)
            if sure < ENOUGH and _may_be_known(remembered, pages, there):
                score = alike(remembered, pages, [align(remembered, page) for page in pages])
                sure += score >= SURELY
                yield at, score

    def _words_of(self, at: int) -> PageWords:
        if at not in self._kept:
            self._kept[at] = remembered_words(self.layouts[at].words[0])
        return self._kept[at]

    def _alike(self, texts: Collection[str]) -> list[int]:
        """The layouts with the most words in common, each word counting by how few layouts have it (Spärck Jones)."""
        votes = np.zeros(len(self.layouts))
        for text in sorted(texts):
            having = self._by_word.get(text)
            if having is not None:
                votes[having] += np.log((len(self.layouts) + 1) / len(having)) + 0.1
        best = np.argsort(-votes, kind="stable")[:TRIED]
        return [int(at) for at in best if votes[at] > 0]


def _may_be_known(remembered: PageWords, pages: Sequence[PageWords], there: Collection[str]) -> bool:
    """Whether enough of the words are there at all, wherever they stand."""
    found = np.array([text in there for text in remembered.texts], bool)
    most = min(float(remembered.weights.sum()), sum(float(page.weights.sum()) for page in pages))
    return float(remembered.weights[found].sum()) >= KNOWN * most


def on_pages(layout: RememberedLayout, document: DocumentReading, page: int) -> list[tuple[int, Alignment]]:
    """Where a page of the layout may lie in the document: by number of the page how it lies there, best first."""
    standing = next((words for words in layout.words if words.page == page), None)
    if standing is None:
        return []
    found = [
        (number, how)
        for number, reading in enumerate(document.pages)
        if (how := align(remembered_words(standing), words_of(reading)[0]))
    ]
    return sorted(found, key=lambda one: (-len(one[1].found), one[0]))
