"""A page's print: what its picture looks like from afar, in 256 bits that a second scan hardly changes.

Signs of the low frequencies of the picture (discrete cosine transform): the perceptual hash of C. Zauner,
“Implementation and Benchmarking of Perceptual Image Hash Functions” (2010), with more frequencies, as pages differ in
less than photographs do. Pages of one layout have nearly the same print: it picks those that
:func:`zestpail.core.reading.same_page.same_page` looks at, and decides nothing.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.preparation.prepare import grey_of

BITS = 256
NEAR = 56
"""Bits in which two scans of one paper differ at most: 54 among 395 pairs of scans (``benchmarks.same_pages``)."""
_SIDE, _FREQUENCIES = 64, 16


def page_print(pixels: NDArray[np.uint8]) -> str:
    """The print of a prepared page as zeros and ones."""
    small = cv2.resize(grey_of(pixels), (_SIDE, _SIDE), interpolation=cv2.INTER_AREA).astype(np.float32)
    frequencies = cv2.dct(cv2.GaussianBlur(small, (0, 0), 1.0))[:_FREQUENCIES, :_FREQUENCIES].ravel()
    frequencies[0] = 0.0  # how bright the whole is
    return "".join("1" if above else "0" for above in frequencies > np.median(frequencies))


def apart(one: str, other: str) -> int:
    """In how many bits two prints differ."""
    return sum(a != b for a, b in zip(one, other, strict=True))
