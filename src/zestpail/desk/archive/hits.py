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
    beginnings = {term.whole, f"{term.whole}00", term.parts[0], *meant}
    likely = [
        at for at, word in enumerate(words)
        if term.begins or term.inside or len(term.parts) > 1 or not beginnings.isdisjoint(found_by(word))
    ]  # fmt: skip
    if not likely:
        return None
    parts = [parts_of(word) for word in words]
    return next((at for at in likely if _length(parts, at, term, meant)), None)


def _length(parts: Sequence[Sequence[str]], at: int, term: Term, meant: set[str]) -> int:
    """How many words from there on are what the term means; 0 for none."""
    whole = "".join(parts[at])
    if not whole:
        return 0
    if whole in meant or meant.intersection(parts[at]) or _is(whole, term.whole, term) or _is_cents(whole, term):
        return 1
    if len(term.parts) == 1:
        return int(any(_is(part, term.whole, term) for part in parts[at]))
    ahead: list[str] = []
    for many, here in enumerate(parts[at : at + len(term.parts) + 1], start=1):
        ahead += here
        if len(ahead) >= len(term.parts):
            *first, last = term.parts
            same = ahead[: len(first)] == first and _is(ahead[len(first)], last, term)
            return many if same or "".join(ahead) == term.whole else 0
        if many > 1 and "".join(ahead) == term.whole:
            return many
    return 0


def _is(word: str, wanted: str, term: Term) -> bool:
    return wanted in word if term.inside else word.startswith(wanted) if term.begins else word == wanted


def _is_cents(word: str, term: Term) -> bool:
    return term.whole.isdigit() and len(term.whole) > 2 and word == f"{term.whole}00"


def around(words: Sequence[str], at: int) -> str:
    """The word at that place within its neighbours."""
    return " ".join(words[max(at - AROUND, 0) : at + AROUND + 1])
