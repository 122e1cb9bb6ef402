"""Several TIFFs as one: the sheets of a pile, each scanned for itself, as the file of the pile."""

from __future__ import annotations

import io
from collections.abc import Iterable

from PIL import Image, ImageSequence
from PIL.TiffImagePlugin import AppendingTiffWriter


def joined_tiff(sheets: Iterable[bytes]) -> bytes:
    """All pages of all sheets in order, each packed as it came: G4 where it is black and white, else losslessly.

    Only one page at a time is unpacked. Raises ValueError without any page.
    """
    out, count = io.BytesIO(), 0
    with AppendingTiffWriter(out) as joined:
        for sheet in sheets:
            with Image.open(io.BytesIO(sheet)) as whole:
                for page in ImageSequence.Iterator(whole):
                    packed = "group4" if page.mode == "1" else "tiff_adobe_deflate"
                    page.copy().save(joined, "TIFF", compression=packed, dpi=page.info.get("dpi", (200, 200)))
                    joined.newFrame()
                    count += 1
        if not count:
            raise ValueError("there is no page to join")
        joined.finalize()
        return out.getvalue()
