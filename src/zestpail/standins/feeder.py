"""The paper in a sheet feeder: loaded from a file, taken sheet by sheet, jammed and fed double when asked for."""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Literal

import pypdfium2 as pdfium
from PIL import Image, ImageSequence

Colours = Literal["black and white", "grey", "colour"]
Fault = Literal["paper jam", "double feed"]
PAPER_DPI = 200
"""Dots per inch at which loaded paper is kept."""


@dataclass
class Sheet:
    """One sheet of paper."""

    front: Image.Image
    back: Image.Image

    def scanned(self, dpi: int, colours: Colours, duplex: bool) -> list[Image.Image]:
        """Its front, and its back where both sides are scanned."""
        return [_seen(side, dpi, colours) for side in ((self.front, self.back) if duplex else (self.front,))]


@dataclass
class Feeder:
    """A stack of paper, and what is to go wrong with it."""

    sheets: list[Sheet] = field(default_factory=list)
    faults: dict[int, Fault] = field(default_factory=dict)
    """What goes wrong at which sheet of the next scan, counted from 1."""

    def load(self, data: bytes, both_sides: bool) -> int:
        """Lay paper on the stack; with ``both_sides`` each page of the file is one side. Returns how many sheets."""
        sides = list(_pages(data))
        if not both_sides:
            sides = [side for front in sides for side in (front, Image.new(front.mode, front.size, _white(front.mode)))]
        if len(sides) % 2:
            sides.append(Image.new(sides[-1].mode, sides[-1].size, _white(sides[-1].mode)))
        loaded = [Sheet(front, back) for front, back in zip(sides[::2], sides[1::2], strict=True)]
        self.sheets += loaded
        return len(loaded)


def as_tiff(sides: list[Image.Image], dpi: int) -> bytes:
    """The sides of a sheet as one TIFF: G4 for black and white, else losslessly packed."""
    out = io.BytesIO()
    packed = "group4" if sides[0].mode == "1" else "tiff_adobe_deflate"
    sides[0].save(out, "TIFF", save_all=True, append_images=sides[1:], compression=packed, dpi=(dpi, dpi))
    return out.getvalue()


def _seen(side: Image.Image, dpi: int, colours: Colours) -> Image.Image:
    size = (round(side.width * dpi / PAPER_DPI), round(side.height * dpi / PAPER_DPI))
    mode = {"black and white": "1", "grey": "L", "colour": "RGB"}[colours]
    if side.size == size and side.mode == mode:
        return side
    grey = side.convert("L" if mode != "RGB" else "RGB").resize(size, Image.Resampling.BILINEAR)
    return grey.point(lambda light: 255 if light > 140 else 0).convert("1") if mode == "1" else grey


def _pages(data: bytes) -> Iterator[Image.Image]:
    if data.startswith(b"%PDF"):
        document = pdfium.PdfDocument(data)
        for page in document:
            yield page.render(scale=PAPER_DPI / 72).to_pil()
        document.close()
        return
    with Image.open(io.BytesIO(data)) as whole:
        for page in ImageSequence.Iterator(whole):
            yield page.copy()


def _white(mode: str) -> int | tuple[int, int, int]:
    return (255, 255, 255) if mode == "RGB" else 1 if mode == "1" else 255
