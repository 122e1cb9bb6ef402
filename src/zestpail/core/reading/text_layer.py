"""The text layer of a PDF page: its words, and whether it can be trusted instead of OCR."""

from __future__ import annotations

import ctypes
import unicodedata

import cv2
import numpy as np
import pypdfium2 as pdfium
from numpy.typing import NDArray
from pypdfium2 import raw

from zestpail.core.reading.connected import connected
from zestpail.core.reading.geometry import Affine, Box, around
from zestpail.core.reading.page import Symbol, Word

LEAST_WORDS = 5
"""A layer of fewer words is not trusted."""
LEAST_LENGTH = 1.8
"""Words of one character each are what upright reading makes of lines that run up or down the page."""
LEAST_COVERED = 0.7
MOST_SCRAMBLED = 0.1
"""A layer is trusted if its words cover this share of the ink, and no more than this share of its characters is
odd."""


def words_of(page: pdfium.PdfPage) -> tuple[Word, ...]:
    """The words of the text layer, in points from the top-left corner of the page as it is shown."""
    text = page.get_textpage()
    shown = to_shown(page)
    words: list[Word] = []
    run: list[Symbol] = []
    for at in range(text.count_chars()):
        character = _character(text, at)
        box = _character_box(text, at, shown)
        if character.isspace() or box is None:
            _close(run, words)
            continue
        if not character:
            continue
        if run and _apart(run[-1].box, box):
            _close(run, words)
        character = unicodedata.normalize("NFKC", character) if character in "ﬀﬁﬂﬃﬄ" else character
        run.append(Symbol(text=character, box=box, confidence=1.0))
    _close(run, words)
    return tuple(words)


def _character(text: pdfium.PdfTextPage, at: int) -> str:
    """The character at a place: one of two halves (UTF-16) is put together at the first, and nothing at the second."""
    code = raw.FPDFText_GetUnicode(text, at) or 32
    if not 0xD800 <= code <= 0xDFFF:
        return chr(code)
    before = raw.FPDFText_GetUnicode(text, at - 1) if at else 0
    after = raw.FPDFText_GetUnicode(text, at + 1) if at + 1 < text.count_chars() else 0
    if code < 0xDC00 and 0xDC00 <= after <= 0xDFFF:
        return chr(0x10000 + ((code - 0xD800) << 10) + (after - 0xDC00))
    return "" if code >= 0xDC00 and 0xD800 <= before < 0xDC00 else "�"


def to_shown(page: pdfium.PdfPage) -> Affine:
    """From the PDF's own coordinates to points from the top-left, whatever its rotation and crop box."""
    width, height = page.get_size()
    fine = 64
    x, y = ctypes.c_int(), ctypes.c_int()

    def mapped(px: float, py: float) -> tuple[float, float]:
        raw.FPDF_PageToDevice(
            page, 0, 0, int(width * fine), int(height * fine), 0, px, py, ctypes.byref(x), ctypes.byref(y)
        )
        return x.value / fine, y.value / fine

    (ox, oy), (ax, ay), (bx, by) = mapped(0, 0), mapped(1000, 0), mapped(0, 1000)
    return Affine((ax - ox) / 1000, (bx - ox) / 1000, ox, (ay - oy) / 1000, (by - oy) / 1000, oy)


def _character_box(text: pdfium.PdfTextPage, at: int, shown: Affine) -> Box | None:
    left, bottom, right, top = text.get_charbox(at, loose=True)
    if right <= left or top <= bottom:
        return None
    return shown.box(Box(left, bottom, right, top))


def _apart(before: Box, after: Box) -> bool:
    """Whether a gap or a jump lies between two characters that no blank parts."""
    size = max(before.height, after.height)
    return after.x0 - before.x1 > 0.35 * size or after.x0 < before.x0 - size or before.side_by_side(after) < 0.3


def _close(run: list[Symbol], words: list[Word]) -> None:
    if run:
        text = "".join(s.text for s in run)
        words.append(Word(text=text, box=around(s.box for s in run), confidence=1.0, symbols=tuple(run)))
        run.clear()


def can_be_trusted(words: tuple[Word, ...], pixels: NDArray[np.uint8], dpi: float) -> bool:
    """Whether the layer is there, is not scrambled, and covers the ink of the page.

    A layer that leaves much ink uncovered belongs to a page whose substance is a picture (a scan with a stamped
    header, say); scrambled ones come from fonts without a proper mapping to Unicode.
    """
    text = "".join(w.text for w in words)
    if len(words) < LEAST_WORDS or len(text) < LEAST_LENGTH * len(words):
        return False
    odd = sum(1 for c in text if c == "�" or unicodedata.category(c) in ("Co", "Cn", "Cc"))
    letters = sum(1 for c in text if c.isalnum())
    if odd > MOST_SCRAMBLED * len(text) or letters < 0.5 * len(text):
        return False
    return _covered(words, pixels, dpi) >= LEAST_COVERED


def _covered(words: tuple[Word, ...], pixels: NDArray[np.uint8], dpi: float) -> float:
    """The share of text-like ink that lies under words: lines, frames and pictures are no text."""
    grey = pixels if pixels.ndim == 2 else pixels[:, :, 1]
    small = cv2.resize(grey, None, fx=100 / dpi, fy=100 / dpi, interpolation=cv2.INTER_AREA)
    ink = (small < 160).astype(np.uint8)
    pieces = connected(ink).places[1:].tolist()
    scale = 100 / 72
    under = np.zeros_like(ink)
    for word in words:
        box = word.box.grown(1)
        under[
            max(int(box.y0 * scale), 0) : int(box.y1 * scale) + 1,
            max(int(box.x0 * scale), 0) : int(box.x1 * scale) + 1,
        ] = 1
    seen = total = 0
    for left, top, width, height, area in pieces:
        if 2 <= height <= 34 and width <= 300 and area >= 4:
            total += 1
            seen += int(under[top + height // 2, left + width // 2])
    return seen / total if total else 1.0
