"""The readings and pictures of pages, as they are kept."""

from __future__ import annotations

from sqlmodel import col, select

from zestpail.core.reading.geometry import scaling
from zestpail.core.reading.page import PageReading, unpacked
from zestpail.desk.documents.messages import Missing
from zestpail.store import Store
from zestpail.store.archive_tables import ArchiveDue
from zestpail.store.tables import Page, ReadingText

NOTHING_READ = PageReading(width=595, height=842, words=(), source="ocr", engine="", dpi=72, to_pixels=scaling(1))
"""Of a page that could not be read, or is not read yet."""


def reading_of(store: Store, page: Page) -> PageReading:
    """What was read off the page; nothing if it could not be read."""
    return NOTHING_READ if page.reading is None else unpacked(store.blobs.get(page.reading))


def keep_text(store: Store, reading: str) -> None:
    """Keep the words of a reading as text that can be searched."""
    words = " ".join(word.text for word in unpacked(store.blobs.get(reading)).words).replace("\0", "")
    with store.transaction() as session:
        if session.get(ReadingText, reading) is None:
            session.add(ReadingText(reading=reading, text=words))


def keep_lacking_texts(store: Store, most: int) -> int:
    """The same for pages that were read before words were kept, so many at a time; returns how many there were."""
    with store.transaction() as session:
        there = select(ReadingText.reading)
        lacking = select(Page.reading).where(
            col(Page.document_id).is_not(None), col(Page.reading).is_not(None), col(Page.reading).not_in(there)
        )
        readings = {name for name in session.exec(lacking.limit(most)) if name}
    for reading in readings:
        keep_text(store, reading)
    with store.transaction() as session:
        for document_id in session.exec(select(Page.document_id).where(col(Page.reading).in_(readings)).distinct()):
            session.add(ArchiveDue(document_id=document_id or 0))
    return len(readings)


PlainWord = tuple[str, float, float, float, float]


def page_words(store: Store, page_id: int) -> list[PlainWord]:
    """Text and box (points) of each word, numbered as in the page's reading. Raises Missing."""
    with store.transaction() as session:
        page = session.get(Page, page_id)
    if page is None:
        raise Missing("There is no such page.")
    return [
        (word.text, *(round(edge, 1) for edge in word.box))  # type: ignore[misc]
        for word in reading_of(store, page).words
    ]
