"""Fields to be filled in a character a box: rows of small boxes side by side, read without their drawn edges."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from itertools import pairwise

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.page import Mark, Word

LEAST_CELLS, LEAST_SEEN = 4, 2
"""Boxes side by side that are no questions to be ticked, and how many of them must have been seen as boxes."""
SEARCHED = 2.2
"""Points to either side of where an edge should be at most: never as far as the edge before it."""
FAINTEST, DRAWN = 24, 0.8
"""How much darker than the paper an edge is (0 to 255), and the share of its height along which it must be."""
TOUCHING = 1.8
"""Points between the edges of two boxes of a row."""
ALIKE = 0.2
"""The share by which the boxes of a row differ in size."""
EDGE = 0.11
"""The share of a box's side that its drawn edge takes at most."""
INKED = 0.012
"""The share of ink from which something is written in a box."""
TALL = 48
"""Pixels of a character as it is shown to the reader."""
LEAST_SURE = 0.55
"""Below this the reading of a row is a guess."""

ReadsStrip = Callable[[NDArray[np.uint8]], tuple[str, float]]
"""Reads one line of characters; how sure it is, in [0, 1]."""


def apart_from_combs(
    marks: Sequence[Mark], pixels: NDArray[np.uint8], dpi: float
) -> tuple[tuple[Mark, ...], list[tuple[Box, ...]]]:
    """The boxes to be ticked, and the rows of boxes to be written in, each with its cells from left to right.

    A row needs not have been seen whole: where the edge between two cells is drawn they are cells.
    """
    grey = pixels if pixels.ndim == 2 else cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY)
    combs: list[tuple[Box, ...]] = []
    left = sorted(marks, key=lambda mark: mark.box.x0)
    while left:
        first = left.pop(0)
        row = [first.box, *(mark.box for mark in left if _of_row(first.box, mark.box))]
        cells = _cells(row, np.asarray(grey, np.uint8), dpi) if len(row) >= LEAST_SEEN else ()
        if len(cells) >= LEAST_CELLS:
            combs.append(cells)
            left = [mark for mark in left if not any(cell.covers_centre_of(mark.box) for cell in cells)]
    inside = [around(cells) for cells in combs]
    return tuple(mark for mark in marks if not any(box.covers_centre_of(mark.box) for box in inside)), combs


def _of_row(one: Box, other: Box) -> bool:
    """Whether two boxes are of one size and level."""
    level = abs(one.cy - other.cy) < ALIKE * one.height and abs(one.height - other.height) < ALIKE * one.height
    return level and abs(one.width - other.width) < ALIKE * one.width


def _cells(row: Sequence[Box], grey: NDArray[np.uint8], dpi: float) -> tuple[Box, ...]:
    """The cells of a row of which some were seen; none where these do not stand side by side."""
    steps = [other.x0 - one.x0 for one, other in pairwise(row)]
    beside = [step for step in steps if _touch(row[0], step)]
    if not beside:
        return ()
    pitch = sum(beside) / len(beside)
    y0, y1 = (sorted(side)[len(row) // 2] for side in zip(*((box.y0, box.y1) for box in row), strict=True))
    anchor = next(one.x0 for one, step in zip(row, steps, strict=False) if _touch(row[0], step))
    edges, reach = [anchor], min(SEARCHED, pitch / 3)
    while (x := _edge(grey, dpi, edges[-1] + pitch, y0, y1, reach)) is not None:
        edges.append(x)
    while (x := _edge(grey, dpi, edges[0] - pitch, y0, y1, reach)) is not None:
        edges.insert(0, x)
    return tuple(Box(one, y0, other, y1) for one, other in pairwise(edges))


def _touch(box: Box, step: float) -> bool:
    """Whether a box of the same size that begins so far on stands beside this one; one on top of it does not."""
    return 0.5 * box.width < step < box.width + TOUCHING


def _edge(grey: NDArray[np.uint8], dpi: float, x: float, y0: float, y1: float, reach: float) -> float | None:
    """Where within ``reach`` of ``x`` an upright line is drawn from ``y0`` to ``y1`` (points); None where none is."""
    scale = dpi / 72
    pixels = max(round(reach * scale), 1)
    at, top, bottom = round(x * scale), round((y0 + 1) * scale), round((y1 - 1) * scale)
    clip = grey[max(top, 0) : max(bottom, 0), max(at - pixels, 0) : max(at + pixels + 1, 0)]
    if clip.shape[1] < 2 * pixels + 1 or clip.shape[0] < 4:
        return None
    paper = float(np.percentile(clip, 85))
    dark = clip.astype(np.float32) < paper - FAINTEST
    wide = dark[:, :-1] | dark[:, 1:]
    share = wide.mean(axis=0)
    best = int(np.argmax(share))
    return (at - pixels + best + 0.5) / scale if share[best] >= DRAWN else None


def with_combs(
    words: Sequence[Word],
    combs: Sequence[Sequence[Box]],
    pixels: NDArray[np.uint8] | None,
    dpi: float,
    reads: ReadsStrip,
) -> tuple[Word, ...]:
    """The words, what stands in rows of boxes put together anew; without ``pixels`` of the words that are there."""
    kept = list(words)
    for cells in combs:
        area = around(cells).grown(1)
        inside = [word for word in kept if area.covers_centre_of(word.box)]
        kept = [word for word in kept if not area.covers_centre_of(word.box)]
        kept += _spelt(cells, inside) if pixels is None else _read(cells, pixels, dpi, reads)
    return tuple(kept)


def _spelt(cells: Sequence[Box], words: Sequence[Word]) -> Iterator[Word]:
    """The characters of a text layer, cell by cell."""
    texts = ["".join(word.text for word in words if cell.covers_centre_of(word.box)) for cell in cells]
    if any(len(text) > 1 for text in texts):
        yield from words
        return
    sure = min((word.confidence for word in words), default=1.0)
    yield from _words(cells, texts, sure)


def _read(cells: Sequence[Box], pixels: NDArray[np.uint8], dpi: float, reads: ReadsStrip) -> Iterator[Word]:
    """What is written in the boxes: their insides are put side by side without the edges, and read as a line."""
    grey = pixels if pixels.ndim == 2 else cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY)
    insides = [_inside(np.asarray(grey, np.uint8), cell, dpi) for cell in cells]
    written = [float((_middle(inside) < 128).mean()) >= INKED for inside in insides]
    for first, last in _runs(written):
        text, sure = reads(_strip(insides[first:last]))
        letters = text.replace(" ", "")
        box = around(cells[first:last])
        if letters:
            agrees = len(letters) == last - first
            yield Word(text=letters, box=box, confidence=sure if agrees else min(sure, LEAST_SURE))


def _inside(grey: NDArray[np.uint8], cell: Box, dpi: float) -> NDArray[np.uint8]:
    """What is in a box, black on white, without its edge."""
    scale = dpi / 72
    edge = max(EDGE * cell.width, 1.2)
    x0, y0, x1, y1 = (round(side * scale) for side in (cell.x0 + edge, cell.y0 + edge, cell.x1 - edge, cell.y1 - edge))
    clip = grey[max(y0, 0) : max(y1, 0), max(x0, 0) : max(x1, 0)]
    if clip.size == 0:
        return np.full((TALL, TALL), 255, np.uint8)
    paper, ink = float(np.percentile(clip, 90)), float(clip.min())
    if paper - ink < 60:
        return np.full(clip.shape, 255, np.uint8)
    return np.asarray(np.clip((clip.astype(np.float32) - ink) * 255 / (paper - ink), 0, 255), np.uint8)


def _middle(inside: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """The middle of a box, where an edge that lies askew leaves nothing."""
    high, wide = (side // 7 for side in inside.shape)
    return inside[high : inside.shape[0] - high, wide : inside.shape[1] - wide]


def _strip(insides: Sequence[NDArray[np.uint8]]) -> NDArray[np.uint8]:
    """The characters side by side as on a printed line, each cut to its ink."""
    high = max(inside.shape[0] for inside in insides)
    parts = []
    for inside in insides:
        columns = np.flatnonzero((inside < 140).any(axis=0))
        cut = inside[:, columns[0] : columns[-1] + 1] if columns.size else inside
        padded = cv2.copyMakeBorder(cut, 0, high - cut.shape[0], 3, 3, cv2.BORDER_CONSTANT, value=(255,))
        parts.append(padded)
    line = np.hstack(parts)
    line = cv2.copyMakeBorder(line, 4, 4, 10, 10, cv2.BORDER_CONSTANT, value=(255,))
    factor = TALL / line.shape[0]
    return np.asarray(cv2.resize(line, None, fx=factor, fy=factor, interpolation=cv2.INTER_CUBIC), np.uint8)


def _words(cells: Sequence[Box], texts: Sequence[str], sure: float) -> Iterator[Word]:
    for first, last in _runs([bool(text) for text in texts]):
        yield Word(text="".join(texts[first:last]), box=around(cells[first:last]), confidence=sure)


def _runs(there: Sequence[bool]) -> Iterator[tuple[int, int]]:
    """From where to where something is there, without a gap."""
    first = None
    for at, one in enumerate([*there, False]):
        if one and first is None:
            first = at
        elif not one and first is not None:
            yield first, at
            first = None
