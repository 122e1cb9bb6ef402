"""How high the small letters of a page are, and the scale at which the first reader needs no more of them.

Tesseract scales every line to the same few pixels before its network sees it; what a finer image costs is layout and
line work on pixels that are thrown away (figures in docs/reading.md).
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.connected import connected

WANTED = 12.0
"""Pixels that the small letters of the page's smaller print are high where it is read."""
LEAST_GAIN = 0.7
"""Scales above this save a twentieth of the time and lose a word now and then: such pages are read as they came."""
LEAST_LETTERS = 60
"""Fewer shapes than this on a page tell nothing of its print."""
LOW, HIGH = 5, 60
"""Shapes lower than this (pixels) are specks and points, higher ones are titles, boxes and pictures."""
SMALLER_PRINT = 0.2
"""The share of shapes that may be lower than what counts as the height of small letters."""


def reading_scale(grey: NDArray[np.uint8]) -> float:
    """The factor, at most 1, by which a page image is made smaller before it is read."""
    height = letter_height(grey)
    if height is None or (scale := WANTED / height) > LEAST_GAIN:
        return 1.0
    return scale


def letter_height(grey: NDArray[np.uint8]) -> float | None:
    """Pixels that small letters (a, e, n, o) of the page's smaller print are high; None where there is little print.

    Shapes of ink that touch are counted by their height: letters without ascenders are the lowest of the many.
    """
    _, ink = cv2.threshold(grey, 0, 255, cv2.THRESH_BINARY_INV | cv2.THRESH_OTSU)
    shapes = connected(ink).places
    widths, heights, areas = (shapes[1:, at] for at in (cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT, cv2.CC_STAT_AREA))
    letters = (
        (heights >= LOW) & (heights <= HIGH) & (widths >= 0.25 * heights) & (widths <= 2.0 * heights)
        & (areas >= 0.15 * widths * heights)
    )  # fmt: skip
    found = heights[letters]
    return float(np.quantile(found, SMALLER_PRINT)) if len(found) >= LEAST_LETTERS else None
