"""Barcodes on a page, at any turn (ISO/IEC 15417, 16388, 18004, 16022 and others), found by zxing-cpp."""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np
import zxingcpp
from numpy.typing import NDArray
from zxingcpp import BarcodeFormat as Format
from zxingcpp import BarcodeFormats

from zestpail.core.reading.connected import connected
from zestpail.core.reading.page import Barcode, Word
from zestpail.core.reading.preparation.prepare import (
    LEAST_GRAIN,
    bitonal,
    evened,
    grain_of,
)

COARSE_ENOUGH = 400.0
"""Pages of a finer resolution are halved first: bars are some pixels wide all the same."""
LEAST_TEXT = 4
"""Interleaved 2 of 5 and Codabar have so little to check that short ones are found in any hatching."""
INKED = 190
"""A pixel of a drawn page that is darker (0 to 255) may be of a bar."""
CELL = 2.4
"""Points of the squares whose ink is looked at."""
DENSE_WITHIN, DENSE, LEAST_DENSE = (5, 4), 0.36, 3
"""Squares across and down, the share of ink in them from which it may be a code's, and over how many."""
AROUND, MOST_DENSE = 10, 0.4
"""Squares around it that are looked at too, and the share of a page from which all of it is."""
BLOCK = 8
"""Pixels of a block in which zxing tells dark from light: blocks of a piece are to be those of the page."""

_LINEAR = (
    Format.Code128, Format.Code39, Format.Code93, Format.Codabar, Format.ITF, Format.EAN13, Format.EAN8, Format.UPCA,
)  # fmt: skip
_MATRIX = (Format.QRCode, Format.DataMatrix, Format.PDF417, Format.Aztec)
KINDS = tuple(kind.name for kind in (*_LINEAR, *_MATRIX))
"""What barcodes are called by their kinds."""
_EASY = (Format.Codabar, Format.ITF)


def barcodes_on(pixels: NDArray[np.uint8], dpi: float, drawn: bool = False) -> tuple[Barcode, ...]:
    """All barcodes of a page, top to bottom, in points; where none is found on a poor page, of the page made better.

    A page that was ``drawn`` by a program has neither grain nor shading: only where its ink is dense is looked at.
    Two passes, which take half the time of one for all kinds.
    """
    grey = pixels if pixels.ndim == 2 else pixels[:, :, 1]
    if dpi >= COARSE_ENOUGH:
        grey = np.asarray(cv2.resize(grey, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA), dtype=np.uint8)
        dpi /= 2
    if drawn and (dense := _dense_places(grey, dpi)) is not None:
        found = _apart([code for place in dense for code in _in_place(grey, dpi, place)])
    else:
        found = _all_of(grey, dpi)
    if not found and not drawn and (better := _better(grey)) is not None:
        found = _all_of(better, dpi)
    return tuple(sorted(found, key=lambda code: (code.box.cy, code.box.cx)))


def _all_of(grey: NDArray[np.uint8], dpi: float) -> list[Barcode]:
    """What is read, without pieces of a code that is read whole too."""
    return _apart([*_read(grey, dpi, _LINEAR), *_read(grey, dpi, _MATRIX)])


def _apart(found: list[Barcode]) -> list[Barcode]:
    return [code for code in found if not any(_piece(code, other) for other in found)]


def _dense_places(grey: NDArray[np.uint8], dpi: float) -> list[tuple[slice, slice]] | None:
    """Rows and columns of pixels round all dense ink: half of a code is ink, and a fifth of text; None for most of it.

    A share in a small window, so that neither a frame round a code nor text beside it hides it.
    """
    shrink = max(dpi / 100, 1.0)
    small = cv2.resize(grey, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA)
    size = tuple(max(round(side * 72 / dpi / CELL), 1) for side in grey.shape[::-1])
    ink = cv2.threshold(small, INKED, 255, cv2.THRESH_BINARY_INV)[1]
    share = cv2.blur(cv2.resize(ink, size, interpolation=cv2.INTER_AREA), DENSE_WITHIN)
    reach = 2 * AROUND + 1
    near = cv2.dilate(_large(share >= 255 * DENSE), np.ones((reach, reach), np.uint8))
    if float(near.mean()) > MOST_DENSE:
        return None
    places = connected(near).places[1:].tolist()
    cell = CELL * dpi / 72
    corners = [[int(edge * cell) for edge in (x, y, x + wide + 1, y + high + 1)]
               for x, y, wide, high, _ in places]  # fmt: skip
    return [(slice(y0 - y0 % BLOCK, y1), slice(x0 - x0 % BLOCK, x1)) for x0, y0, x1, y1 in corners]


def _large(mask: NDArray[np.bool_]) -> NDArray[np.uint8]:
    """What of it hangs together over so many cells one way, and half as many the other."""
    named, places, _ = connected(mask)
    sides = places[:, [cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT]]
    keeps = (sides.max(axis=1) >= LEAST_DENSE) & (sides.min(axis=1) >= LEAST_DENSE / 2)
    keeps[0] = False
    return np.asarray(keeps[named], np.uint8)


def _in_place(grey: NDArray[np.uint8], dpi: float, place: tuple[slice, slice]) -> Iterator[Barcode]:
    rows, columns = place
    across, down = columns.start * 72 / dpi, rows.start * 72 / dpi
    for code in _all_of(grey[place], dpi):
        yield code.model_copy(update={"corners": tuple((x + across, y + down) for x, y in code.corners)})


def _piece(code: Barcode, other: Barcode) -> bool:
    shorter = len(code.text) < len(other.text) and code.text in other.text
    return shorter and code.symbology == other.symbology and other.box.grown(12).covers_centre_of(code.box)


def _better(grey: NDArray[np.uint8]) -> NDArray[np.uint8] | None:
    """The page without grain and shading; None where it has neither, or is black and white."""
    if bitonal(grey):
        return None
    even = evened(grey)
    grainy = grain_of(grey) >= LEAST_GRAIN
    if even is None and not grainy:
        return None
    page = grey if even is None else even
    return np.asarray(cv2.medianBlur(page, 3), dtype=np.uint8) if grainy else page


def without_bars(words: tuple[Word, ...], barcodes: tuple[Barcode, ...]) -> tuple[Word, ...]:
    """The words without those that OCR made of bars."""
    return tuple(word for word in words if not any(code.box.covers_centre_of(word.box) for code in barcodes))


def _read(grey: NDArray[np.uint8], dpi: float, forms: tuple[Format, ...]) -> Iterator[Barcode]:
    seen = zxingcpp.read_barcodes(
        np.ascontiguousarray(grey),
        formats=BarcodeFormats(forms),
        try_rotate=True,
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
