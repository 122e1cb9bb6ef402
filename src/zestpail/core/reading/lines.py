"""Lines of text as the eye sees them: across the whole page, whatever blocks the reader made of it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.page import PageReading, Word

WIDE_GAP = 1.3
"""Words further apart than this share of the line's height are told apart by a tab instead of a blank."""
_LEADERS = re.compile(r"(?:[._…·]{3,})?(.*?)(?:[._…·]{3,})?$")
LEAST_LEVEL = 0.55
"""The share of the lower height that a word must share with its line."""
ON_EACH_OTHER, LEAST_APART = 0.3, 0.25
"""Words that share this part of the narrower one's width stand on two lines, if so many heights apart."""
MOST_UNLIKE = 2.2
"""Words of more unlike heights than this do not share a line (a letterhead beside small print)."""


@dataclass(frozen=True, eq=False)  # a line is that line of that page: it is never compared word by word
class Line:
    """Words on one level, left to right. In ``text`` a tab stands for a wide gap, a blank for a narrow one."""

    page: int
    words: tuple[Word, ...]

    @cached_property
    def box(self) -> Box:
        return around(word.box for word in self.words)

    @cached_property
    def height(self) -> float:
        """The usual height of its words, in points."""
        heights = sorted(word.box.height for word in self.words)
        return heights[len(heights) // 2]

    @cached_property
    def text(self) -> str:
        parts = [self.words[0].text]
        for before, word in zip(self.words, self.words[1:], strict=False):
            wide = WIDE_GAP * max(self.height, min(before.box.height, word.box.height))
            parts.append("\t" if word.box.x0 - before.box.x1 > wide else " ")
            parts.append(word.text)
        return "".join(parts)

    @cached_property
    def starts(self) -> tuple[int, ...]:
        """Where in ``text`` each word begins."""
        starts, at = [], 0
        for word in self.words:
            starts.append(at)
            at += len(word.text) + 1
        return tuple(starts)

    def touched(self, start: int, end: int) -> list[tuple[Word, int, int]]:
        """The words that the characters ``start`` to ``end`` touch, each with its own part of them."""
        found = []
        for word, at in zip(self.words, self.starts, strict=True):
            first, last = max(start - at, 0), min(end - at, len(word.text))
            if first < last:
                found.append((word, first, last))
        return found

    def box_of(self, start: int, end: int) -> Box:
        """The box around the characters ``start`` to ``end`` (at least one of them in a word)."""
        return around(word.part(first, last) for word, first, last in self.touched(start, end))

    def confidence_of(self, start: int, end: int) -> float:
        """The confidence of the least sure word among the characters, in [0, 1]."""
        return min((word.confidence for word, _, _ in self.touched(start, end)), default=0.0)


def lines_of(reading: PageReading, page: int = 0) -> tuple[Line, ...]:
    """The lines of a page, top to bottom; ``page`` is its number in the document, from 0."""
    rows: list[list[Word]] = []
    middles: list[Box] = []
    words = [word for read in reading.words if (word := _without_leaders(read))]
    for word in sorted(words, key=lambda w: w.box.cy):
        recent = range(max(len(rows) - 12, 0), len(rows))
        fitting = [at for at in recent if middles[at].y1 > word.box.y0 and _level(middles[at], word)]
        if fitting:
            at = max(fitting, key=lambda at: middles[at].side_by_side(word.box))
            rows[at].append(word)
            middles[at] = _middle(rows[at])
        else:
            rows.append([word])
            middles.append(_middle([word]))
    lines = [Line(page, tuple(part)) for row in rows for part in _parted(sorted(row, key=lambda w: w.box.x0))]
    return tuple(sorted(lines, key=lambda line: line.box.cy))


def line_of_text(text: str) -> Line:
    """A line made of typed text, each character one point wide: for parsing what a person enters."""
    words, at = [], 0.0
    for part in text.split():
        words.append(Word(text=part, box=Box(at, 0, at + len(part), 2), confidence=1.0))
        at += len(part) + 1
    return Line(0, tuple(words))


def _without_leaders(word: Word) -> Word | None:
    """The word without the dots that lead from a label to its value; None if it is nothing else."""
    found = _LEADERS.match(word.text)
    if found is None or not found[1]:
        return None if found else word
    start, end = found.span(1)
    return word if found[1] == word.text else _cut(word, start, end)


def _cut(word: Word, start: int, end: int) -> Word:
    whole = sum(len(s.text) for s in word.symbols) == len(word.text) == len(word.symbols)
    symbols = word.symbols[start:end] if whole else ()
    return word.model_copy(update={"text": word.text[start:end], "box": word.part(start, end), "symbols": symbols})


def _level(middle: Box, word: Word) -> bool:
    """Whether the word stands on the level of a row's usual top and bottom, and is of about its size."""
    taller, lower = sorted((middle.height, word.box.height), reverse=True)
    like = taller <= MOST_UNLIKE * lower or not any(c.isalnum() for c in word.text)
    return like and middle.side_by_side(word.box) >= LEAST_LEVEL


def _parted(row: list[Word]) -> list[list[Word]]:
    """The row (left to right), or its parts where words of two lines came together beside taller print."""
    spelt = [word for word in row if any(c.isalnum() for c in word.text)]  # a speck or a dash tells no line
    over = any(
        min(one.box.x1, other.box.x1) - other.box.x0 > ON_EACH_OTHER * min(one.box.width, other.box.width)
        for one, other in pairwise(spelt)
    )
    levels = sorted(word.box.cy for word in spelt)
    gaps = [(below - above, (above + below) / 2) for above, below in pairwise(levels)]
    widest, at = max(gaps, default=(0.0, 0.0))
    if not over or widest < LEAST_APART * min(word.box.height for word in spelt):
        return [row]
    upper, lower = [w for w in row if w.box.cy < at], [w for w in row if w.box.cy >= at]
    return [*_parted(upper), *_parted(lower)]


def _middle(row: list[Word]) -> Box:
    """The row's usual top and bottom."""
    tops, bottoms = sorted(w.box.y0 for w in row), sorted(w.box.y1 for w in row)
    return Box(0, tops[len(row) // 2], 1, bottoms[len(row) // 2])
