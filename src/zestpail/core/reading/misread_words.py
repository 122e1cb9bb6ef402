"""Which words may be one another misread: by what stays of a word when one of its letters is left out.

Two words that differ by one letter (another one, one more, one less, two that changed places) have something in
common among what stays of each; so a misread word is looked up among millions as a few exact ones are (Bocek, Hunt
and Stiller, *Fast Similarity Search in Large Dictionaries*, 2007). Letters that a reader takes for each other are one
letter before that: ``rn`` and ``m``, ``0`` and ``o``.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from zlib import crc32

from rapidfuzz.distance import OSA

LEAST_LETTERS = 4
"""Letters of a word from which on it may be another one misread."""
LONGEST_STUBBED = 24
"""Letters of a word up to which each is left out in turn."""
_TOGETHER = re.compile("rn|vv|cl")
_ALIKE = str.maketrans("015829ij", "olsbzgll")
_JOINED = {"rn": "m", "vv": "w", "cl": "d"}
_HALF, _SIGN = 1 << 31, 1 << 32


def shape(word: str) -> str:
    """The word with letters that look the same written the same; ``word`` is plain."""
    return _TOGETHER.sub(lambda two: _JOINED[two[0]], word.translate(_ALIKE))


def stubs(word: str) -> list[int]:
    """What stays of the word's shape with one letter left out, and all of it, as numbers of 32 bits with a sign.

    Of a word with figures in it nothing is left out: another number is another number. Empty for a short word.
    """
    if len(word) < LEAST_LETTERS:
        return []
    whole = shape(word)
    found = {whole}
    if word.isalpha() and len(word) <= LONGEST_STUBBED:
        found.update(whole[:at] + whole[at + 1 :] for at in range(len(whole)))
    return sorted({_number(one) for one in found})


def likest(word: str, others: Iterable[str], most: int) -> list[str]:
    """Those of the others that differ from the word by a letter or two, the likest first; never the word itself."""
    mine, apart = shape(word), 1 if len(word) < 2 * LEAST_LETTERS else 2
    told = []
    for other in {*others} - {word}:
        looks = OSA.distance(mine, shape(other), score_cutoff=apart)
        if looks <= apart:
            told.append((looks, OSA.distance(word, other), other))
    return [other for _, _, other in sorted(told)[:most]]


def _number(text: str) -> int:
    number = crc32(text.encode())
    return number - _SIGN if number >= _HALF else number
