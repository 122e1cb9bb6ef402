"""Boxes to be ticked with the words beside them, and what the ink in and around them says."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from rapidfuzz.distance import Levenshtein

from zestpail.core.landmarks.labels import folded, skeleton
from zestpail.core.reading.features.ink import InkMap
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.page import PageReading, Word

Side = Literal["right", "left"]
EMPTY, INKED = 0.05, 0.16
"""The share of ink in a box at which it may be ticked, and at which it is."""
FILLED = 0.8
"""A box that is inked all over; beside a ticked one it was struck out."""
STRUCK_OUT, BY_WORDS, TORN = 0.6, 0.55, 0.4
"""How sure a choice is where another box is filled in, where only the words say it, where several are ticked."""
WIDE = 2.2
"""A gap, in heights of a box, after which words are not of that box."""
RING = 0.04
"""How much more ink than the others a word has both over and under it, to have a ring round it."""
THROUGH, BEYOND = 0.94, 4.0
"""The share of a word's length, and of so many points at either end, along which a line through it leaves no gap."""
ALIKE, SPELT = 0.6, 0.75
"""How alike the words of a box must be to an option, and those of a box that was not seen."""


@dataclass(frozen=True)
class TickBox:
    """One box and its words; ``ink`` is its share of ink in [0, 1]."""

    page: int
    box: Box
    ink: float
    words: tuple[Word, ...]
    told: bool | None = None
    """Whether it is ticked as a PDF's form says."""

    @cached_property
    def text(self) -> str:
        return " ".join(word.text for word in self.words)

    @cached_property
    def whole(self) -> Box:
        """The box and its words."""
        return around([self.box, *(word.box for word in self.words)])

    @property
    def inked(self) -> float:
        """How surely it is ticked, in [0, 1]."""
        if self.told is not None:
            return float(self.told)
        return min(max((self.ink - EMPTY) / (INKED - EMPTY), 0.0), 1.0)

    def says(self, wordings: Sequence[str]) -> float:
        """How alike its words are to one of the wordings, in [0, 1]; 0 below what can be told."""
        text = folded(self.text)
        begin = folded(self.words[0].text) if self.words else ""
        alike = max((max(_alike(text, w), 0.9 * _alike(begin, w)) for w in map(folded, wordings)), default=0.0)
        return alike if alike >= ALIKE else 0.0


def tick_boxes(reading: PageReading, page: int, side: Side) -> list[TickBox]:
    """The boxes of a page, each with the words at its right or left up to the next box or a wide gap."""
    squares = [mark.box for mark in reading.marks]
    words = [w for w in reading.words if not any(square.grown(1.5).covers_centre_of(w.box) for square in squares)]
    return [
        TickBox(page, mark.box, mark.ink, _in_order(_beside(mark.box, words, squares, side)), mark.told)
        for mark in reading.marks
    ]


def unseen(reading: PageReading, like: TickBox, wordings: Sequence[str]) -> Iterator[TickBox]:
    """Where an option's box should be, on the level of a seen one, as its words say: inked as by the map of ink."""
    if reading.ink is None or not like.words:
        return
    for word in reading.words:
        if word.box.side_by_side(like.whole) > 0.5 and any(
            _alike(folded(word.text), folded(o)) > SPELT for o in wordings
        ):
            shift = word.box.x0 - like.words[0].box.x0
            box = Box(like.box.x0 + shift, like.box.y0, like.box.x1 + shift, like.box.y1)
            if not any(mark.box.grown(2).covers_centre_of(box) for mark in reading.marks):
                yield TickBox(like.page, box, reading.ink.share(box.grown(-0.2 * box.width)), (word,))


def judged(boxes: Sequence[TickBox], reading: PageReading) -> list[tuple[float, str]]:
    """For each box of one question how surely it is the chosen one, in [0, 1], and why."""
    inked = [box.inked for box in boxes]
    marked = [at for at, much in enumerate(inked) if much > 0.5]
    if len(marked) > 1:
        left = [at for at in marked if boxes[at].ink < FILLED]
        if len(left) == 1:
            return _only(left[0], len(boxes), STRUCK_OUT, "ticked, where another box was filled in")
        return [(TORN * much, "one of several that are ticked") for much in inked]
    if len(marked) == 1:
        rival = max((much for at, much in enumerate(inked) if at != marked[0]), default=0.0)
        return _only(marked[0], len(boxes), inked[marked[0]] * (1 - rival), "its box is ticked")
    by_words = _ringed(boxes, reading) if len(boxes) > 1 else None
    return by_words or [(0.05 * much, "its box is empty") for much in inked]


def _ringed(boxes: Sequence[TickBox], reading: PageReading) -> list[tuple[float, str]] | None:
    """What the ink around and in the words says, where no box says anything."""
    if reading.ink is None or not all(box.words for box in boxes):
        return None
    places = [around(word.box for word in box.words) for box in boxes]
    over_and_under = [
        min(
            reading.ink.share(Box(p.x0, p.y0 - 6.5, p.x1, p.y0 - 1)),
            reading.ink.share(Box(p.x0, p.y1 + 1, p.x1, p.y1 + 6.5)),
        )
        for p in places
    ]
    best = int(np.argmax(over_and_under))
    if over_and_under[best] - max(v for at, v in enumerate(over_and_under) if at != best) > RING:
        return _only(best, len(boxes), BY_WORDS, "a ring is drawn round it")
    clear = [at for at, place in enumerate(places) if _through(reading.ink, place) < THROUGH]
    if len(clear) == 1:
        return _only(clear[0], len(boxes), BY_WORDS, "the others are struck through")
    return None


def _through(ink: InkMap, place: Box) -> float:
    """The share of the length of a word, and a little beyond it, along whose middle there is ink."""
    middle = ink.within(Box(place.x0 - BEYOND, place.cy - 3, place.x1 + BEYOND, place.cy + 3))
    return float((middle.max(axis=0) > 0.2).mean()) if middle.size else 0.0


def _only(chosen: int, count: int, sure: float, why: str) -> list[tuple[float, str]]:
    return [(sure, why) if at == chosen else (0.05, "its box is empty") for at in range(count)]


def _beside(box: Box, words: Sequence[Word], squares: Sequence[Box], side: Side) -> Iterator[Word]:
    level = [w for w in words if w.box.side_by_side(box) > 0.5 and any(c.isalnum() for c in w.text)]
    right = side == "right"
    at = box
    for word in sorted(level, key=lambda w: w.box.x0 if right else -w.box.x1):
        gap = word.box.x0 - at.x1 if right else at.x0 - word.box.x1
        beyond = word.box.x1 - at.x1 if right else at.x0 - word.box.x0
        if gap < -0.3 * box.width and beyond < 0.5 * box.width:  # what begins in the box may have swallowed it
            continue
        low, high = (at.x1, word.box.x0) if right else (word.box.x1, at.x0)
        between = any(low - 1 <= s.cx <= high + 1 and s.side_by_side(box) > 0.5 for s in squares if s != box)
        if gap > WIDE * box.height or between:
            return
        yield word
        at = word.box


def _in_order(words: Iterator[Word]) -> tuple[Word, ...]:
    return tuple(sorted(words, key=lambda word: word.box.x0))


def _alike(one: str, other: str) -> float:
    if not one or not other:
        return 0.0
    return max(
        Levenshtein.normalized_similarity(one, other),
        0.97 * Levenshtein.normalized_similarity(skeleton(one), skeleton(other)),
    )
