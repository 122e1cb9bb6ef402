"""Pages as one TIFF of several pages (TIFF 6.0): G4 where a page is black and white, else losslessly packed."""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence

from PIL import Image

from zestpail.core.reading.preparation.prepare import bitonal
from zestpail.core.writing.joined_tiff import joined_tiff
from zestpail.core.writing.searchable_pdf import PageToWrite


def page_tiff(pages: Sequence[PageToWrite]) -> bytes:
    """The pictures of the pages as they are delivered, in order. Raises ValueError without any page."""
    return joined_tiff(_sheets(pages))


def _sheets(pages: Sequence[PageToWrite]) -> Iterator[bytes]:
    for page in pages:
        image, out = Image.fromarray(page.pixels), io.BytesIO()
        if bitonal(page.pixels):
            image = image.convert("1", dither=Image.Dither.NONE)
        image.save(out, "TIFF", compression="group4" if image.mode == "1" else "tiff_adobe_deflate",
                   dpi=(page.reading.dpi, page.reading.dpi))  # fmt: skip
        yield out.getvalue()
