"""Words that must not be parted by a divider: the pieces of a number that is set with blanks, 1 970,48."""

from __future__ import annotations

import re
from collections.abc import Sequence

from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.page import Word

CLOSE = 0.55
"""A blank within a number is narrower than this share of its height."""
_HEAD, _TAIL = re.compile(r"[-–(]?\d{1,3}"), re.compile(r"\d{3}(?:[.,]\d{1,2})?\)?")


def tokens(words: Sequence[Word]) -> list[tuple[Word, ...]]:
    """The words of a line, left to right, those of one number together."""
    found: list[tuple[Word, ...]] = []
    for word in words:
        before = found[-1] if found else ()
        if before and _goes_on(before, word):
            found[-1] = (*before, word)
        else:
            found.append((word,))
    return found


def box_of(token: Sequence[Word]) -> Box:
    return around(word.box for word in token)


def _goes_on(before: Sequence[Word], word: Word) -> bool:
    last = before[-1]
    near = 0 <= word.box.x0 - last.box.x1 < CLOSE * min(word.box.height, last.box.height)
    header = _HEAD if len(before) == 1 else _TAIL
    return bool(near and header.fullmatch(last.text) and _TAIL.fullmatch(word.text))
