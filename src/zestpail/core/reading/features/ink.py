"""Where on a page there is ink: a coarse map that is kept with the reading, so that no picture is needed to ask."""

from __future__ import annotations

import base64
import zlib
from functools import cached_property

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.geometry import Box

CELL = 2.4
"""Points: 30 cells an inch."""
LEVELS = 16
"""Steps of a cell's share of ink that are told apart."""
PAPER_REACH = 22.0
"""Points within which there is paper."""


class InkMap(BaseModel):
    """The share of ink in each cell of a page, row by row."""

    model_config = ConfigDict(frozen=True)

    columns: int
    rows: int
    packed: str

    @cached_property
    def cells(self) -> NDArray[np.float32]:
        """Shares in [0, 1], one for each square of ``CELL`` points."""
        levels = np.frombuffer(zlib.decompress(base64.b85decode(self.packed)), np.uint8)
        return np.asarray(levels.reshape(self.rows, self.columns) / (LEVELS - 1), np.float32)

    def within(self, box: Box) -> NDArray[np.float32]:
        """The cells whose middles lie in a box (points)."""
        y0, y1 = round(max(box.y0, 0) / CELL), round(max(box.y1, 0) / CELL)
        x0, x1 = round(max(box.x0, 0) / CELL), round(max(box.x1, 0) / CELL)
        return self.cells[y0:y1, x0:x1]

    def share(self, box: Box) -> float:
        """The share of ink in a box (points), in [0, 1]."""
        area = self.within(box)
        return round(float(area.mean()), 3) if area.size else 0.0


def ink_of(pixels: NDArray[np.uint8], dpi: float) -> InkMap:
    """The ink of a prepared page."""
    grey = pixels if pixels.ndim == 2 else pixels[:, :, 1]
    shrink = max(dpi / 100, 1.0)
    small = np.asarray(cv2.resize(grey, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA), np.uint8)
    paper, share = paper_of(small, dpi / shrink)
    ink = (small < share * paper).astype(np.float32)
    columns, rows = (max(round(side * 72 / dpi / CELL), 1) for side in grey.shape[::-1])
    coarse = cv2.resize(ink, (columns, rows), interpolation=cv2.INTER_AREA)
    levels = np.round(coarse * (LEVELS - 1)).astype(np.uint8)
    packed = base64.b85encode(zlib.compress(levels.tobytes(), 6)).decode()
    return InkMap(columns=columns, rows=rows, packed=packed)


def paper_of(grey: NDArray[np.uint8], dpi: float) -> tuple[NDArray[np.uint8], float]:
    """The paper's grey at each pixel, and the share of it under which a pixel is ink: half-way to a faint print."""
    side = max(round(PAPER_REACH * dpi / 72), 3)
    closed = cv2.morphologyEx(grey, cv2.MORPH_CLOSE, np.ones((side, side), np.uint8))
    paper = np.maximum(np.asarray(cv2.blur(closed, (side, side)), np.uint8), 1)
    faintest = float(np.percentile(grey[::3, ::3] / paper[::3, ::3], 0.5))
    return paper, max(0.75, 1 - 0.5 * (1 - faintest))
