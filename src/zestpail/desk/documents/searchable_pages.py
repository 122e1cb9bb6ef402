"""Pages as they are delivered: pictures, words, and what is noted on them."""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
from PIL import Image

from zestpail.core.reading.preparation.edits import PageEdits, box_of
from zestpail.core.writing.notes import NotesOut
from zestpail.core.writing.notes_on_pages import NoteOnPage, burnt_in
from zestpail.core.writing.original_pages import OriginalPage
from zestpail.core.writing.searchable_pdf import PageToWrite
from zestpail.desk.documents.page_readings import reading_of
from zestpail.store import Store
from zestpail.store.tables import ArrivedFile, Page


class PagesToWrite:
    """Pages of one document as they are delivered; each file that arrived is fetched once."""

    def __init__(self, store: Store, notes: NotesOut = "kept") -> None:
        self._store, self._notes = store, notes
        self._files: dict[int, bytes] = {}

    def page(self, page: Page) -> PageToWrite:
        """The page, with what is noted on it where that is wanted; as it came, if nothing was done to it."""
        written = page_to_write(self._store, page, self._notes)
        untouched = page.edits == PageEdits() and not (page.notes and self._notes == "burnt_in")
        if written.reading.source != "text_layer" or not untouched or not page.file_id:
            return written
        return replace(written, original=OriginalPage(self._file(page.file_id), page.file_index, written.notes))

    def _file(self, file_id: int) -> bytes:
        if file_id not in self._files:
            with self._store.transaction() as session:
                blob = session.get_one(ArrivedFile, file_id).blob
            self._files[file_id] = self._store.blobs.get(blob)
        return self._files[file_id]


def page_to_write(store: Store, page: Page, notes: NotesOut = "kept") -> PageToWrite:
    """A page as a picture with its words, and what is noted on it where that is wanted."""
    with Image.open(io.BytesIO(store.blobs.get(page.image or ""))) as image:
        pixels = np.array(image.convert("L") if image.mode == "1" else image)
    reading = reading_of(store, page)
    laid = tuple(NoteOnPage(one.kind, box_of(reading, one.place), one.text, one.by) for one in page.notes)
    if notes == "burnt_in":
        return PageToWrite(burnt_in(pixels, reading.width, laid), reading)
    return PageToWrite(pixels, reading, laid if notes == "annotations" else ())
