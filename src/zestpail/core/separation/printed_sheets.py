"""Cover and separator sheets to be printed: a PDF of pages that say in codes and in words what follows."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Literal

import numpy as np
import zxingcpp
from PIL import Image, ImageDraw, ImageFont
from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.separation.sheet_codes import SheetCode, code_text

Paper = Literal["A4", "Letter"]
DPI = 200
"""Pixels an inch of a printed sheet."""
_SIZES: dict[Paper, tuple[int, int]] = {"A4": (1654, 2339), "Letter": (1700, 2200)}
MARGIN, BAR_HEIGHT = 150, 150
"""Pixels."""
MODULE, LEAST_MODULE = 4, 3
"""Dots that the thinnest bar is wide, and at least: half a millimetre, and what a poor scan still keeps apart."""


class Sheet(BaseModel):
    """One sheet: what it says to people, and what it says to the reader of the pile."""

    model_config = ConfigDict(frozen=True)

    heading: str = Field(min_length=1, max_length=60)
    codes: tuple[SheetCode, ...] = Field(min_length=1, max_length=8)


def cover_sheet(values: Sequence[tuple[str, str]], mail: str = "") -> Sheet:
    """The sheet before a bundle, with the values that hold for all of it."""
    codes = [SheetCode(act="bundle"), *(SheetCode(act="value", name=name, value=value) for name, value in values)]
    codes += [SheetCode(act="mail", value=mail)] if mail else []
    return Sheet(heading="Cover sheet", codes=tuple(codes))


def separator_sheet(type_key: str = "", type_name: str = "", mail: str = "") -> Sheet:
    """The sheet before a document, of a type if that is known."""
    codes = [SheetCode(act="document", name=type_key)]
    codes += [SheetCode(act="mail", value=mail)] if mail else []
    return Sheet(heading=type_name or "Next document", codes=tuple(codes))


def sheets_pdf(sheets: Sequence[Sheet], paper: Paper = "A4") -> bytes:
    """The sheets, a page each, black and white."""
    pages = [_drawn(sheet, paper) for sheet in sheets]
    out = io.BytesIO()
    pages[0].save(out, "PDF", resolution=DPI, save_all=True, append_images=pages[1:])
    return out.getvalue()


def _drawn(sheet: Sheet, paper: Paper) -> Image.Image:
    width, height = _SIZES[paper]
    page = Image.new("1", (width, height), 1)
    pen = ImageDraw.Draw(page)
    pen.text((MARGIN, MARGIN), sheet.heading, fill=0, font=ImageFont.load_default(96))
    pen.text((MARGIN, MARGIN + 124), "Lay it before the pages that it speaks of, this side up.", fill=0,
             font=ImageFont.load_default(34))  # fmt: skip
    top = MARGIN + 240
    step = min((height - top - MARGIN) // len(sheet.codes), 420)
    for code in sheet.codes:
        bars = _bars(code_text(code), width - 2 * MARGIN, step - 90)
        page.paste(bars, (MARGIN, top))
        pen.text((MARGIN, top + bars.height + 8), code.sentence, fill=0, font=ImageFont.load_default(40))
        top += step
    return page


def _bars(text: str, most_wide: int, most_high: int) -> Image.Image:
    """Code 128 as wide as fits, or a QR code for what is too long for that."""
    code = zxingcpp.create_barcode(text, zxingcpp.BarcodeFormat.Code128)
    row = np.array(zxingcpp.write_barcode_to_image(code, scale=1))[0:1]
    module = min(MODULE, most_wide // row.shape[1])
    if module >= LEAST_MODULE:
        pixels = np.repeat(np.repeat(row, module, axis=1), min(BAR_HEIGHT, most_high), axis=0)
        return Image.fromarray(pixels).convert("1")
    code = zxingcpp.create_barcode(text, zxingcpp.BarcodeFormat.QRCode)
    module = max(min(8, most_high // 60), LEAST_MODULE)
    return Image.fromarray(np.array(zxingcpp.write_barcode_to_image(code, scale=module))).convert("1")
