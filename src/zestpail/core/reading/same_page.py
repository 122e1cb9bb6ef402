"""Whether two pictures show the same paper, scanned twice.

Invoices of one sender look alike but for a few figures. So the second picture is laid over the first by the words that
both have (a similarity found by RANSAC), and each word with figures in it is held against what lies in its place: by
what was surely read, else by its picture and that of the letters that were read otherwise (normalised
cross-correlation). One that differs tells two papers; one that the other scan lost tells nothing.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from typing import Any, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.geometry import Box, scaling
from zestpail.core.reading.page import PageReading, Word
from zestpail.core.reading.preparation.prepare import grey_of
from zestpail.core.reading.read import ReadPage

WIDTH = 1275
"""Pixels in which both pages are compared: about 150 dots per inch of a letter."""
ALIKE = 0.75
"""How alike the pictures of a word are at least (correlation)."""
SEEN = 0.65
"""The share of words with figures that must be legible, and alike, in both."""
LEAST_WORDS = 6
SHIFT = 10
"""Pixels by which a word may lie beside its place: paper stretches."""
SCALE = (0.8, 1.25)

SURE = 0.95
"""How sure a reader is of words that are believed to differ, whatever their pictures look like."""
LETTER_ALIKE = 0.75
"""How alike single letters are that were read as others: one of two that are others is below."""

Matrix = NDArray[Any]
Picture = NDArray[np.uint8]


class Found(NamedTuple):
    """How alike something is at its best, and how many pixels beside its place that was."""

    likeness: float
    dx: int
    dy: int


def figures(words: Iterable[str]) -> Counter[str]:
    """The digits of each word that has two or more."""
    return Counter(digits for word in words if len(digits := _digits(word)) > 1)


def figures_in_common(one: Counter[str], other: Counter[str]) -> float:
    """The share of words with figures that both have, of the fewer, in [0, 1]."""
    return (one & other).total() / max(1, min(one.total(), other.total()))


def same_page(one: ReadPage, other: ReadPage) -> bool:
    """Whether both show the same paper; not where too little is legible to tell."""
    over = _laid_over(one.reading, other.reading)
    if over is None:
        return False
    first = _looked_at(one)
    second = np.asarray(
        cv2.warpAffine(
            _looked_at(other), over, first.shape[1::-1], flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
            borderValue=(255,),
        ),
        np.uint8,
    )  # fmt: skip
    scale, compared, alike = WIDTH / one.reading.width, 0, 0
    placed = list(_in_place(other.reading, cv2.invertAffineTransform(over)))
    for word in _with_figures(one.reading):
        box = scaling(scale).box(word.box)
        seen = _found(first, second, box, SHIFT)
        if seen is None:
            continue
        there = [far for x, y, far in placed if _within(box, x, y)]
        text = " ".join(far.text for far in there)
        compared += 1
        if _digits(word.text) in _digits(text):
            alike += 1
        elif len(_digits(text)) > 1 and min(word.confidence, *(far.confidence for far in there)) >= SURE:
            return False
        elif seen.likeness >= ALIKE and _letters_alike(first, second, word, text, scale, seen):
            alike += 1
        elif len(_digits(text)) > 1:
            return False
    return compared >= LEAST_WORDS and alike >= SEEN * compared


def _letters_alike(first: Picture, second: Picture, word: Word, there: str, scale: float, seen: Found) -> bool:
    """Whether the letters of a word that were read otherwise on the other page look alike all the same."""
    if len(there) != len(word.text):
        return True
    for at, (here, other) in enumerate(zip(word.text, there, strict=True)):
        if here == other or not (here.isdigit() or other.isdigit()):
            continue
        found = _found(first, second, scaling(scale).box(word.part(at, at + 1)), 1, seen)
        if found is not None and found.likeness < LETTER_ALIKE:
            return False
    return True


def _with_figures(reading: PageReading) -> Iterator[Word]:
    return (word for word in reading.words if len(_digits(word.text)) > 1)


def _digits(text: str) -> str:
    return re.sub(r"\D", "", text)


def _laid_over(one: PageReading, other: PageReading) -> Matrix | None:
    """What takes a point of the first to the second, both ``WIDTH`` pixels wide; None where no words say so."""
    here, there = _anchors(one), _anchors(other)
    both = [text for text in here if text in there]
    if len(both) < LEAST_WORDS:
        return None
    first, second = (np.array([places[text] for text in both], np.float32) for places in (here, there))
    matrix, held = cv2.estimateAffinePartial2D(first, second, ransacReprojThreshold=4)
    if matrix is None or int(held.sum()) < LEAST_WORDS:
        return None
    scale = float(np.hypot(matrix[0, 0], matrix[1, 0]))
    return matrix if SCALE[0] < scale < SCALE[1] else None


def _anchors(reading: PageReading) -> dict[str, tuple[float, float]]:
    """The middle of each word that stands there once."""
    times = Counter(word.text for word in reading.words)
    return {
        word.text: _middle(word.box, WIDTH / reading.width)
        for word in reading.words
        if times[word.text] == 1 and len(word.text) > 2
    }


def _middle(box: Box, scale: float) -> tuple[float, float]:
    return box.cx * scale, box.cy * scale


def _looked_at(page: ReadPage) -> Picture:
    """The page in grey, ``WIDTH`` wide, with its paper evenly white; how black its ink is does not matter."""
    height = round(page.reading.height / page.reading.width * WIDTH)
    grey = cv2.resize(grey_of(page.pixels), (WIDTH, height), interpolation=cv2.INTER_AREA)
    paper = cv2.morphologyEx(cv2.medianBlur(grey, 5), cv2.MORPH_DILATE, np.ones((15, 15), np.uint8))
    even = np.clip(grey.astype(np.float32) / np.maximum(paper, 1) * 255, 0, 255).astype(np.uint8)
    return np.asarray(cv2.GaussianBlur(even, (0, 0), 0.8), np.uint8)


def _in_place(reading: PageReading, back: Matrix) -> Iterator[tuple[float, float, Word]]:
    """The words of the second page with their middles on the first."""
    for word in reading.words:
        x, y = back @ np.array([*_middle(word.box, WIDTH / reading.width), 1.0])
        yield float(x), float(y), word


def _within(box: Box, x: float, y: float) -> bool:
    return box.x0 - 3 < x < box.x1 + 3 and box.y0 - 4 < y < box.y1 + 4


def _found(first: Picture, second: Picture, box: Box, shift: int, about: Found | None = None) -> Found | None:
    """Where on the other page the box's content is found best, so many pixels around its place; None at the edge."""
    x0, y0, x1, y1 = (round(edge) for edge in box)
    patch = first[max(y0, 0) : y1, max(x0, 0) : x1]
    dx, dy = (about.dx, about.dy) if about else (0, 0)
    left, top = x0 + dx - shift, y0 + dy - shift
    around = second[max(top, 0) : y1 + dy + shift, max(left, 0) : x1 + dx + shift]
    too_small = min(patch.shape) < 4 or around.shape[0] < patch.shape[0] or around.shape[1] < patch.shape[1]
    if too_small or float(patch.std()) < 4:
        return None
    _, best, _, (x, y) = cv2.minMaxLoc(cv2.matchTemplate(around, patch, cv2.TM_CCOEFF_NORMED))
    return Found(best, max(left, 0) + x - max(x0, 0), max(top, 0) + y - max(y0, 0))
