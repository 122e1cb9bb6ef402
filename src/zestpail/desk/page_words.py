"""The words of a page, to be clicked on."""

from __future__ import annotations

from zestpail.desk.reading_of_pages import reading_of
from zestpail.desk.sentences import Missing
from zestpail.store import Store
from zestpail.store.tables import Page

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
