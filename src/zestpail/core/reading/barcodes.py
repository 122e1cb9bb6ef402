"""Barcodes on a page, at any turn (ISO/IEC 15417, 16388, 18004, 16022 and others), found by zxing-cpp."""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np
import zxingcpp
from numpy.typing import NDArray
from zxingcpp import BarcodeFormat as Format
from zxingcpp import BarcodeFormats

from zestpail.core.reading.page import Barcode, Word

COARSE_ENOUGH = 400.0
"""Pages of a finer resolution are halved first: bars are some pixels wide all the same."""
LEAST_TEXT = 4
"""Interleaved 2 of 5 and Codabar have so little to check that short ones are found in any hatching."""

_LINEAR = (
    Format.Code128, Format.Code39, Format.Code93, Format.Codabar, Format.ITF, Format.EAN13, Format.EAN8, Format.UPCA,
)  # fmt: skip
_MATRIX = (Format.QRCode, Format.DataMatrix, Format.PDF417, Format.Aztec)
_EASY = (Format.Codabar, Format.ITF)


def barcodes_on(pixels: NDArray[np.uint8], dpi: float) -> tuple[Barcode, ...]:
    """All barcodes of a page, top to bottom, in points.

    Two passes, as only linear codes need to be looked for in both directions: half the time of one pass for all.
    """
    grey = pixels if pixels.ndim == 2 else pixels[:, :, 1]
    if dpi >= COARSE_ENOUGH:
        grey = np.asarray(cv2.resize(grey, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA), dtype=np.uint8)
        dpi /= 2
    found = [*_read(grey, dpi, _LINEAR, turned=True), *_read(grey, dpi, _MATRIX, turned=False)]
    return tuple(sorted(found, key=lambda code: (code.box.cy, code.box.cx)))


def without_bars(words: tuple[Word, ...], barcodes: tuple[Barcode, ...]) -> tuple[Word, ...]:
    """The words without those that OCR made of bars."""
    return tuple(word for word in words if not any(code.box.covers_centre_of(word.box) for code in barcodes))


def _read(grey: NDArray[np.uint8], dpi: float, forms: tuple[Format, ...], turned: bool) -> Iterator[Barcode]:
    seen = zxingcpp.read_barcodes(
        np.ascontiguousarray(grey),
        formats=BarcodeFormats(forms),
        try_rotate=turned,
        try_downscale=False,
        try_invert=False,
    )
    for code in seen:
        text = code.text.replace("\0", "")
        if not text.strip() or (code.format in _EASY and len(text) < LEAST_TEXT):
            continue
        place = code.position
        corners = (place.top_left, place.top_right, place.bottom_right, place.bottom_left)
        yield Barcode(
            symbology=code.format.name,
            text=text,
            corners=tuple((point.x * 72 / dpi, point.y * 72 / dpi) for point in corners),
        )
