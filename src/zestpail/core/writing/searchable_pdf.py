"""A searchable PDF/A-2b: scanned pages as images with their words invisibly in place, others as they came.

Bitonal pages are packed as CCITT G4, others as JPEG. Words are drawn in text render mode 3 with a font without ink,
each scaled to the width of its box (ISO 32000-1, 9.3). What is written is validated as PDF/A-2b (ISO 19005-2).
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import pikepdf
from numpy.typing import NDArray
from pikepdf import Array, Dictionary, Name
from PIL import Image

from zestpail.core.reading.page import PageReading, Word
from zestpail.core.reading.preparation.prepare import bitonal
from zestpail.core.writing.glyphless import ADVANCE, DESCENT, EM, GlyphlessFont, glyphless_font
from zestpail.core.writing.notes_on_pages import NoteOnPage, note_annotations
from zestpail.core.writing.original_pages import OriginalPage, Originals

JPEG_QUALITY = 75
"""Of 100; set by hand."""


@dataclass(frozen=True)
class PageToWrite:
    """A prepared page image and what was read off it."""

    pixels: NDArray[np.uint8]
    reading: PageReading
    notes: tuple[NoteOnPage, ...] = ()
    """What is laid over the page as annotations."""
    original: OriginalPage | None = None
    """The page as it came, to be taken instead of its picture where that can be."""


def searchable_pdf(pages: Sequence[PageToWrite], title: str) -> bytes:
    """The pages as one PDF/A-2b; of pages that stay as they came, an ordinary PDF where they do not conform to it.

    Raises pikepdf.pdfa.PdfaError if pages that were drawn here do not conform.
    """
    pdf, originals, kept = pikepdf.new(), Originals(), False
    used = {c for page in pages for word in page.reading.words for c in _clean(word.text)}
    font = glyphless_font(pdf, used)
    for page in pages:
        if page.original and originals.add(pdf, page.original):
            kept = True
        else:
            _add_page(pdf, page, font)
    with pdf.open_metadata(set_pikepdf_as_editor=False) as metadata:
        metadata["dc:title"] = title
        metadata["pdf:Producer"] = "Zest Pail"
    out = io.BytesIO()
    from pikepdf import pdfa  # noqa: PLC0415 - a second to load, and most processes write no PDF

    try:
        pdfa.save(pdf, out, pdfa.Flavour("2b"))
    except pdfa.PdfaError:
        if not kept:
            raise
        out = io.BytesIO()
        pdf.remove_unreferenced_resources()
        pdf.save(out, object_stream_mode=pikepdf.ObjectStreamMode.generate, recompress_flate=True)
    return out.getvalue()


def _add_page(pdf: pikepdf.Pdf, page: PageToWrite, font: GlyphlessFont) -> None:
    width, height = page.reading.width, page.reading.height
    content = [f"q {width:.3f} 0 0 {height:.3f} 0 0 cm /Scan Do Q", "BT 3 Tr"]
    content += [_drawn(word, height, font) for word in page.reading.words if _clean(word.text)]
    content.append("ET")
    added = Dictionary(
        Type=Name.Page,
        MediaBox=Array([0, 0, round(width, 3), round(height, 3)]),
        Resources=Dictionary(XObject=Dictionary(Scan=_picture(pdf, page.pixels)), Font=Dictionary(Invisible=font.font)),
        Contents=pdf.make_stream("\n".join(content).encode("ascii")),
    )
    if page.notes:
        added.Annots = Array(note_annotations(pdf, height, page.notes))
    pdf.pages.append(pikepdf.Page(pdf.make_indirect(added)))


def _drawn(word: Word, page_height: float, font: GlyphlessFont) -> str:
    """The operators that put a word into its box: font size by its height, stretched to its width."""
    text, box = _clean(word.text), word.box
    size = max(box.height, 1.0)
    baseline = page_height - box.y1 - DESCENT / EM * size
    stretch = 100 * box.width / (len(text) * size * ADVANCE / EM)
    return (
        f"/Invisible {size:.3f} Tf {stretch:.3f} Tz 1 0 0 1 {box.x0:.3f} {baseline:.3f} Tm "
        f"<{font.encoded(text + ' ').hex()}> Tj"
    )


def _clean(text: str) -> str:
    """Without what has no place in a text layer."""
    return "".join(c for c in text if c.isprintable() and not 0xD800 <= ord(c) <= 0xDFFF)


def _picture(pdf: pikepdf.Pdf, pixels: NDArray[np.uint8]) -> pikepdf.Object:
    height, width = pixels.shape[:2]
    if bitonal(pixels):
        stream = pdf.make_stream(_g4(pixels))
        stream.Filter = Name.CCITTFaxDecode
        stream.DecodeParms = Dictionary(K=-1, Columns=width, Rows=height, BlackIs1=False)
        stream.ColorSpace, stream.BitsPerComponent = Name.DeviceGray, 1
    else:
        out = io.BytesIO()
        Image.fromarray(pixels).save(out, "JPEG", quality=JPEG_QUALITY)
        stream = pdf.make_stream(out.getvalue())
        stream.Filter = Name.DCTDecode
        stream.ColorSpace, stream.BitsPerComponent = (
            Name.DeviceGray if pixels.ndim == 2 else Name.DeviceRGB,
            8,
        )
    stream.Type, stream.Subtype = Name.XObject, Name.Image
    stream.Width, stream.Height = width, height
    return stream


def _g4(pixels: NDArray[np.uint8]) -> bytes:
    """The bare CCITT G4 data, black as 0: one strip of a TIFF that Pillow packs.

    Turned to black on white before: told to do so itself (PhotometricInterpretation 0), Pillow goes pixel by pixel.
    """
    out = io.BytesIO()
    image = Image.fromarray(255 - pixels).convert("1", dither=Image.Dither.NONE)
    image.save(out, "TIFF", compression="group4", tiffinfo={278: image.height})
    with Image.open(io.BytesIO(out.getvalue())) as packed:
        tags = packed.tag_v2  # type: ignore[attr-defined]
        if len(tags[273]) != 1:
            raise ValueError("the packed page has more than one strip")
        return out.getvalue()[tags[273][0] : tags[273][0] + tags[279][0]]
