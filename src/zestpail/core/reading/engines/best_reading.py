"""The slow, best reading of a whole page: RapidOCR finds the lines as well as reading them.

Several seconds a page instead of about one, and right where ordinary reading gives up: print under stamps, letters like
handwriting, pages that many things happened to at once. A lane's choice.
"""

from __future__ import annotations

import threading
from itertools import pairwise
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.engines import rapid
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.memory import all_that_may_be_asked_for
from zestpail.core.reading.page import Word

ENGINE = "RapidOCR 3 whole page"
LEAST_SURE = 0.5
"""Lines that the recogniser is less sure of than this are stains and pictures."""
UNDERLINE = 0.12
"""The share of a column's height up to which its ink may be an underline rather than a letter."""
FAR = 0.15
"""What a pixel away from where a word roughly ends costs a gap, in pixels of its width."""

_lock = threading.Lock()


def read_words(pixels: NDArray[np.uint8]) -> tuple[Word, ...]:
    """The words on a page image, boxes in its pixels, drawn close round their ink."""
    colour = cv2.cvtColor(pixels, cv2.COLOR_GRAY2BGR) if pixels.ndim == 2 else cv2.cvtColor(pixels, cv2.COLOR_RGB2BGR)
    with _lock, all_that_may_be_asked_for():
        found = rapid.engine(finds_lines=True)(colour, use_cls=False, return_word_box=True)
    if found.txts is None:
        return ()
    grey = np.asarray(colour[:, :, 1], dtype=np.uint8)
    words: list[Word] = []
    for quad, sure, parts in zip(found.boxes, found.scores, found.word_results, strict=True):
        if sure >= LEAST_SURE and parts:
            words += _words(grey, _upright(quad), [part for part in parts if part[0].strip()])
    return tuple(words)


def _words(grey: NDArray[np.uint8], line: Box, parts: list[Any]) -> list[Word]:
    """The words of a line. The recogniser knows only roughly where one ends; the gaps in the ink know better."""
    ink, left, top = _ink(grey, line)
    edges = [0, *_gaps(ink, [_upright(part[2]).x1 - left for part in parts[:-1]]), ink.shape[1]]
    found = []
    for (text, sure, _), (start, end) in zip(parts, pairwise(edges), strict=True):
        rows, columns = (
            np.nonzero(ink[:, start:end].any(axis=1))[0],
            np.nonzero(ink[:, start:end].mean(axis=0) > UNDERLINE)[0],
        )
        if len(rows) < 2 or not len(columns):
            rows, columns = np.array([0, ink.shape[0] - 1]), np.array([0, end - start - 1])
        x0, x1 = left + start + int(columns[0]), left + start + int(columns[-1]) + 1
        box = Box(x0, top + int(rows[0]), x1, top + int(rows[-1]) + 1)
        found.append(Word(text=text, box=box, confidence=min(max(float(sure), 0.0), 1.0)))
    return found


def _ink(grey: NDArray[np.uint8], line: Box) -> tuple[NDArray[np.bool_], int, int]:
    """Where the line's box has ink, and the box's left and top in pixels."""
    left, top = max(int(line.x0), 0), max(int(line.y0), 0)
    clip = grey[top : int(line.y1) + 1, left : int(line.x1) + 1]
    dark, light = np.percentile(clip, [2, 90])
    return np.asarray(clip < (dark + light) / 2), left, top


def _gaps(ink: NDArray[np.bool_], ends: list[float]) -> list[int]:
    """Where to part the words: at gaps in the ink that are wide and near where words roughly end, in order.

    One gap for each end, the best of all such choices (dynamic programming over ends and gaps); the rough ends
    themselves where the line has too few gaps.
    """
    inked = np.nonzero(ink.mean(axis=0) > UNDERLINE)[0]
    widths = np.diff(inked)
    places = np.nonzero(widths > 1)[0]
    if len(places) < len(ends):
        return [min(max(round(end), 1), ink.shape[1] - 1) for end in ends]
    middles, wide = inked[places] + widths[places] / 2, widths[places]
    value = np.zeros(len(places) + 1)
    picked: list[NDArray[np.intp]] = []
    for end in ends:
        gained = np.concatenate([[-np.inf], value[:-1] + wide - FAR * np.abs(middles - end)])
        picked.append(
            np.maximum.accumulate(np.where(gained == np.maximum.accumulate(gained), np.arange(len(gained)), 0))
        )
        value = np.maximum.accumulate(gained)
    chosen, last = [], len(places)
    for best in reversed(picked):
        at = int(best[last])
        chosen.append(int(middles[at - 1]) + 1)
        last = at - 1
    return chosen[::-1]


def _upright(quad: Any) -> Box:
    xs, ys = zip(*quad, strict=True)
    return Box(float(min(xs)), float(min(ys)), float(max(xs)), float(max(ys)))
