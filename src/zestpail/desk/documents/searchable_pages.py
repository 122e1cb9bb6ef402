"""Pages as they are delivered: pictures, words, and what is noted on them."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from zestpail.core.reading.preparation.edits import box_of
from zestpail.core.writing.notes import NotesOut
from zestpail.core.writing.notes_on_pages import NoteOnPage, burnt_in
from zestpail.core.writing.searchable_pdf import PageToWrite
from zestpail.desk.documents.page_readings import reading_of
from zestpail.store import Store
from zestpail.store.tables import Page


def page_to_write(store: Store, page: Page, notes: NotesOut = "kept") -> PageToWrite:
    """A page as it is delivered, with what is noted on it where that is wanted."""
    with Image.open(io.BytesIO(store.blobs.get(page.image or ""))) as image:
        pixels = np.array(image.convert("L") if image.mode == "1" else image)
    reading = reading_of(store, page)
    laid = tuple(NoteOnPage(one.kind, box_of(reading, one.place), one.text, one.by) for one in page.notes)
    if notes == "burnt_in":
        return PageToWrite(burnt_in(pixels, reading.width, laid), reading)
    return PageToWrite(pixels, reading, laid if notes == "annotations" else ())
