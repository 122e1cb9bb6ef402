"""A whole pile at once: where documents begin, what each of them is, and why."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zestpail.core.classification.bag import Bag, bag_of_page, joined
from zestpail.core.classification.concepts import in_words
from zestpail.core.classification.cutting import FIRST, FOLLOWING, best_cut, type_odds
from zestpail.core.classification.decide import Decision, decide
from zestpail.core.classification.joining import joins
from zestpail.core.classification.page_ties import PageTies, ties_of
from zestpail.core.classification.taught import Taught
from zestpail.core.reading.page import PageReading

LENGTHS = 1.0
"""How much it says that samples of a type have many pages, or one."""
ROLE = 4.0
"""How much it says that a page is like the following pages of a type's samples, or like their first ones."""
OF_NO_TYPE, USUAL = 0.4, 0.4
"""The share of pages that go on with a document, of those of no type and of all."""
DOUBTFUL = 1.5
"""Margin under which it is in doubt whether a page begins a document."""


@dataclass(frozen=True)
class Classified:
    """A document of the pile."""

    pages: tuple[int, ...]
    """Numbers of its pages in the pile, from 0."""
    decision: Decision
    why: str
    """Why it begins where it does."""
    doubtful_pages: tuple[int, ...] = ()
    """Those of its pages, the first one too, of which it is in doubt whether they begin a document."""


def classify_stack(
    taught: Taught, pages: Sequence[PageReading], ties: Sequence[PageTies] = ()
) -> tuple[Classified, ...]:
    """Cut a pile into documents and say what each is; blank pages belong to none."""
    known = list(ties) or [ties_of(page) for page in pages]
    written = [at for at, page in enumerate(pages) if not page.blank and not known[at].sketch.empty]
    cut = cut_pages(taught, [known[at] for at in written])
    ends = [*cut.starts[1:], len(written)]
    return tuple(
        Classified(
            pages=tuple(written[start:end]),
            decision=decide(taught, joined(cut.bags[start:end]), [known[at].sketch for at in written[start:end]]),
            why=_why(known[written[start - 1]], known[written[start]]) if start else "the first page",
            doubtful_pages=tuple(written[at] for at in range(max(start, 1), end) if cut.sure[at] < DOUBTFUL),
        )
        for start, end in zip(cut.starts, ends, strict=True)
    )


@dataclass(frozen=True)
class Cut:
    starts: list[int]
    bags: list[Bag]
    sure: NDArray[np.float64]
    """For each page how sure it is that it begins a document, or does not."""


def cut_pages(taught: Taught, ties: Sequence[PageTies]) -> Cut:
    """Where documents begin among written pages."""
    bags = [bag_of_page(page.sketch) for page in ties]
    if not ties:
        return Cut([], [], np.zeros(0))
    places = [taught.place(bag) for bag in bags]
    scores = np.array([
        taught.scores(placed, [page.sketch]) for placed, page in zip(places, ties, strict=True)
    ], np.float32).reshape(len(ties), len(taught.keys))  # fmt: skip
    follows = np.array([[*taught.follows(placed), 0.0] for placed in places])
    odds, together = type_odds(scores), joins(ties, bags)
    goes_on = _share_going_on(taught)
    first = FIRST * odds + LENGTHS * (np.log(1 - goes_on) - np.log(1 - USUAL)) - ROLE * follows
    following = FOLLOWING * odds + LENGTHS * (np.log(goes_on) - np.log(USUAL)) + ROLE * follows
    cut = best_cut(first, following, together)
    return Cut(cut.starts, bags, cut.margins)


def _share_going_on(taught: Taught) -> NDArray[np.float64]:
    """By type the share of its pages that follow another one, and last of those of no type."""
    shares = []
    for one in taught.classifier.types:
        pages, samples = sum(len(sample.pages) for sample in one.samples), len(one.samples)
        shares.append((pages - samples + 0.5) / (pages + 1) if samples else OF_NO_TYPE)
    return np.asarray(np.clip(np.array([*shares, OF_NO_TYPE]), 0.05, 0.95), np.float64)


def _why(before: PageTies, page: PageTies) -> str:
    """Why a document begins at the page, in a few words."""
    if page.count == 1:
        return "it is numbered as a first page"
    if page.titles - before.titles:
        return f"its heading speaks of {in_words(sorted(page.titles - before.titles)[0])}"
    if page.numbers and before.numbers and not page.numbers & before.numbers:
        return "it has no number in common with the page before"
    return "it looks like a first page"
