"""A strip of a page on which the words of a search are marked."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from zestpail.core.reading.geometry import Box
from zestpail.desk.archive.asked import terms_of
from zestpail.desk.archive.hits import hits
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.page_images import QUALITY, page_pixels
from zestpail.desk.documents.page_readings import reading_of
from zestpail.store import Store
from zestpail.store.queries.documents import pages_of
from zestpail.store.tables import Page

STRIP, WIDTH = 46.0, 640
"""Points of paper that are shown above and under together with a hit, and pixels across."""
MARK = np.array((1.0, 0.86, 0.35))
"""What paper is multiplied with where a word is marked: lemon."""


def marked_strip(store: Store, document_id: int, number: int, words: str, also: list[str]) -> bytes:
    """The strip of a page, from 1, round the first hit, as JPEG; ``also`` are words that are meant besides.

    Raises Missing where there is no such page, or none of the words on it.
    """
    page = _page(store, document_id, number)
    boxes = _marks(store, page, words, also)
    if not boxes:
        raise Missing("None of the words stands on this page.")
    pixels, dpi = page_pixels(store, page)
    scale, first = dpi / 72, boxes[0]
    top, bottom = (round(edge * scale) for edge in (first.cy - STRIP / 2, first.cy + STRIP / 2))
    strip = pixels[max(top, 0) : max(bottom, 1)]
    colours = np.repeat(strip[..., None], 3, 2) if strip.ndim == 2 else strip.copy()
    for box in boxes:
        x0, y0, x1, y1 = (round(edge * scale) for edge in box.grown(1.0))
        y0, y1 = max(y0 - max(top, 0), 0), max(y1 - max(top, 0), 0)
        colours[y0:y1, max(x0, 0) : x1] = (colours[y0:y1, max(x0, 0) : x1] * MARK).astype(np.uint8)
    picture = Image.fromarray(colours)
    picture = picture.resize((WIDTH, max(1, round(picture.height * WIDTH / picture.width))), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


def marks(store: Store, document_id: int, number: int, words: str, also: list[str]) -> list[Box]:
    """Where on a page, from 1, the words of a search stand (points). Raises Missing."""
    return _marks(store, _page(store, document_id, number), words, also)


def _marks(store: Store, page: Page, words: str, also: list[str]) -> list[Box]:
    read, terms = reading_of(store, page).words, terms_of(words)
    others = {term.whole: also for term in terms}
    return [read[at].box for at in hits([word.text for word in read], terms, others)]


def _page(store: Store, document_id: int, number: int) -> Page:
    with store.transaction() as session:
        page = next((one for one in pages_of(session, document_id) if one.position == number - 1), None)
    if page is None:
        raise Missing("There is no such page.")
    return page
