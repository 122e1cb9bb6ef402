"""The one way of a page, in a batch, a sample or a trial: opened, read, kept, finished.

What differs is given: how it is prepared and read, and what is to be done when it is finished.
"""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zestpail.core.problems import Unreadable
from zestpail.core.reading.features.page_print import page_print
from zestpail.core.reading.limits import USUAL_LIMITS, Limits
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.preparation.cleaning import USUAL, Cleaning
from zestpail.core.reading.preparation.edits import UNTOUCHED, PageEdits
from zestpail.core.reading.preparation.prepare import bitonal
from zestpail.core.reading.read import ReadPage, Way, read_page
from zestpail.store import Blobs
from zestpail.store.states import PageState

THUMBNAIL = 220
"""Pixels on the longer side."""


@dataclass(frozen=True)
class PageWanted:
    """A page of a file, and how it is to be read."""

    blob: str
    index: int
    """Its place in the file, from 0."""
    way: Way = "ordinary"
    cleaning: Cleaning = USUAL
    edits: PageEdits = UNTOUCHED
    limits: Limits = USUAL_LIMITS


def read_opened(data: bytes, wanted: PageWanted) -> ReadPage:
    """Open the page of a file's bytes and read it. Raises Unreadable."""
    return read_page(
        open_page(data, wanted.index, wanted.limits), wanted.way, edits=wanted.edits, cleaning=wanted.cleaning
    )


def read_and_keep(blobs: Blobs, wanted: PageWanted) -> dict[str, Any]:
    """Read the page and keep what came of it; returns what its row is then to say, a problem where it is unreadable."""
    try:
        return kept(blobs, read_opened(blobs.get(wanted.blob), wanted))
    except Unreadable as problem:
        return failed(str(problem))


def kept(blobs: Blobs, read: ReadPage) -> dict[str, Any]:
    """Keep what was read of a page; returns what its row is then to say."""
    return {
        "state": PageState.READ,
        "image": blobs.put(master(read.pixels)),
        "thumbnail": blobs.put(thumbnail_of(read.pixels)),
        "reading": blobs.put(read.reading.packed()),
        "print": page_print(read.pixels),
        "width": read.reading.width,
        "height": read.reading.height,
        "source": read.reading.source,
    }


def failed(problem: str) -> dict[str, Any]:
    """What the row of a page says that cannot be read."""
    return {"state": PageState.FAILED, "problem": problem}


def blobs_in(row: dict[str, Any]) -> tuple[str, ...]:
    """The pictures and the reading that :func:`kept` put away."""
    return tuple(row[name] for name in ("image", "thumbnail", "reading") if name in row)


def master(pixels: NDArray[np.uint8]) -> bytes:
    """The prepared page as it is kept: G4 for bitonal pages, lightly packed PNG for others."""
    out = io.BytesIO()
    image = Image.fromarray(pixels)
    if bitonal(pixels):
        image.convert("1", dither=Image.Dither.NONE).save(out, "TIFF", compression="group4")
    else:
        image.save(out, "PNG", compress_level=1)
    return out.getvalue()


def thumbnail_of(pixels: NDArray[np.uint8]) -> bytes:
    """The page as a small JPEG."""
    image = Image.fromarray(pixels)
    image.thumbnail((THUMBNAIL, THUMBNAIL), Image.Resampling.BOX, reducing_gap=2.0)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=70)
    return out.getvalue()
