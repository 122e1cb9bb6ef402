"""A text layer as it would have been read from a scan: characters taken for others, and less sure of itself."""

from __future__ import annotations

import random

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import PageReading, Word

CONFUSED = {
    "0": "O", "O": "0", "1": "l", "l": "1", "I": "l", "5": "S", "S": "5", "8": "B", "B": "8", "m": "rn", "e": "c",
    "c": "e", "u": "v", "n": "h", "i": "l", "é": "e",
    "ö": "o", "ü": "u", "ä": "a", "ř": "r", "š": "s", ".": ",", ",": ".",
}  # fmt: skip
"""What OCR takes for each other."""
HARDLY_EVER, OFTEN = 0.001, 0.02
"""How often a character is taken for another on a good scan, and on a poor one."""
JITTER = 0.6
"""Points by which boxes are off."""


def as_if_scanned(page: PageReading, lot: random.Random) -> PageReading:
    """The page read from a scan that is better or worse by lot."""
    share = lot.uniform(HARDLY_EVER, OFTEN)
    return page.model_copy(update={"words": tuple(_misread(word, share, lot) for word in page.words), "source": "ocr"})


def _misread(word: Word, share: float, lot: random.Random) -> Word:
    text = "".join(CONFUSED.get(c, c) if lot.random() < share else c for c in word.text)
    box = Box(*(side + lot.uniform(-JITTER, JITTER) for side in word.box))
    box = Box(box.x0, box.y0, max(box.x1, box.x0 + 1), max(box.y1, box.y0 + 1))
    sure = lot.uniform(0.55, 0.9) if text != word.text else lot.uniform(0.88, 0.97)
    return word.model_copy(update={"text": text, "box": box, "confidence": round(sure, 2), "symbols": ()})
