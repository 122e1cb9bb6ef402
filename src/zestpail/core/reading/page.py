"""What was read off a page: the one model that everything later works from."""

from __future__ import annotations

import re
import zlib
from typing import Annotated, Literal, get_args

from pydantic import BaseModel, BeforeValidator, ConfigDict

from zestpail.core.reading.features.ink import InkMap
from zestpail.core.reading.geometry import Affine, Box


class Symbol(BaseModel):
    """One character with the other characters it might be, best first, each with its confidence."""

    model_config = ConfigDict(frozen=True)

    text: str
    box: Box
    confidence: float
    alternatives: tuple[tuple[str, float], ...] = ()


class Word(BaseModel):
    """One word; ``symbols`` is empty where the source does not tell them apart."""

    model_config = ConfigDict(frozen=True)

    text: str
    box: Box
    confidence: float
    symbols: tuple[Symbol, ...] = ()
    other: str = ""
    """What the first reader read, where the second one was believed."""

    def part(self, start: int, end: int) -> Box:
        """The box of the characters ``start`` to ``end``; by their share of the width without symbols."""
        if sum(len(s.text) for s in self.symbols) == len(self.text):
            boxes, at = [], 0
            for symbol in self.symbols:
                if at < end and at + len(symbol.text) > start:
                    boxes.append(symbol.box)
                at += len(symbol.text)
            if boxes:
                return Box(boxes[0].x0, self.box.y0, boxes[-1].x1, self.box.y1)
        step = self.box.width / max(len(self.text), 1)
        return Box(self.box.x0 + start * step, self.box.y0, self.box.x0 + end * step, self.box.y1)


class Barcode(BaseModel):
    """One barcode, with its four corners in reading order of its own (points)."""

    model_config = ConfigDict(frozen=True)

    symbology: str
    text: str
    corners: tuple[tuple[float, float], ...]

    @property
    def box(self) -> Box:
        xs, ys = zip(*self.corners, strict=True)
        return Box(min(xs), min(ys), max(xs), max(ys))


class Mark(BaseModel):
    """A small box to be ticked; ``ink`` is the share of its inside that is dark, in [0, 1]."""

    model_config = ConfigDict(frozen=True)

    box: Box
    ink: float
    told: bool | None = None
    """Whether it is ticked as the PDF's form itself says; None on paper."""


class FormEntry(BaseModel):
    """A field of a PDF form (AcroForm, ISO 32000-1, 12.7) as it was filled in, where it lies on the page (points)."""

    model_config = ConfigDict(frozen=True)

    name: str
    label: str = ""
    """What the form calls it for people; most forms leave it empty."""
    value: str = ""
    box: Box
    ticked: bool | None = None
    """Of a box or button to be ticked; None for all other fields."""

    @property
    def labels(self) -> tuple[str, ...]:
        """What may be taken for its label: what it is called, and the last part of its name in words."""
        last = re.sub(r"\[\d+\]$", "", self.name.rsplit(".", 1)[-1])
        words = re.sub(r"(?<=[a-zà-ÿ])(?=[A-ZÀ-Þ])|[_\-]+", " ", last)
        return tuple(dict.fromkeys(filter(None, (self.label.strip(), " ".join(words.split())))))


Step = Literal[
    "turned", "straightened", "evened_out", "specks_smoothed", "borders_cleared", "borders_cut_off", "holes_filled",
    "specks_removed", "made_grey", "made_black_and_white", "cropped", "blacked_out",
]  # fmt: skip


_COUNTED = {
    "holes_filled": ("hole", "holes", "filled"),
    "specks_removed": ("speck", "specks", "removed"),
    "blacked_out": ("place", "places", "blacked out"),
}


STEPS: dict[Step, str] = {step: step.replace("_", " ") for step in get_args(Step)}


def _code(text: str) -> str:
    """A code of today for one of earlier days, which had blanks."""
    return text.replace(" ", "_")


StepCode = Annotated[Step, BeforeValidator(_code)]


class Preparation(BaseModel):
    """One thing that was done to the page's image before it was read, as a person would say it."""

    model_config = ConfigDict(frozen=True)

    step: StepCode
    """What was done; readings that were kept in earlier days have blanks in it."""
    degrees: float = 0.0
    count: int = 0
    """How many holes, specks or places."""

    @property
    def message(self) -> str:
        """As a person would say it."""
        if self.degrees:
            return f"{STEPS[self.step]} by {abs(self.degrees):g}°"
        thing = _COUNTED.get(self.step)
        return f"{self.count} {thing[self.count != 1]} {thing[2]}" if thing and self.count else STEPS[self.step]


class PageReading(BaseModel):
    """Everything read off one page, in points after turning upright and straightening."""

    model_config = ConfigDict(frozen=True)

    width: float
    height: float
    words: tuple[Word, ...]
    source: Annotated[Literal["text_layer", "ocr"], BeforeValidator(_code)]
    engine: str
    rules: tuple[Box, ...] = ()
    """Ruled lines, top to bottom."""
    barcodes: tuple[Barcode, ...] = ()
    marks: tuple[Mark, ...] = ()
    """Boxes to be ticked, top to bottom."""
    form: tuple[FormEntry, ...] = ()
    """The fields of a PDF form on this page, as they were filled in."""
    author: str = ""
    title: str = ""
    """Who made the file and what it is, as a born-digital PDF says of itself; many say nothing, or something else."""
    data: str = ""
    """XML that the file carries, with its first page; looked at, and never trusted, where it is used."""
    ink: InkMap | None = None
    """Where there is ink; None in readings that were kept before it was looked at."""
    blank: bool = False
    """Whether nothing is written on it."""
    preparation: tuple[Preparation, ...] = ()
    dpi: float
    """Pixels per inch of the prepared image: pixel = point * dpi / 72."""
    to_pixels: Affine
    """From points here to pixels of the image as it arrived."""

    def packed(self) -> bytes:
        """The reading as compressed JSON, to be stored."""
        return zlib.compress(self.model_dump_json().encode(), 6)


def unpacked(data: bytes) -> PageReading:
    """The reading that :meth:`PageReading.packed` stored."""
    return PageReading.model_validate_json(zlib.decompress(data))
