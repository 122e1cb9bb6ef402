"""Reading one page: the text layer where it can be trusted, else OCR of the prepared image.

A page is read in one of two ways, and its values are looked at by the reader that did not read it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.engines import best_reading, second_reader, tesseract
from zestpail.core.reading.features.barcodes import barcodes_on, without_bars
from zestpail.core.reading.features.combs import apart_from_combs, with_combs
from zestpail.core.reading.features.ink import ink_of
from zestpail.core.reading.features.marks import marks_on, with_told
from zestpail.core.reading.features.ruled_lines import ruled_lines
from zestpail.core.reading.geometry import Affine, Box, around, scaling
from zestpail.core.reading.opening import OpenedPage
from zestpail.core.reading.page import FormEntry, PageReading, Preparation, Word
from zestpail.core.reading.preparation.blank_page import is_blank
from zestpail.core.reading.preparation.cleaning import (
    USUAL,
    Cleaning,
    cleaned,
    coloured,
)
from zestpail.core.reading.preparation.edits import (
    UNTOUCHED,
    PageEdits,
    blacked_out,
    cropped,
)
from zestpail.core.reading.preparation.letter_height import reading_scale
from zestpail.core.reading.preparation.prepare import (
    Prepared,
    for_reading,
    grey_of,
    straightened,
    turned,
)
from zestpail.core.reading.text_layer import can_be_trusted

Way = Literal["ordinary", "best"]
"""Ordinary reading takes about a second a page, the best one several."""
SENSIBLE = 0.75
"""A page whose words are less sure than this on average may stand on its head."""

LEAST_INK = 60.0
"""A clip whose darkest spots differ less from its paper (0 to 255) is empty; its grain would be read as letters."""
CLIP_DPI = 300.0
"""Boxes drawn by a person are read again at this resolution at least."""


@dataclass(frozen=True)
class ReadPage:
    """What was read and the prepared image that it was read from."""

    reading: PageReading
    pixels: NDArray[np.uint8]


def read_page(
    page: OpenedPage, way: Way = "ordinary", second: bool = True, edits: PageEdits = UNTOUCHED,
    cleaning: Cleaning = USUAL,
) -> ReadPage:  # fmt: skip
    """Read one page as it arrived; with ``second``, unsure figures of ordinary reading are read by both readers.

    What a person did to the page ``by_hand`` comes first: a page that she turned is not turned again. Data that the
    file carries come along, but where something was blacked out: they might say it.
    """
    read = _read_as_it_lies(page, way, second, edits, cleaning)
    if not page.data or edits.blacked_out:
        return read
    return replace(read, reading=read.reading.model_copy(update={"data": page.data}))


def _read_as_it_lies(page: OpenedPage, way: Way, second: bool, edits: PageEdits, cleaning: Cleaning) -> ReadPage:
    own_text = edits.turned is None and can_be_trusted(page.layer, page.pixels, page.dpi)
    done = (Preparation(step="blacked_out", count=len(edits.blacked_out)),) if edits.blacked_out else ()
    page = blacked_out(page, edits.blacked_out)
    if own_text:
        return _with_own_text(page, cropped(Prepared(page.pixels, scaling(1), done), page.dpi, edits.crop))
    if is_blank(page.pixels, page.dpi):
        return _blank(page, edits.turned or 0)
    arrived = cleaned(Prepared(page.pixels, scaling(1), done), page.dpi, cleaning, edits.without)
    level = cleaning.skew == "straightened" and "straightened" not in edits.without

    def made_ready(turned_page: Prepared) -> Prepared:
        return cropped(straightened(turned_page) if level else turned_page, page.dpi, edits.crop)

    if edits.turned is not None:
        prepared, words = _read(made_ready(turned(arrived, edits.turned)), page.dpi, way)
    elif way == "best":
        prepared, words = _read(
            made_ready(turned(arrived, tesseract.quarter_turns(page.pixels, page.dpi))), page.dpi, way
        )
    else:
        prepared, words = _read_upright(arrived, page.dpi, made_ready)
    prepared = coloured(prepared, cleaning, edits.without)
    height, width = prepared.pixels.shape[:2]
    points = scaling(72 / page.dpi)
    barcodes = barcodes_on(prepared.pixels, page.dpi)
    black = tuple(_black_boxes(edits, prepared, page.dpi))
    placed = without_bars(tuple(_moved(word, points) for word in words), barcodes)
    placed = tuple(word for word in placed if not any(box.covers_centre_of(word.box) for box in black))
    form = _form(page, prepared, black)
    marks, combs = apart_from_combs(
        with_told(marks_on(prepared.pixels, page.dpi, placed), form), prepared.pixels, page.dpi
    )
    if combs:
        placed = with_combs(placed, combs, prepared.pixels, page.dpi, second_reader.read_strip)
    reading = PageReading(
        width=width * 72 / page.dpi,
        height=height * 72 / page.dpi,
        words=second_reader.mended(placed, prepared.pixels, page.dpi) if second and way == "ordinary" else placed,
        source="ocr",
        engine=tesseract.engine_name() if way == "ordinary" else best_reading.ENGINE,
        rules=ruled_lines(prepared.pixels, page.dpi),
        barcodes=barcodes,
        marks=marks,
        form=form,
        ink=ink_of(prepared.pixels, page.dpi),
        preparation=prepared.steps,
        dpi=page.dpi,
        to_pixels=scaling(page.dpi / 72).then(prepared.back),
    )
    return ReadPage(reading, prepared.pixels)


def _form(page: OpenedPage, prepared: Prepared, black: Sequence[Box] = ()) -> tuple[FormEntry, ...]:
    """The form's fields where they lie on the prepared page, without what is cut off or blacked out."""
    moved = scaling(page.dpi / 72).then(prepared.back.inverse()).then(scaling(72 / page.dpi))
    height, width = prepared.pixels.shape[:2]
    sheet = Box(0, 0, width * 72 / page.dpi, height * 72 / page.dpi)
    placed = (entry.model_copy(update={"box": moved.box(entry.box)}) for entry in page.form)
    return tuple(
        entry
        for entry in placed
        if sheet.covers_centre_of(entry.box) and not any(box.shared_area(entry.box) > 0 for box in black)
    )


def _black_boxes(edits: PageEdits, prepared: Prepared, dpi: float) -> Iterator[Box]:
    """What is blacked out, on the prepared page (points): readers take a black box for a letter."""
    to_prepared = scaling(dpi / 72).then(prepared.back.inverse()).then(scaling(72 / dpi))
    for place in edits.blacked_out:
        yield around(to_prepared.box(Box(x, y, x, y)) for x, y in place)


def _with_own_text(page: OpenedPage, shown: Prepared) -> ReadPage:
    """A page whose text layer can be trusted: nothing is read from its image."""
    height, width = shown.pixels.shape[:2]
    moved = scaling(page.dpi / 72).then(shown.back.inverse()).then(scaling(72 / page.dpi))
    points = 72 / page.dpi
    sheet = Box(0, 0, width * points, height * points)
    words = tuple(word for word in (_moved(word, moved) for word in page.layer) if sheet.covers_centre_of(word.box))
    form = _form(page, shown)
    marks, combs = apart_from_combs(with_told(marks_on(shown.pixels, page.dpi, words), form), shown.pixels, page.dpi)
    reading = PageReading(
        width=sheet.x1,
        height=sheet.y1,
        words=with_combs(words, combs, None, page.dpi, second_reader.read_strip) if combs else words,
        source="text_layer",
        engine="the PDF itself",
        rules=ruled_lines(shown.pixels, page.dpi),
        barcodes=barcodes_on(shown.pixels, page.dpi, drawn=page.drawn),
        marks=marks,
        form=form,
        author=page.author,
        title=page.title,
        ink=ink_of(shown.pixels, page.dpi),
        preparation=shown.steps,
        dpi=page.dpi,
        to_pixels=scaling(page.dpi / 72).then(shown.back),
    )
    return ReadPage(reading, shown.pixels)


def _blank(page: OpenedPage, degrees: int) -> ReadPage:
    """A page with nothing on it: no reader is asked."""
    lying = turned(Prepared(page.pixels, scaling(1)), degrees)
    height, width = lying.pixels.shape[:2]
    points = 72 / page.dpi
    return ReadPage(
        PageReading(
            width=width * points, height=height * points, words=(), source="ocr", engine="nothing to read", blank=True,
            ink=ink_of(lying.pixels, page.dpi), dpi=page.dpi, to_pixels=scaling(1 / points).then(lying.back),
        ),
        lying.pixels,
    )  # fmt: skip


def look_again(read: ReadPage, box: Box) -> str | None:
    """What stands in ``box`` (points), as the reader has it that did not read the page; None if it has nothing."""
    if read.reading.engine == best_reading.ENGINE:
        return (
            " ".join(word.text for word in read_clip(read.pixels, read.reading.dpi, box.grown(second_reader.MARGIN)))
            or None
        )
    seen = second_reader.look(read.pixels, read.reading.dpi, box)
    return seen.text if seen else None


def read_clip(pixels: NDArray[np.uint8], dpi: float, box: Box) -> tuple[Word, ...]:
    """Read again what stands in ``box`` (points) of a prepared page image, enlarged where it is coarse.

    For a box that a person drew: a clip of one block, with a white edge so that no character touches the rim.
    """
    height, width = pixels.shape[:2]
    scale = dpi / 72
    x0, y0 = max(int(box.x0 * scale), 0), max(int(box.y0 * scale), 0)
    x1, y1 = min(int(box.x1 * scale) + 1, width), min(int(box.y1 * scale) + 1, height)
    if x1 - x0 < 4 or y1 - y0 < 4:
        return ()
    clip = pixels[y0:y1, x0:x1]
    if float(np.ptp(np.percentile(clip, [0.5, 90]))) < LEAST_INK:
        return ()
    larger = max(1.0, CLIP_DPI / dpi)
    clip = np.asarray(cv2.resize(clip, None, fx=larger, fy=larger, interpolation=cv2.INTER_CUBIC), dtype=np.uint8)
    edge = 24
    paper = int(np.percentile(clip, 90))
    clip = np.asarray(
        cv2.copyMakeBorder(clip, edge, edge, edge, edge, cv2.BORDER_CONSTANT, value=(paper, paper, paper)),
        dtype=np.uint8,
    )
    back = Affine(1 / larger, 0, x0 - edge / larger, 0, 1 / larger, y0 - edge / larger).then(scaling(1 / scale))
    return tuple(_moved(word, back) for word in tesseract.read_words(clip, dpi * larger, block=True))


def _read_upright(
    arrived: Prepared, dpi: float, made_ready: Callable[[Prepared], Prepared]
) -> tuple[Prepared, tuple[Word, ...]]:
    """The page straightened and read; where little came of it, turned upright and read again.

    Nearly every page arrives upright, and asking for its orientation costs half as much as reading it, so it is
    asked only of pages that read badly.
    """
    prepared, words = _read(made_ready(arrived), dpi)
    if _sense(words) >= SENSIBLE:
        return prepared, words
    degrees = tesseract.quarter_turns(arrived.pixels, dpi)
    if degrees == 0:
        return prepared, words
    upright, again = _read(made_ready(turned(arrived, degrees)), dpi)
    return (upright, again) if _sense(again) > _sense(words) else (prepared, words)


def _read(page: Prepared, dpi: float, way: Way = "ordinary") -> tuple[Prepared, tuple[Word, ...]]:
    if way == "best":
        return page, best_reading.read_words(page.pixels)
    best = for_reading(page)
    scale = reading_scale(grey_of(best.pixels))
    pixels = best.pixels
    if scale < 1:
        pixels = np.asarray(cv2.resize(pixels, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA), dtype=np.uint8)
    back = scaling(1 / scale)
    words = tesseract.read_words(pixels, dpi * scale)
    return replace(page, steps=best.steps), tuple(_moved(word, back) for word in words) if scale < 1 else words


def _sense(words: tuple[Word, ...]) -> float:
    """How sure the engine was of what it read, weighted by length, in [0, 1]; 0 where it read nothing."""
    length = sum(len(word.text) for word in words)
    return sum(word.confidence * len(word.text) for word in words) / length if length else 0.0


def _moved(word: Word, by: Affine) -> Word:
    if by.stays:
        return word
    return word.model_copy(
        update={
            "box": by.box(word.box),
            "symbols": tuple(s.model_copy(update={"box": by.box(s.box)}) for s in word.symbols),
        }
    )
