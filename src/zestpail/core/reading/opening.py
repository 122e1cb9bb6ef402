"""Opening what arrives: PDFs, images and multi-page TIFFs, page by page.

Everything here distrusts its input: sizes are looked at before pixels are unpacked, and whatever the libraries
say ends as one plain sentence in :class:`Unreadable`.
"""

from __future__ import annotations

import io
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import pi_heif
import pypdfium2 as pdfium
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError
from pypdfium2 import raw

from zestpail.core.problems import Unreadable
from zestpail.core.reading.attached_data import xml_in
from zestpail.core.reading.form_fields import entries_on, flattened, has_annotations, places_on, seen_words
from zestpail.core.reading.limits import USUAL_LIMITS, Limits
from zestpail.core.reading.page import FormEntry, Word
from zestpail.core.reading.text_layer import to_shown, words_of

Pixels = NDArray[np.uint8]
"""A page image: (height, width) grey or (height, width, 3) red-green-blue."""

pi_heif.register_heif_opener()
Image.MAX_IMAGE_PIXELS = None  # sizes are looked at here, before pixels are unpacked, and are told to the person

VECTOR_DPI = 200.0
"""Pixels an inch at which a page without images is drawn."""
LEAST_DPI, MOST_DPI = 150.0, 300.0
"""Pictures are brought between these resolutions before they are read."""
LONGEST_PROPERTY = 200
"""Characters of what a PDF says of itself that are kept."""
_PICTURES = (b"II*\0", b"MM\0*", b"\xff\xd8\xff", b"\x89PNG", b"BM", b"GIF8", b"RIFF")
_OF_NO_KNOWN_KIND = "The picture is damaged, or of a kind that cannot be read; save it as a PDF and send it again."
_DAMAGED = "The picture is damaged or was cut short; scan or send it again."


@dataclass(frozen=True)
class OpenedPage:
    """One page as it arrived: its pixels, its size and, from a PDF, words and form fields (points)."""

    pixels: Pixels
    dpi: float
    layer: tuple[Word, ...] = ()
    form: tuple[FormEntry, ...] = ()
    """The fields of a PDF form as they were filled in (points)."""
    author: str = ""
    """Who made the file, as a PDF says of itself."""
    title: str = ""
    """What the file is, as a PDF says of itself."""
    data: str = ""
    """XML that the PDF carries, with its first page."""
    drawn: bool = False
    """Whether no scan fills the page: its pixels were drawn from text and lines."""

    @property
    def width(self) -> float:
        return float(self.pixels.shape[1] * 72 / self.dpi)

    @property
    def height(self) -> float:
        return float(self.pixels.shape[0] * 72 / self.dpi)


def count_pages(data: bytes, limits: Limits = USUAL_LIMITS) -> int:
    """How many pages the file has. Raises Unreadable with the reason where it cannot be opened."""
    if not data:
        raise Unreadable("The file is empty.")
    if len(data) > limits.max_bytes:
        raise Unreadable(f"The file has {len(data) // 1_000_000} MB; at most {limits.max_bytes // 1_000_000} are read.")
    if _is_pdf(data):
        with _document(data) as pdf:
            count = len(pdf)
    else:
        with _image(data) as image, _damage_told():
            _look_at_size(image.size, limits)
            count = getattr(image, "n_frames", 1)
    if count == 0:
        raise Unreadable("The file has no pages.")
    if count > limits.max_pages:
        raise Unreadable(f"The file has {count} pages; at most {limits.max_pages} are read from one file.")
    return count


def open_page(data: bytes, index: int, limits: Limits = USUAL_LIMITS) -> OpenedPage:
    """Page ``index`` (from 0) of the file. Raises Unreadable with the reason."""
    if _is_pdf(data):
        with _document(data) as pdf:
            return _pdf_page(pdf, index, limits)
    with _image(data) as image:
        return _image_page(image, index, limits)


def _is_pdf(data: bytes) -> bool:
    return b"%PDF-" in data[:1024]


def _document(data: bytes) -> pdfium.PdfDocument:
    try:
        pdf = pdfium.PdfDocument(data)
        if pdf.get_formtype() != raw.FORMTYPE_NONE:
            pdf.init_forms()
        return pdf
    except pdfium.PdfiumError as error:
        if "assword" in str(error):
            raise Unreadable("The PDF is protected by a password; ask the sender for one without.") from error
        raise Unreadable("The PDF is damaged or was cut short; ask for it again.") from error


def _pdf_page(pdf: pdfium.PdfDocument, index: int, limits: Limits) -> OpenedPage:
    try:
        page = pdf[index]
        width, height = page.get_size()
        if not (width > 0 and height > 0):
            raise Unreadable("This page of the PDF has no size.")
        scanned = _dpi_of_scan(page, width, height)
        dpi = scanned or VECTOR_DPI
        side = max(width, height) * dpi / 72
        if side > limits.max_side:
            raise Unreadable(
                f"This page of the PDF is {max(width, height) / 72:.0f} inches long; that is too large to read."
            )
        if width * height * (dpi / 72) ** 2 > limits.max_pixels:
            raise Unreadable(
                f"This page of the PDF has {width * height * (dpi / 72) ** 2 / 1e6:.0f} million pixels; at most "
                f"{limits.max_pixels // 1_000_000} million are read."
            )
        layer, form = words_of(page), tuple[FormEntry, ...]()
        if has_annotations(page):
            shown = to_shown(page)
            places, form = places_on(page, shown.box), entries_on(pdf, page, shown.box)
            page = flattened(pdf, page, index)
            layer = seen_words(layer, words_of(page), places)
        bitmap = page.render(scale=dpi / 72, rev_byteorder=True)
        pixels = np.array(bitmap.to_numpy()[:, :, :3])
        carried = xml_in(pdf) if index == 0 else ""
        return OpenedPage(
            _grey_if_colourless(pixels), dpi, layer, form, *_properties(pdf), data=carried, drawn=scanned is None
        )
    except pdfium.PdfiumError as error:
        raise Unreadable("This page of the PDF is damaged.") from error


def _properties(pdf: pdfium.PdfDocument) -> tuple[str, str]:
    """Author and title from the document's information dictionary (ISO 32000-1, 14.3.3)."""
    said = (pdf.get_metadata_value(name)[:LONGEST_PROPERTY] for name in ("Author", "Title"))
    author, title = ("".join(c for c in text if c.isprintable()) for text in said)
    return author, title


def _dpi_of_scan(page: pdfium.PdfPage, width: float, height: float) -> float | None:
    """The resolution of the scan that fills the page; None where none does."""
    for item in page.get_objects(filter=[pdfium.raw.FPDF_PAGEOBJ_IMAGE], max_depth=4):
        left, bottom, right, top = item.get_bounds()
        if (right - left) * (top - bottom) >= 0.6 * width * height:
            across, _ = item.get_px_size()
            natural = 72 * (across - 0.02) / (right - left)  # a hair less, as sizes are rounded up to whole pixels
            return float(np.clip(natural, LEAST_DPI, MOST_DPI))
    return None


def _image(data: bytes) -> Image.Image:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # what it warns of ends as a sentence of ours, or does no harm
            return Image.open(io.BytesIO(data), formats=("TIFF", "JPEG", "PNG", "BMP", "GIF", "WEBP", "HEIF"))
    except UnidentifiedImageError as error:
        if data.startswith(_PICTURES):
            raise Unreadable(_OF_NO_KNOWN_KIND if _is_whole_tiff(data) else _DAMAGED) from error
        raise Unreadable(
            "This is neither a PDF nor a picture that can be read (TIFF, JPEG, PNG, WebP, HEIC)."
        ) from error
    except Exception as error:  # of many kinds, as formats and their mistakes are
        raise Unreadable(_DAMAGED) from error


def _is_whole_tiff(data: bytes) -> bool:
    """Whether the list of what the picture is made of lies in the file (TIFF 6.0, section 2)."""
    order: Literal["little", "big"] = "little" if data[:2] == b"II" else "big"
    return data[2:4] in (b"*\0", b"\0*") and int.from_bytes(data[4:8], order) + 2 <= len(data)


@contextmanager
def _damage_told() -> Iterator[None]:
    """Whatever a picture's decoder stumbles over is a damaged picture; what lacks memory is too large a one."""
    try:
        yield
    except Unreadable:
        raise
    except MemoryError as error:
        raise Unreadable("The picture takes more memory than a page may take.") from error
    except Exception as error:
        raise Unreadable(_DAMAGED) from error


def _look_at_size(size: tuple[int, int], limits: Limits) -> None:
    if max(size) > limits.max_side or size[0] * size[1] > limits.max_pixels:
        raise Unreadable(
            f"The picture has {size[0]} × {size[1]} pixels; at most {limits.max_side} on a side and "
            f"{limits.max_pixels // 1_000_000} million in all are read."
        )


def _image_page(image: Image.Image, index: int, limits: Limits) -> OpenedPage:
    with _damage_told():
        image.seek(index)
        _look_at_size(image.size, limits)
        dpi = _image_dpi(image)
        upright = ImageOps.exif_transpose(image)
        if upright.mode in ("1", "L"):
            pixels = np.array(upright.convert("L"))
        elif upright.mode.startswith(("I", "F")):
            pixels = _in_eight_bits(np.asarray(upright))
        else:
            if "A" in upright.getbands() or "transparency" in upright.info:
                sheet = Image.new("RGBA", upright.size, "white")
                upright = Image.alpha_composite(sheet, upright.convert("RGBA"))
            pixels = _grey_if_colourless(np.array(upright.convert("RGB")))
    return OpenedPage(pixels, dpi)


def _in_eight_bits(values: NDArray[Any]) -> Pixels:
    """Grey of up to sixteen bits, or of numbers from 0 to 1, as grey of eight: paper is nearly white on every scan."""
    top = next(
        (top for top in (1.0, 255.0, 1023.0, 4095.0, 65_535.0) if values.max(initial=0) <= top), float(values.max())
    )
    return np.asarray(np.clip(values / top, 0, 1) * 255, np.uint8)


def _image_dpi(image: Image.Image) -> float:
    """The resolution that the file states, or, if it states none that can be, that of an A4 page."""
    stated = float(image.info.get("dpi", (0, 0))[0] or 0)
    if 90 <= stated <= 1200 and 3 * stated <= max(image.size):
        return stated
    return max(min(image.size) / 8.27, 50.0)


def _grey_if_colourless(pixels: Pixels) -> Pixels:
    """One channel instead of three where hardly a pixel is coloured, as on most scans."""
    red, green, blue = (pixels[::4, ::4, at] for at in range(3))
    colour = np.maximum(np.maximum(red, green), blue) - np.minimum(np.minimum(red, green), blue)
    if float((colour > 40).mean()) < 0.0005:
        return np.ascontiguousarray(pixels[:, :, 1])
    return pixels
