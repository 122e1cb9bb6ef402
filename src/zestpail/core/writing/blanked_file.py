"""A file with some of its pages made blank: what stood on them is in it no more, and the others keep their places."""

from __future__ import annotations

import contextlib
import io
from collections.abc import Collection

import pikepdf
from pikepdf import Array, Dictionary, Name
from PIL import Image, ImageSequence

from zestpail.core.reading.form_fields import flattened_file
from zestpail.core.writing.joined_tiff import joined_tiff

_OF_PAGE = ("/MediaBox", "/Rotate", "/Type", "/Parent")
"""What a blank page keeps."""
_OF_FILE = ("/Pages", "/Type", "/Version")
"""What a file keeps: names, outlines, attachments, forms and metadata may speak of any of its pages."""


def blanked(data: bytes, pages: Collection[int]) -> bytes:
    """The PDF or TIFF with those pages, from 0, made blank. Raises ValueError for a file that is neither."""
    with contextlib.suppress(pikepdf.PdfError):
        return _blanked_pdf(data, pages)
    with contextlib.suppress(OSError):
        return joined_tiff(_sheets(data, pages))
    raise ValueError("this is no file of pages")


def _blanked_pdf(data: bytes, pages: Collection[int]) -> bytes:
    with pikepdf.open(io.BytesIO(data)) as asked:
        forms = Name.AcroForm in asked.Root
    out = io.BytesIO()
    with pikepdf.open(io.BytesIO(flattened_file(data) if forms else data)) as pdf:
        for number in pages:
            page = pdf.pages[number]
            box = Array([float(side) for side in page.mediabox])
            for name in set(page.obj.keys()).difference(_OF_PAGE):
                del page.obj[name]
            page.obj.MediaBox, page.obj.Resources = box, Dictionary()
            page.obj.Contents = pdf.make_stream(b"")
        for name in set(pdf.Root.keys()).difference(_OF_FILE):
            del pdf.Root[name]
        if Name.Info in pdf.trailer:
            del pdf.trailer[Name.Info]
        pdf.save(out)
    return out.getvalue()


def _sheets(data: bytes, pages: Collection[int]) -> list[bytes]:
    sheets = []
    with Image.open(io.BytesIO(data)) as whole:
        for number, frame in enumerate(ImageSequence.Iterator(whole)):
            white = 1 if frame.mode == "1" else "white"
            shown = Image.new(frame.mode, frame.size, white) if number in pages else frame.copy()
            out = io.BytesIO()
            packed = "group4" if shown.mode == "1" else "tiff_adobe_deflate"
            shown.save(out, "TIFF", compression=packed, dpi=frame.info.get("dpi", (200, 200)))
            sheets.append(out.getvalue())
    return sheets
