"""By what words a text is found again: without case, accents and separators, numbers however they were grouped.

A word of several parts is found as a whole and by each part: ``RE-40-0420`` as ``re400420``, ``re``, ``40`` and
``0420``; ``12 125,82`` as ``1212582``, as ``12.125,82`` is.
"""

from __future__ import annotations

import re
import unicodedata
from collections import defaultdict
from collections.abc import Iterable, Iterator
from functools import lru_cache

LONGEST = 40
"""Characters of a word that is kept."""
LAST_PLACE, MOST_PLACES, MOST_BYTES = 16_383, 255, 900_000
"""What a text search vector of PostgreSQL holds; of a longer text the words that come later are left out."""
_PARTS = re.compile(r"[^\W_]+")
_THOUSANDS, _HUNDREDS = re.compile(r"\d{1,3}"), re.compile(r"\d{3}(?:[.,]\d{1,3})?")


def plain(text: str) -> str:
    """The text without case and accents; ``ß`` is ``ss``."""
    return "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))


@lru_cache(maxsize=50_000)
def parts_of(word: str) -> tuple[str, ...]:
    """The letters and figures of a word between its separators."""
    return tuple(part[:LONGEST] for part in _PARTS.findall(plain(word)))


@lru_cache(maxsize=50_000)
def found_by(word: str) -> frozenset[str]:
    """The whole and the parts by which one word is found."""
    parts = parts_of(word)
    return frozenset((*parts, "".join(parts)))


def placed(text: str) -> Iterator[tuple[str, int]]:
    """Each word by which the text is found, with its place from 1; words that stand in one place are one word."""
    place, words = 1, text.split()
    for at, word in enumerate(words):
        parts = parts_of(word)
        whole = "".join(parts)
        if len(parts) > 1 and len(whole) <= LONGEST:
            yield whole, place
        for offset, part in enumerate(parts):
            yield part, place + offset
        if _THOUSANDS.fullmatch(word) and (rest := _hundreds(words, at + 1)):
            yield (word + rest)[:LONGEST], place
        place += len(parts)


def _hundreds(words: list[str], at: int) -> str:
    """The figures that go on a number whose groups are set apart by blanks."""
    found = ""
    while at < len(words) and _HUNDREDS.fullmatch(words[at]):
        found += "".join(parts_of(words[at]))
        if not words[at].isdigit():
            break
        at += 1
    return found


def vector(texts: Iterable[str]) -> str:
    """The texts, one after the other, as the literal of a text search vector."""
    places: dict[str, list[int]] = defaultdict(list)
    begin = size = 0
    for text in texts:
        last = 0
        for word, place in placed(text):
            last = max(last, place)
            if size > MOST_BYTES or len(places.get(word, ())) >= MOST_PLACES:
                continue
            size += 2 if word in places else len(word.encode()) + 12
            places[word].append(min(begin + place, LAST_PLACE))
        begin += last + 1
    return " ".join(f"'{word}':{','.join(map(str, sorted(set(at))))}" for word, at in places.items())
