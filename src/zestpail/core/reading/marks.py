"""Boxes to be ticked: small upright squares with a drawn edge, and how much of their inside is dark."""

from __future__ import annotations

from collections.abc import Iterable

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import Mark, Word

LEAST_SIDE, MOST_SIDE = 6.0, 22.0
"""Points."""
MOST_OBLONG = 1.35
EDGE_THERE = 0.72
"""The share of each side that must be inked for it to be drawn."""
SEEN_AT = 100.0
"""Pixels per inch at which boxes are looked for."""


def marks_on(pixels: NDArray[np.uint8], dpi: float, words: Iterable[Word]) -> tuple[Mark, ...]:
    """The boxes of a straightened page in points, top to bottom; letters of ``words`` are none.

    Runs of ink that are long for a letter, level and upright, are kept by morphological opening (Gonzalez & Woods,
    9.3) on a small copy; a box is what four of them enclose.
    """
    grey = pixels if pixels.ndim == 2 else pixels[:, :, 1]
    dark = 0.75 * float(np.median(grey[::5, ::5]))
    shrink = max(dpi / SEEN_AT, 1.0)
    small = np.asarray(cv2.resize(grey, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA), np.uint8)
    scale = dpi / shrink / 72
    frames = _straight_runs(_inked(small, dark), scale)
    outlines, _ = cv2.findContours(frames, cv2.RETR_LIST, cv2.CHAIN_APPROX_SIMPLE)
    letters = [word.box for word in words if sum(c.isalnum() for c in word.text) > 1]
    found: list[Mark] = []
    for outline in outlines:
        x, y, wide, high = cv2.boundingRect(outline)
        if not _box_like(wide / scale, high / scale) or not _drawn(frames, x, y, wide, high):
            continue
        box = Box(x / scale, y / scale, (x + wide) / scale, (y + high) / scale)
        if not any(other.covers_centre_of(box) for other in (*(m.box for m in found), *letters)):
            found.append(Mark(box=box, ink=_inside(grey, dark, box, dpi / 72)))
    return tuple(sorted(found, key=lambda mark: (round(mark.box.cy), mark.box.cx)))


def _inked(grey: NDArray[np.uint8], dark: float) -> NDArray[np.uint8]:
    return np.asarray(cv2.threshold(grey, dark, 1, cv2.THRESH_BINARY_INV)[1], dtype=np.uint8)


def _straight_runs(ink: NDArray[np.uint8], scale: float) -> NDArray[np.uint8]:
    run = max(int(0.8 * LEAST_SIDE * scale), 4)
    across = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((1, run), np.uint8))
    down = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((run, 1), np.uint8))
    return np.asarray(
        cv2.morphologyEx(np.maximum(across, down), cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8)), dtype=np.uint8
    )


def _box_like(wide: float, high: float) -> bool:
    sides = sorted((wide, high))
    return sides[0] >= LEAST_SIDE and sides[1] <= MOST_SIDE and sides[1] <= MOST_OBLONG * sides[0]


def _drawn(frames: NDArray[np.uint8], x: int, y: int, wide: int, high: int) -> bool:
    """Whether all four sides are drawn along the box's edge and meet in its corners, as no letter's do."""
    edge = max(min(wide, high) // 6, 2)
    area = frames[y : y + high, x : x + wide]
    top, bottom = area[:edge].max(axis=0), area[-edge:].max(axis=0)
    left, right = area[:, :edge].max(axis=1), area[:, -edge:].max(axis=1)
    corners = [area[rows, columns] for rows in (_first(edge), _last(edge)) for columns in (_first(edge), _last(edge))]
    return all(float(side.mean()) >= EDGE_THERE for side in (top, bottom, left, right)) and all(
        corner.any() for corner in corners
    )


def _first(count: int) -> slice:
    return slice(0, count)


def _last(count: int) -> slice:
    return slice(-count, None)


def _inside(grey: NDArray[np.uint8], dark: float, box: Box, scale: float) -> float:
    """The share of ink within the box's edge."""
    edge = 0.2 * min(box.width, box.height)
    x0, y0, x1, y1 = (round(side * scale) for side in box.grown(-edge))
    area = grey[y0:y1, x0:x1]
    return round(float((area < dark).mean()), 3) if area.size else 0.0
