"""Whether a page is blank: nothing but paper, whatever dust, punch holes, borders or show-through a scan adds to it.

The page is looked at at 100 dpi, where dust is smaller than print. What counts as written is dark against its own
surroundings (show-through is pale and soft), at least as tall or long as small print, and neither a round hole at the
rim nor joined to the picture's edge. One such shape is enough: rather keep a blank page than lose a word.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.connected import connected
from zestpail.core.reading.preparation.cleaning import hole_shaped
from zestpail.core.reading.preparation.prepare import grey_of

LOOKED_AT = 100.0
"""Dots per inch."""
LEAST_CONTRAST = 0.1
"""How much darker than its surroundings, in [0, 1], ink is at this resolution."""
GRAINS = 6.0
"""Or how many times as much as the page's grain."""
LEAST_SHAPE = 1.6
"""Millimetres that a written shape is tall or long at least; dust is smaller."""
LEAST_CORE, DARK = 0.2, 0.4
"""The darkest spot of a written shape is darker than this; one that is mostly darker than the other may be blurred."""
SHARP = 0.29
"""How steep most of the rim of a written shape is, a pixel, as a share of its darkest spot: print has 0.32 and more,
what shows through the paper, with dust on it, mostly 0.27 and less (measured with ``benchmarks.blank_pages``)."""
EDGE = 2.5
"""Millimetres at the edge of the picture in which nothing is looked for."""


def is_blank(pixels: NDArray[np.uint8], dpi: float) -> bool:
    """Whether nothing is written on the page."""
    return next(_written(pixels, dpi), None) is None


def _written(pixels: NDArray[np.uint8], dpi: float) -> Iterator[tuple[int, int, int, int]]:
    """The shapes that are taken for writing: left, top, width, height at 100 dpi."""
    grey = grey_of(pixels)
    factor = min(LOOKED_AT / dpi, 1.0)
    small = cv2.resize(grey, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    contrast = _contrast(small)
    grain = float(np.median(np.abs(contrast[::3, ::3]))) * 1.48
    ink = (contrast > max(LEAST_CONTRAST, GRAINS * grain)).astype(np.uint8)
    steep = np.hypot(*(cv2.Sobel(contrast, cv2.CV_32F, dx, 1 - dx, scale=1 / 8) for dx in (0, 1)))
    labels, stats, _ = connected(ink)
    mm = LOOKED_AT / 25.4 if factor < 1 else dpi / 25.4
    height, width = small.shape
    for number in range(1, len(stats)):
        x, y, wide, high = (int(v) for v in stats[number][:4])
        if max(wide, high) < LEAST_SHAPE * mm or _at_edge(x, y, wide, high, width, height, EDGE * mm):
            continue
        place = np.s_[y : y + high, x : x + wide]
        shape = labels[place] == number
        if hole_shaped(shape, x, y, width, height, mm):
            continue
        dark = contrast[place][shape]
        core, rim = float(dark.max()), float(np.percentile(steep[place][shape], 80))
        if core >= LEAST_CORE and (rim >= SHARP * core or float(np.percentile(dark, 40)) >= DARK):
            yield x, y, wide, high


def _contrast(grey: NDArray[Any]) -> NDArray[np.float32]:
    """How much darker each pixel is than the paper round it, in [-1, 1]; the paper is bright for some millimetres."""
    paper = cv2.GaussianBlur(cv2.dilate(cv2.medianBlur(grey, 3), np.ones((15, 15), np.uint8)), (0, 0), 5)
    flat = grey.astype(np.float32) / np.maximum(paper, 1).astype(np.float32)
    level = float(np.median(flat[::3, ::3]))
    return np.asarray(level - flat, dtype=np.float32)


def _at_edge(x: int, y: int, wide: int, high: int, width: int, height: int, edge: float) -> bool:
    """Whether the shape lies in the rim of the picture or reaches over it, as borders of the scanner's lid do."""
    inside_x, inside_y = min(x + wide, width - edge) - max(x, edge), min(y + high, height - edge) - max(y, edge)
    return x <= 1 or y <= 1 or x + wide >= width - 1 or y + high >= height - 1 or inside_x <= 1 or inside_y <= 1
