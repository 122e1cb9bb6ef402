"""What kinds of paper are called in many languages: what carries over from samples in one language to others.

``concepts.json`` has, for each concept of the office, the words by which papers speak of it, without case and accents;
the labels of business papers (:mod:`zestpail.core.landmarks.wordings`) stand beside them.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import cache, lru_cache
from importlib import resources

from zestpail.core.classification.page_sketch import folded_words
from zestpail.core.landmarks.wordings import MEANINGS, words_for

BEGINNINGS: dict[str, str] = {
    "invoice": "an invoice", "credit_note": "a credit note", "purchase_order": "an order",
    "order_confirmation": "an order confirmation", "delivery_note": "a delivery note", "packing_list": "a packing list",
    "quotation": "a quotation", "receipt": "a receipt", "statement": "a statement of account", "reminder": "a reminder",
    "contract": "a contract", "minutes": "minutes", "curriculum_vitae": "a curriculum vitae", "article": "an article",
    "manual": "a manual", "letter": "a letter", "certificate": "a certificate", "form": "a form",
    "report": "a report", "timesheet": "a timesheet", "payslip": "a payslip", "exam": "an exam",
}  # fmt: skip
"""Kinds of paper by code, each as a person says it."""
OTHERS: dict[str, str] = {
    "slides": "slides", "order_line": "what is ordered", "goods_moved": "goods delivered",
    "amount_due": "what is to be paid",
    "bank": "a bank account", "inspection": "an inspection",
}  # fmt: skip
_UNTOLD = frozenset({"contact", "name", "address_part", "document_title", "document_number", "payment", "paid"})
"""Labels that every paper may have."""
WEAK = "~"
"""What phrases in the file begin with that have many meanings."""
PART = 6
"""Letters of a word that is told inside of a longer one, as Germanic languages join them."""


def in_words(concept: str) -> str:
    """The concept as a person says it."""
    return BEGINNINGS.get(concept) or OTHERS.get(concept) or MEANINGS.get(concept, concept)


def concepts_in(words: Sequence[str], standing_out: bool = False) -> set[str]:
    """The concepts that folded words in reading order speak of."""
    return {concept for _, concept in spoken(words, standing_out)}


def spoken(words: Sequence[str], standing_out: bool = False) -> list[tuple[str, str]]:
    """Every place where folded words speak of a concept: the words there, and the concept; longest first.

    Words that have many meanings ("minutes", "figure") speak only where they are ``standing_out``.
    """
    found: list[tuple[str, str]] = []
    known, longest, at, most = _known(standing_out), _longest(), 0, len(words)
    while at < most:
        word, step = words[at], 1
        lengths = longest.get(word)
        if lengths is None:
            if len(word) >= PART + 2:
                found += [(word, concept) for concept in _inside(word)]
        else:
            for length in range(min(lengths, most - at), 0, -1):
                concepts = known.get(tuple(words[at : at + length]))
                if concepts:
                    text = " ".join(words[at : at + length])
                    found += [(text, concept) for concept in concepts]
                    step = length
                    break
        at += step
    return found


@cache
def _known(standing_out: bool) -> dict[tuple[str, ...], tuple[str, ...]]:
    """By phrase, in folded words, the concepts that it speaks of; those of many meanings only if it stands out."""
    text = (resources.files("zestpail.core.classification") / "concepts.json").read_text("utf-8")
    found: dict[tuple[str, ...], set[str]] = {}
    for concept, phrases in json.loads(text).items():
        for phrase in phrases:
            if standing_out or not phrase.startswith(WEAK):
                found.setdefault(tuple(phrase.removeprefix(WEAK).split()), set()).add(concept)
    for meaning in MEANINGS:
        for phrase in () if meaning in _UNTOLD else words_for(meaning):
            told = folded_words(phrase)
            if 1 <= len(told) <= 4 and sum(map(len, told)) > 3:
                found.setdefault(told, set()).add(meaning)
    return {phrase: tuple(sorted(concepts)) for phrase, concepts in found.items()}


@cache
def _longest() -> dict[str, int]:
    """By first word the length of the longest phrase that begins with it."""
    longest: dict[str, int] = {}
    for phrase in _known(True):
        longest[phrase[0]] = max(longest.get(phrase[0], 1), len(phrase))
    return longest


@lru_cache(maxsize=20_000)
def _inside(word: str) -> tuple[str, ...]:
    """The kinds of paper that a long word begins or ends with: "Lizenzvertrag", "Rechnungskopie"."""
    known = _known(False)
    for length in range(len(word) - 2, PART - 1, -1):
        for part in (word[-length:], word[:length]):
            kinds = tuple(concept for concept in known.get((part,), ()) if concept in BEGINNINGS)
            if kinds:
                return kinds
    return ()
