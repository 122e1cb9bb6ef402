"""Tesseract in process, through tesserocr: words and symbols with their confidences and alternatives.

One engine object per process, used by one thread at a time: loading the model takes most of a second and much
memory, and an engine must not be used by two threads at once. Work is spread over processes. Everything stays within
[0, 1] and in pixels here; the caller turns pixels to points.
"""

from __future__ import annotations

import threading
from pathlib import Path

import numpy as np
import tesserocr
from numpy.typing import NDArray
from PIL import Image

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import Symbol, Word

LANGUAGES = "Latin"
"""Debian's one model for all languages in Latin script."""
DATA_FOLDERS = ("/usr/share/tesseract-ocr/5/tessdata", "/usr/share/tessdata")
_BORDERS = "|[]{}_¦"

_engines: dict[str, tesserocr.PyTessBaseAPI] = {}
_lock = threading.RLock()


def data_folder() -> str:
    """Where the language data lie. Raises FileNotFoundError naming the Debian packages."""
    for folder in DATA_FOLDERS:
        if (Path(folder) / f"{LANGUAGES}.traineddata").exists():
            return folder
    raise FileNotFoundError(
        "The language data for reading are missing: install tesseract-ocr-script-latn and tesseract-ocr-osd."
    )


def engine_name() -> str:
    """Engine and version, as it is kept with every reading."""
    return f"{tesserocr.tesseract_version().split()[0]}-{tesserocr.tesseract_version().split()[1]} {LANGUAGES}"


def read_words(pixels: NDArray[np.uint8], dpi: float, block: bool = False) -> tuple[Word, ...]:
    """The words on a page image, boxes in its pixels; with ``block`` the image is a small clip of one block."""
    with _lock:
        engine = _engine()
        engine.SetPageSegMode(tesserocr.PSM.SINGLE_BLOCK if block else tesserocr.PSM.SINGLE_COLUMN)
        engine.SetImage(Image.fromarray(pixels))
        engine.SetSourceResolution(round(dpi))
        try:
            engine.Recognize()
            return tuple(_words(engine))
        finally:
            engine.Clear()


def quarter_turns(pixels: NDArray[np.uint8], dpi: float) -> int:
    """By how many degrees clockwise (0, 90, 180, 270) the image must be turned to stand upright.

    0 where Tesseract's orientation detection has too little text to go by or is not sure.
    """
    with _lock:
        if "turns" not in _engines:
            _engines["turns"] = tesserocr.PyTessBaseAPI(path=data_folder(), lang="osd", psm=tesserocr.PSM.OSD_ONLY)
        engine = _engines["turns"]
        engine.SetImage(Image.fromarray(pixels))
        engine.SetSourceResolution(round(dpi))
        try:
            found = engine.DetectOrientationScript()
        finally:
            engine.Clear()
    if not found or found["orient_conf"] < 2.0:
        return 0
    return int(360 - found["orient_deg"]) % 360


def warm() -> None:
    """Load the model now rather than at the first page."""
    with _lock:
        _engine()


def _engine() -> tesserocr.PyTessBaseAPI:
    if "pages" not in _engines:
        engine = tesserocr.PyTessBaseAPI(path=data_folder(), lang=LANGUAGES, psm=tesserocr.PSM.SINGLE_COLUMN)
        engine.SetVariable("lstm_choice_mode", "2")
        _engines["pages"] = engine
    return _engines["pages"]


def _words(engine: tesserocr.PyTessBaseAPI) -> list[Word]:
    level = tesserocr.RIL
    found: list[Word] = []
    symbols: list[Symbol] = []
    iterator = engine.GetIterator()
    if iterator is None:
        return found
    for at in tesserocr.iterate_level(iterator, level.SYMBOL):
        if at.IsAtBeginningOf(level.WORD):
            _take(symbols, found)
        box, text = at.BoundingBox(level.SYMBOL), _text(at)
        if box is None or not text.strip():
            continue
        symbols.append(
            Symbol(
                text=text,
                box=Box(*map(float, box)),
                confidence=at.Confidence(level.SYMBOL) / 100,
                alternatives=_alternatives(at, text),
            )
        )
        if at.IsAtFinalElement(level.WORD, level.SYMBOL):
            confidence = at.Confidence(level.WORD) / 100
            _take(symbols, found, confidence)
    _take(symbols, found)
    return found


def _text(at: tesserocr.PyLTRResultIterator) -> str:
    """The symbol at hand; nothing where the engine has none, as on a blank page."""
    try:
        return str(at.GetUTF8Text(tesserocr.RIL.SYMBOL))
    except RuntimeError:
        return ""


def _alternatives(at: tesserocr.PyPageIterator, text: str) -> tuple[tuple[str, float], ...]:
    """Other readings of the symbol with a share worth showing."""
    choices = at.GetChoiceIterator()
    if choices is None:
        return ()
    others = []
    for choice in choices:
        other = choice.GetUTF8Text()
        share = choice.Confidence() / 100
        if other and other != text and other.strip() and share >= 0.02:
            others.append((other, round(share, 3)))
    return tuple(sorted(others, key=lambda o: -o[1])[:3])


def _take(symbols: list[Symbol], words: list[Word], confidence: float | None = None) -> None:
    """Close a word: the borders of a grid that were read as characters are stripped from its ends."""
    while symbols and symbols[0].text in _BORDERS:
        symbols.pop(0)
    while symbols and symbols[-1].text in _BORDERS:
        symbols.pop()
    if symbols:
        x0, y0, x1, y1 = zip(*(s.box for s in symbols), strict=True)
        sure = confidence if confidence is not None else min(s.confidence for s in symbols)
        words.append(
            Word(
                text="".join(s.text for s in symbols),
                box=Box(min(x0), min(y0), max(x1), max(y1)),
                confidence=min(max(sure, 0.0), 1.0),
                symbols=tuple(symbols),
            )
        )
    symbols.clear()
