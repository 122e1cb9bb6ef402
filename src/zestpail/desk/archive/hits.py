"""Where on a page the words of a search stand: which of its words are marked, and what stands round them."""

from __future__ import annotations

import unicodedata
from collections.abc import Mapping, Sequence

from zestpail.core.reading.search_words import found_by, parts_of
from zestpail.desk.archive.asked import Term

AROUND = 6
"""Words shown on either side of a hit."""


def hits(words: Sequence[str], terms: Sequence[Term], others: Mapping[str, Sequence[str]]) -> list[int]:
    """The places of the words that any of the terms means, from 0."""
    parts = [parts_of(word) for word in words]
    found: set[int] = set()
    for term in terms:
        meant = set(others.get(term.whole, ()))
        for at in range(len(words)):
            many = _length(parts, at, term, meant)
            found.update(range(at, at + many))
    return sorted(found)


def without_separators(text: str) -> str:
    """All letters and figures of a text in one: whatever a term means stands in it somewhere, or does not at all."""
    return "".join(filter(str.isalnum, unicodedata.normalize("NFKD", text.casefold())))  # nor marks of accents


def may_stand(joined: str, term: Term, others: Mapping[str, Sequence[str]]) -> bool:
    """Whether the term can mean anything in a text, of which this is :func:`without_separators`: told at once."""
    return term.whole in joined or any(word in joined for word in others.get(term.whole, ()))


def first_hit(words: Sequence[str], term: Term, others: Mapping[str, Sequence[str]]) -> int | None:
    """The place of the first word that the term means, from 0; None where none does."""
    meant = set(others.get(term.whole, ()))
    exactly = {term.whole, f"{term.whole}00", *meant}
    for at, word in enumerate(words):
        if _may_begin(found_by(word), term, exactly):
            ahead = [parts_of(one) for one in words[at : at + len(term.parts) + 1]]
            if _length(ahead, 0, term, meant):
                return at
    return None


def _may_begin(of_word: frozenset[str], term: Term, exactly: set[str]) -> bool:
    """Whether a word that is found by these can be the first of what the term means: told for most at once."""
    if not exactly.isdisjoint(of_word):
        return True
    if (term.inside or term.begins) and any(_is(one, term.whole, term) for one in of_word):
        return True
    return len(term.parts) > 1 and any(one and term.whole.startswith(one) for one in of_word)


def _length(parts: Sequence[Sequence[str]], at: int, term: Term, meant: set[str]) -> int:
    """How many words from there on are what the term means; 0 for none."""
    whole = "".join(parts[at])
    if not whole:
        return 0
    if whole in meant or meant.intersection(parts[at]) or _is(whole, term.whole, term) or _is_cents(whole, term):
        return 1
    if len(term.parts) == 1:
        return int(any(_is(part, term.whole, term) for part in parts[at]))
    within = range(len(parts[at]))  # "fouling paint" stands in the middle of anti-fouling paint
    return next((many for offset in within if (many := _words_from(parts, at, offset, term))), 0)


def _words_from(parts: Sequence[Sequence[str]], at: int, offset: int, term: Term) -> int:
    """How many words the parts of the term take, from that part of a word on; 0 where they do not stand there."""
    ahead: list[str] = []
    for many, here in enumerate(parts[at : at + len(term.parts) + 1], start=1):
        ahead += here[0 if ahead else offset :]
        if not offset and "".join(ahead) == term.whole:
            return many
        if len(ahead) >= len(term.parts):
            *first, last = term.parts
            same = ahead[: len(first)] == first and _is(ahead[len(first)], last, term)
            return many if same else 0
    return 0


def _is(word: str, wanted: str, term: Term) -> bool:
    return wanted in word if term.inside else word.startswith(wanted) if term.begins else word == wanted


def _is_cents(word: str, term: Term) -> bool:
    return term.whole.isdigit() and len(term.whole) > 2 and word == f"{term.whole}00"


def around(words: Sequence[str], at: int) -> str:
    """The word at that place within its neighbours."""
    return " ".join(words[max(at - AROUND, 0) : at + AROUND + 1])
