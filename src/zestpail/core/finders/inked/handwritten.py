"""Whether somebody wrote by hand in an area: ink there that is neither print nor a ruled line."""

from __future__ import annotations

from collections.abc import Iterable

import cv2
import numpy as np

from zestpail.core.reading.connected import connected
from zestpail.core.reading.features.ink import CELL
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import PageReading

PRINTED = 0.86
"""Words read more surely than this are print; what OCR makes of handwriting is less sure."""
LEAST_INK = 0.08
"""The share of ink from which a cell of the map counts."""
FAINT, PLAIN = 9.0, 26.0
"""How wide, in points, a stroke of the pen may be without being a signature, and how wide it is when it is one."""
LEAST_HIGH = 4.0
"""Points: lower ink is a line, a speck, or the tail of a letter."""


def handwritten(reading: PageReading, area: Box, print_: Iterable[Box] = ()) -> tuple[float, Box | None]:
    """How surely there is handwriting in the area (points), in [0, 1], and the box around it.

    What lies in ``print_`` is print. Pieces of ink are joined over a cell of paper (connected components); the
    widest one tells.
    """
    if reading.ink is None:
        return 0.0, None
    cells = (reading.ink.cells >= LEAST_INK).astype(np.uint8)
    words = [word.box for word in reading.words if word.confidence >= PRINTED and len(word.text) > 1]
    for known in (*words, *print_, *(rule.grown(1) for rule in reading.rules)):
        _blank(cells, known)
    x0, y0 = max(round(area.x0 / CELL), 0), max(round(area.y0 / CELL), 0)
    inside = cells[y0 : max(round(area.y1 / CELL), 0), x0 : max(round(area.x1 / CELL), 0)]
    if not inside.size:
        return 0.0, None
    joined = cv2.dilate(inside, np.ones((3, 3), np.uint8))
    pieces = [
        Box((x0 + x + 1) * CELL, (y0 + y + 1) * CELL, (x0 + x + wide - 1) * CELL, (y0 + y + high - 1) * CELL)
        for x, y, wide, high, _ in connected(joined).places[1:].tolist()
    ]
    strokes = [piece for piece in pieces if piece.height >= LEAST_HIGH]
    if not strokes:
        return 0.0, None
    widest = max(strokes, key=lambda piece: piece.width)
    return min(max((widest.width - FAINT) / (PLAIN - FAINT), 0.0), 1.0), widest


def _blank(cells: np.ndarray[tuple[int, int], np.dtype[np.uint8]], box: Box) -> None:
    x0, y0, x1, y1 = (max(side, 0) for side in (box.x0, box.y0, box.x1, box.y1))
    cells[int(y0 / CELL) : int(np.ceil(y1 / CELL)), int(x0 / CELL) : int(np.ceil(x1 / CELL))] = 0
