"""Boxes to be ticked: small upright squares with a drawn edge, and how much of their inside is dark."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.features.ink import paper_of
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import FormEntry, Mark, Word

LEAST_SIDE, MOST_SIDE = 6.0, 22.0
"""Points."""
MOST_OBLONG = 1.35
"""Longer side by shorter side of a box to be ticked."""
EDGE_THERE = 0.72
"""The share of each side that must be inked for it to be drawn."""
SQUARE_THERE = 0.7
"""The same for squares of a size that the page's other boxes have."""
MOST_RUN_ON = 2
"""Sides of a box that may go on as a line; with more it is a cell of a table."""
LEAST_ALONE = 8.0
"""Points; smaller boxes, such as a letter may look like, say nothing about the size of others."""
LEGIBLE = 0.6
"""Words read less surely may be a box that was taken for letters."""
RIM = 0.2
"""The share of a box's side that its drawn edge takes up."""
SURROUND, MOST_SURROUNDED = 4.0, 0.6
"""A box with so many points around it holds less ink than this; what holds more is a punch hole or a picture."""
SEEN_AT = 100.0
"""Pixels per inch at which boxes are looked for."""


def marks_on(pixels: NDArray[np.uint8], dpi: float, words: Iterable[Word]) -> tuple[Mark, ...]:
    """The boxes of a straightened page in points, top to bottom; letters of ``words`` are none.

    Runs of ink that are long for a letter, level and upright, are kept by morphological opening (Gonzalez & Woods,
    9.3) on a small copy; a box is what four of them enclose.
    """
    grey = pixels if pixels.ndim == 2 else pixels[:, :, 1]
    shrink = max(dpi / SEEN_AT, 1.0)
    small = np.asarray(cv2.resize(grey, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA), np.uint8)
    scale = dpi / shrink / 72
    paper, share = paper_of(small, dpi / shrink)
    across, down = _straight_runs((small < share * paper).astype(np.uint8), scale)
    letters = [w.box for w in words if w.confidence > LEGIBLE and sum(c.isalnum() for c in w.text) > 1]
    found: list[Box] = []
    enclosed = _enclosed(across, down, scale)
    usual = sorted({round(scale * (box.width + box.height) / 2) for box in enclosed if box.width > LEAST_ALONE})
    for box in (*_squares(across, down, usual, scale), *enclosed):
        near = box.grown(0.5)
        others = any(other.covers_centre_of(box) or near.covers_centre_of(other) for other in found)
        if not others and not any(letter.covers_centre_of(box) for letter in letters):
            found.append(box)
    marks = []
    for box in found:
        dark = share * float(paper[round(box.cy * scale), round(box.cx * scale)])
        if _inside(grey, dark, box.grown(SURROUND), dpi / 72, 0.0) < MOST_SURROUNDED:
            marks.append(Mark(box=box, ink=_inside(grey, dark, box, dpi / 72, RIM)))
    return tuple(sorted(marks, key=lambda mark: (round(mark.box.cy), mark.box.cx)))


def with_told(marks: tuple[Mark, ...], form: Iterable[FormEntry]) -> tuple[Mark, ...]:
    """The marks with those of a PDF's form, which says itself whether they are ticked."""
    told = [Mark(box=entry.box, ink=0.0, told=entry.ticked) for entry in form if entry.ticked is not None]
    printed = [mark for mark in marks if not any(one.box.grown(2).covers_centre_of(mark.box) for one in told)]
    return tuple(sorted([*printed, *told], key=lambda mark: (round(mark.box.cy), mark.box.cx)))


def _enclosed(across: NDArray[np.uint8], down: NDArray[np.uint8], scale: float) -> list[Box]:
    """What four drawn sides enclose, in points."""
    frames = np.asarray(
        cv2.morphologyEx(np.maximum(across, down), cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8)), dtype=np.uint8
    )
    outlines, _ = cv2.findContours(frames, cv2.RETR_LIST, cv2.CHAIN_APPROX_SIMPLE)
    found = []
    for x, y, wide, high in map(cv2.boundingRect, outlines):
        if _box_like(wide / scale, high / scale) and _drawn(frames, x, y, wide, high):
            found.append(Box(x / scale, y / scale, (x + wide) / scale, (y + high) / scale))
    return found


def _squares(across: NDArray[np.uint8], down: NDArray[np.uint8], sides: list[int], scale: float) -> Iterator[Box]:
    """Places where squares of those sides (pixels) are drawn, although a tick runs through them: points, best first.

    The share of each side that is drawn is a mean over the runs of ink; the weakest side is what counts.
    """
    if not sides:
        return
    level, upright = (np.asarray(cv2.dilate(runs, np.ones(shape, np.uint8)), np.uint8)
                      for runs, shape in ((across, (3, 1)), (down, (1, 3))))  # fmt: skip
    both = cv2.dilate(np.minimum(level, upright), np.ones((3, 3), np.uint8)) > 0
    places: list[tuple[float, int, int, int]] = []

    def cornered(side: int) -> NDArray[np.bool_]:
        """Where level and upright runs meet in all four corners, as no letter's do."""
        high, wide = both.shape[0] - side + 1, both.shape[1] - side + 1
        below, beside = both[side - 1 :][:high], both[:high, side - 1 :][:, :wide]
        return both[:high, :wide] & below[:, :wide] & beside & both[side - 1 :, side - 1 :][:high, :wide]

    for side in sides:
        corners = cornered(side)
        if not corners.any():
            continue
        at_y, at_x = np.nonzero(corners)
        end_y, end_x, along = at_y + side - 1, at_x + side - 1, np.arange(side)[:, None]
        weakest = np.min([
            level[at_y, at_x + along].mean(axis=0), level[end_y, at_x + along].mean(axis=0),
            upright[at_y + along, at_x].mean(axis=0), upright[at_y + along, end_x].mean(axis=0),
        ], axis=0)  # fmt: skip
        there = (weakest >= SQUARE_THERE) & (_runs_on(level, upright, at_x, at_y, side) <= MOST_RUN_ON)
        places += [(*place, side) for place in zip(*(v[there].tolist() for v in (weakest, at_x, at_y)), strict=True)]
    for _, x, y, side in sorted(places, reverse=True):
        yield Box(x / scale, y / scale, (x + side) / scale, (y + side) / scale)


def _runs_on(
    level: NDArray[np.uint8], upright: NDArray[np.uint8], x: NDArray[np.intp], y: NDArray[np.intp], side: int
) -> NDArray[np.intp]:
    """How many of the eight ends of each square's sides go on beyond its corners, as the strokes of letters do."""
    near, far = -3, side + 2
    beyond = [(level, at, row) for at in (near, far) for row in (0, side - 1)]
    beyond += [(upright, column, at) for at in (near, far) for column in (0, side - 1)]
    height, width = level.shape
    ends = np.zeros(len(x), np.intp)
    for runs, dx, dy in beyond:
        column, row = x + dx, y + dy
        on_page = (row >= 0) & (row < height) & (column >= 0) & (column < width)
        ends += on_page & (runs[row.clip(0, height - 1), column.clip(0, width - 1)] > 0)
    return ends


def _straight_runs(ink: NDArray[np.uint8], scale: float) -> tuple[NDArray[np.uint8], NDArray[np.uint8]]:
    """The level and the upright runs of ink that are long for a letter."""
    run = max(int(0.8 * LEAST_SIDE * scale), 4)
    across = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((1, run), np.uint8))
    down = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((run, 1), np.uint8))
    return np.asarray(across, dtype=np.uint8), np.asarray(down, dtype=np.uint8)


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


def _inside(grey: NDArray[np.uint8], dark: float, box: Box, scale: float, rim: float) -> float:
    """The share of ink within the box, but for a rim that is a share of its side."""
    x0, y0, x1, y1 = (max(round(side * scale), 0) for side in box.grown(-rim * min(box.width, box.height)))
    area = grey[y0:y1, x0:x1]
    return round(float((area < dark).mean()), 3) if area.size else 0.0
