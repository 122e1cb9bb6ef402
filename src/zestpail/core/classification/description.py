"""How well a document fits one sentence about its type: by what both speak of, and by words with the same stem.

A small sentence model was tried and told less: 0.42 of documents of nine types against 0.82 (``docs/decisions.md``).
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from zestpail.core.classification.concepts import BEGINNINGS, OTHERS, concepts_in
from zestpail.core.classification.page_sketch import PageSketch, folded_words
from zestpail.core.classification.stop_words import STOP_WORDS

STEM = 5
"""Letters of a longer word that are compared."""
HEADED, SPOKEN, STEMS = 0.7, 0.3, 0.4
"""What it adds that headings speak of what the sentence does, that the text does, and that words are the same."""
NUMBERED = {"invoice_number": "invoice", "credit_note_number": "credit_note"}
"""Labels of numbers that say what a paper is."""
EMPTY = frozenset(
    {"letter", "document", "paper", "page", "which", "someone", "somebody", "person", "what", "that", "where", "who"}
)
"""Words of sentences about papers that tell nothing of them."""


def fits(description: str, pages: Sequence[PageSketch]) -> float:
    """How well, in about [0, 1]."""
    kinds, stems = _told(description)
    if not pages or not (kinds or stems):
        return 0.0
    headings = _headings(pages[0])
    spoken = {concept for page in pages for concept in _kinds(page.words)} & kinds
    there = {_stem(word) for page in pages for word in page.words}
    by_words = (len(stems & there) / len(stems)) ** 2 if stems else 0.0
    if not kinds:
        return (HEADED + SPOKEN + STEMS) * by_words
    headed = len(headings & kinds) / len(headings) if headings else 0.0
    return HEADED * headed + SPOKEN * len(spoken | (headings & kinds)) / len(kinds) + STEMS * by_words


def _headings(page: PageSketch) -> set[str]:
    """The kinds of paper that the headings in large print name, or else the first lines, or else the page."""
    named = (
        _kinds(words, out) & BEGINNINGS.keys()
        for words, out in ((page.large, True), (page.top, True), (page.words, False))
    )
    return next(filter(None, named), set())


def _kinds(words: Sequence[str], standing_out: bool = False) -> set[str]:
    """What words speak of; a number that papers of a kind alone have names the kind."""
    found = concepts_in(words, standing_out)
    return found | {kind for label, kind in NUMBERED.items() if label in found}


@lru_cache(maxsize=200)
def _told(description: str) -> tuple[frozenset[str], frozenset[str]]:
    """The kinds of paper that a sentence speaks of, and the stems of its telling words."""
    words = folded_words(description)
    kinds = frozenset(_kinds(words, True) & (BEGINNINGS.keys() | OTHERS.keys()))
    telling = (word for word in words if len(word) > 3 and word not in STOP_WORDS and word not in EMPTY)
    return kinds, frozenset(_stem(word) for word in telling)


@lru_cache(maxsize=50_000)
def _stem(word: str) -> str:
    return word if len(word) <= STEM else word[:STEM]
