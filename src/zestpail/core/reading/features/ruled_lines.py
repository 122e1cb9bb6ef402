"""Ruled lines on a page: long, thin, level runs of ink, joined where the scanner broke them."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.connected import connected
from zestpail.core.reading.geometry import Box, around

LEAST_LENGTH = 60.0
"""Points."""
MOST_THICK = 5.0
"""Points; thicker ones are bars and pictures."""
BREAK = 12.0
"""Points of paper within a line that the scanner broke."""
SCALE = 1.5
"""Pixels per point at which lines are looked for."""


def ruled_lines(pixels: NDArray[np.uint8], dpi: float) -> tuple[Box, ...]:
    """The level ruled lines of a straightened page, in points, top to bottom.

    Morphological opening with a long thin element on a small copy (Gonzalez & Woods, 9.3); a line a point thin survives
    the reduction because the darkest of the joined pixels counts.
    """
    grey = pixels if pixels.ndim == 2 else pixels[:, :, 1]
    factor = max(round(dpi / 72 / SCALE), 1)
    height, width = (side // factor * factor for side in grey.shape)
    if not height or not width:
        return ()
    darkest = cv2.erode(grey[:height, :width], np.ones((factor, factor), np.uint8), anchor=(0, 0))
    small = np.ascontiguousarray(darkest[::factor, ::factor])
    per_point = dpi / 72 / factor
    dark = 0.75 * float(np.median(small[::3, ::3]))
    ink = np.asarray(cv2.threshold(small, dark, 1, cv2.THRESH_BINARY_INV)[1], dtype=np.uint8)
    runs = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((1, int(0.5 * LEAST_LENGTH * per_point)), np.uint8))
    places = connected(runs).places[1:].tolist()
    pieces = [Box(*(v / per_point for v in (x, y, x + w, y + h))) for x, y, w, h, _ in places]
    thin = [piece for piece in pieces if piece.height <= MOST_THICK and piece.width > 4 * piece.height]
    return tuple(line for line in _joined(thin) if line.width >= LEAST_LENGTH)


def _joined(pieces: list[Box]) -> list[Box]:
    joined: list[Box] = []
    for piece in sorted(pieces, key=lambda box: (round(box.cy / 3), box.x0)):
        last = next((one for one in reversed(joined[-6:]) if _goes_on(one, piece)), None)
        if last:
            joined[joined.index(last)] = around([last, piece])
        else:
            joined.append(piece)
    return sorted(joined, key=lambda box: box.cy)


def _goes_on(line: Box, piece: Box) -> bool:
    return abs(line.cy - piece.cy) < 3 and -BREAK < piece.x0 - line.x1 < BREAK
