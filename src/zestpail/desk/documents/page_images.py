"""Pictures of pages: whole ones in the size that is needed, thumbnails, and snippets."""

from __future__ import annotations

import io
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zestpail.core.reading.geometry import Box
from zestpail.desk.documents.messages import Missing
from zestpail.store import Blobs, Store
from zestpail.store.tables import Page

WIDTHS = (600, 900, 1200, 1800, 2600)
"""Page images are served in these widths, so that they can be kept by browsers."""
QUALITY = 75


def version(store: Store, page_id: int) -> str:
    """What changes when the page is read anew. Raises Missing."""
    return _page(store, page_id).reading or ""


def page_picture(store: Store, page_id: int, width: int) -> bytes:
    """The page as JPEG, at least ``width`` pixels wide where it has them."""
    image = _image(store, page_id)
    wanted = next((w for w in WIDTHS if w >= width), WIDTHS[-1])
    if wanted < image.width:
        image = image.resize((wanted, round(image.height * wanted / image.width)), Image.Resampling.BOX)
    return _jpeg(image)


def thumbnail(store: Store, page_id: int) -> bytes:
    """The page in small. Raises Missing if it was not read."""
    page = _page(store, page_id)
    if page.thumbnail is None:
        raise Missing("This page was not read.")
    return store.blobs.get(page.thumbnail)


def snippet(store: Store, page_id: int, box: Box, height: int) -> bytes:
    """What stands in ``box`` (points), enlarged to ``height`` pixels."""
    image = _image(store, page_id)
    page = _page(store, page_id)
    scale = image.width / page.width
    area = tuple(round(v * scale) for v in box)
    left, top = max(min(area[0], image.width - 2), 0), max(min(area[1], image.height - 2), 0)
    right, bottom = min(max(area[2], left + 2), image.width), min(max(area[3], top + 2), image.height)
    clip = image.crop((left, top, right, bottom)).convert("RGB" if image.mode == "RGB" else "L")
    factor = min(height / clip.height, 1600 / clip.width)
    clip = clip.resize(
        (max(round(clip.width * factor), 1), max(round(clip.height * factor), 1)), Image.Resampling.BICUBIC
    )
    return _jpeg(clip)


def page_pixels(store: Store, page: Page) -> tuple[NDArray[np.uint8], float]:
    """The prepared page as pixels, and how many of them make an inch. Raises Missing if it was not read."""
    if page.image is None:
        raise Missing("This page was not read.")
    image = _decoded(store.blobs, page.image)
    pixels = np.array(image.convert("L") if image.mode == "1" else image)
    return pixels, image.width * 72 / page.width


def _image(store: Store, page_id: int) -> Image.Image:
    page = _page(store, page_id)
    if page.image is None:
        raise Missing("This page was not read.")
    return _decoded(store.blobs, page.image)


@lru_cache(maxsize=24)
def _decoded(blobs: Blobs, name: str) -> Image.Image:
    """A few pages are kept unpacked: a page is asked for many times while it is under review."""
    image = Image.open(io.BytesIO(blobs.get(name)))
    image.load()
    return image.convert("L") if image.mode == "1" else image


def _page(store: Store, page_id: int) -> Page:
    with store.transaction() as session:
        page = session.get(Page, page_id)
    if page is None:
        raise Missing("There is no such page.")
    return page


def _jpeg(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


@dataclass(frozen=True)
class PageView:
    id: int
    number: int
    width: float
    height: float
    problem: str | None
