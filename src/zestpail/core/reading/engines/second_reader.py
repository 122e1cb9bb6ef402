"""A second, independent reader for values and doubtful figures: RapidOCR's recogniser on small clips.

Two readers that agree are the best evidence of rightness there is; where they differ, both readings are kept. The
recogniser reads one line of text at a time and needs no layout. Its own confidence says little, so only agreement
counts. Models come with the package; nothing is fetched.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.engines import rapid
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import Word

UNSURE_FIGURES = 0.85
"""Words with figures that the first reader is less sure of are read again while the page is read."""
MOST_WORDS = 40
"""A page with more unsure words than this is too poor for the second reader to mend word by word."""
TRUSTED = 0.8
"""A reading that the recogniser itself is less sure of than this mends nothing."""
MARGIN = 1.5
"""Points of paper around a clip."""

SecondLook = Callable[[int, Box], str | None]
"""What the second reader sees in a box of a page of the document; None where it cannot look."""

_lock = threading.Lock()


@dataclass(frozen=True)
class Seen:
    """What the recogniser read, and how sure it says it is, in [0, 1]."""

    text: str
    confidence: float


def look(pixels: NDArray[np.uint8], dpi: float, box: Box) -> Seen | None:
    """Read one line of text in ``box`` (points) of a prepared page image; None where there is nothing to read."""
    height, width = pixels.shape[:2]
    scale = dpi / 72
    area = box.grown(MARGIN)
    x0, y0 = max(int(area.x0 * scale), 0), max(int(area.y0 * scale), 0)
    x1, y1 = min(int(area.x1 * scale) + 1, width), min(int(area.y1 * scale) + 1, height)
    if x1 - x0 < 4 or y1 - y0 < 4:
        return None
    clip = pixels[y0:y1, x0:x1]
    colour = cv2.cvtColor(clip, cv2.COLOR_GRAY2BGR) if clip.ndim == 2 else cv2.cvtColor(clip, cv2.COLOR_RGB2BGR)
    with _lock:
        found = rapid.engine(finds_lines=False)(colour, use_det=False, use_cls=False, use_rec=True)
    if not found.txts or not found.txts[0].strip():
        return None
    return Seen(found.txts[0].strip(), float(found.scores[0]))


def read_strip(line: NDArray[np.uint8]) -> tuple[str, float]:
    """What one grey line of characters says, and how sure the recogniser says it is, in [0, 1]; "" for nothing."""
    with _lock:
        found = rapid.engine(finds_lines=False)(
            cv2.cvtColor(line, cv2.COLOR_GRAY2BGR), use_det=False, use_cls=False, use_rec=True
        )
    return (found.txts[0].strip(), float(found.scores[0])) if found.txts else ("", 0.0)


def mended(words: tuple[Word, ...], pixels: NDArray[np.uint8], dpi: float) -> tuple[Word, ...]:
    """The words, those with unsure figures read again; what the first reader read is kept with them."""
    unsure = [w for w in words if w.confidence < UNSURE_FIGURES and any(c.isdigit() for c in w.text)]
    if not unsure or len(unsure) > MOST_WORDS:
        return words
    again = {id(word): look(pixels, dpi, word.box) for word in unsure}
    return tuple(_mended(word, again.get(id(word))) for word in words)


def agree(one: str, other: str) -> bool:
    """Whether two readings say the same: blanks do not count, nor which of the look-alike marks was read."""
    return _folded(one) == _folded(other)


def warm() -> None:
    """Load the models now rather than at the first value."""
    rapid.engine(finds_lines=False)


def _mended(word: Word, seen: Seen | None) -> Word:
    if seen is None or seen.confidence < TRUSTED or not any(c.isdigit() for c in seen.text):
        return word
    if agree(word.text, seen.text):
        return word.model_copy(update={"confidence": max(word.confidence, 0.95)})
    text = seen.text.replace(" ", "")
    return word.model_copy(update={"text": text, "symbols": (), "other": word.text})


def _folded(text: str) -> str:
    marks = str.maketrans({"’": "'", "‘": "'", "`": "'", "–": "-", "—": "-", "“": '"', "”": '"', "·": "."})
    return "".join(text.translate(marks).split()).strip(".,:;|")
