"""Pieces of ink that hang together."""

from __future__ import annotations

from typing import Any, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray


class Connected(NamedTuple):
    """The pieces of a mask; number 0 is what is none."""

    named: NDArray[np.int32]
    """For each pixel the number of its piece."""
    places: NDArray[np.int32]
    """For each piece left, top, width, height and how many pixels it has."""
    centres: NDArray[np.float64]


def connected(mask: NDArray[Any]) -> Connected:
    """The pieces of it that touch, if only by corners.

    By blocks of two by two pixels (C. Grana, D. Borghesani, R. Cucchiara, 2010): of the ways that OpenCV has it is the
    quickest on one core, by a third on a page.
    """
    _, named, places, centres = cv2.connectedComponentsWithStatsWithAlgorithm(
        np.asarray(mask, np.uint8), 8, cv2.CV_32S, cv2.CCL_GRANA
    )
    return Connected(np.asarray(named, np.int32), np.asarray(places, np.int32), np.asarray(centres, np.float64))
