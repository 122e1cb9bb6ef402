"""Mending piles on the page ribbon: cut, join, move, leave out, take in; each a change that can be taken back.

Documents that have gone on cannot be changed any more. Those that change have their values found anew.
"""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, Literal

from sqlmodel import Session, col, delete, select

from zestpail.desk.documents.audit import note
from zestpail.desk.documents.holding import holder_name
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.transitions import (
    CAPTURE,
    READ,
    WORDS,
    dissolve,
    read_anew,
)
from zestpail.store import Store
from zestpail.store.jobs import defer
from zestpail.store.tables import (
    ArrivedFile,
    CheckResult,
    Document,
    DocumentState,
    Event,
    FieldValue,
    FileState,
    Page,
    PageState,
    TableRow,
)

MENDED, TAKEN_BACK = "ribbon mended", "ribbon mending taken back"
Side = Literal["before", "after"]
OPEN = (DocumentState.READING, DocumentState.REVIEW, DocumentState.DISSOLVED)
BY_HAND = "taken out by hand"
_KEPT = ("document_id", "pile_id", "position", "place", "left_out", "by_hand", "notes",
         "state", "problem", "image", "thumbnail", "reading", "width", "height", "source")  # fmt: skip


@dataclass
class Mending:
    """The piles of a batch as they are being mended: all pages as they lie, and the one at hand."""

    session: Session
    pages: list[Page]
    page: Page
    told: str = ""
    """What a person should know once it is mended."""

    def lying(self, pile_id: int | None) -> list[Page]:
        """The pages of one pile. Raises NotDone if it is not cut yet."""
        pages = [page for page in self.pages if page.pile_id == pile_id]
        if any(one.document_id is None and one.left_out is None for one in pages):
            raise NotDone("This pile is still being read. It can be mended as soon as it is cut.")
        return pages

    def document(self) -> list[Page]:
        """The pages of the document of the page at hand. Raises NotDone if it belongs to none."""
        if self.page.document_id is None:
            raise NotDone("This page is left out and belongs to no document. Take it in first.")
        return [page for page in self.pages if page.document_id == self.page.document_id]

    def lay(self, moved: list[Page], at: int, pile_id: int | None) -> None:
        """Lay pages into a pile, before the one that is ``at`` that place among the others."""
        others = [page for page in self.pages if page not in moved]
        self.pages[:] = [*others[:at], *moved, *others[at:]]
        for page in moved:
            page.pile_id = pile_id


def cut_before(store: Store, page_id: int, person_id: int) -> str:
    """A document begins at this page. Raises NotDone if one does already."""
    with opened(store, page_id, person_id, "cut before page {}") as pile:
        document = pile.document()
        if document[0] is pile.page:
            raise NotDone("A document begins at this page already.")
        old = pile.session.get_one(Document, pile.page.document_id)
        cut = {**old.cut, "why": "cut by hand", "doubt": ""}
        new = Document(batch_id=old.batch_id, file_id=old.file_id, revision_id=old.revision_id, cut=cut)
        pile.session.add(new)
        pile.session.flush()
        for page in document[document.index(pile.page) :]:
            page.document_id = new.id
    return pile.told


def join_before(store: Store, page_id: int, person_id: int) -> str:
    """The document of this page goes on the one before it, also in the pile before. Raises NotDone if there is none."""
    with opened(store, page_id, person_id, "joined at page {}") as pile:
        document = pile.document()
        earlier = next((p for p in reversed(pile.pages[: pile.pages.index(document[0])]) if p.document_id), None)
        if earlier is None:
            raise NotDone("There is no document before this one.")
        if earlier.pile_id != pile.page.pile_id:
            last = pile.lying(earlier.pile_id)[-1]
            pile.lay(document, pile.pages.index(last) + 1, earlier.pile_id)
        for page in document:
            page.document_id = earlier.document_id
    return pile.told


def leave_out(store: Store, page_id: int, person_id: int) -> str:
    """The page belongs to no document: it is kept, but not delivered. Raises NotDone if that is so already."""
    with opened(store, page_id, person_id, "took out page {}") as pile:
        pile.document()
        pile.page.document_id, pile.page.left_out = None, BY_HAND
    return pile.told


def take_in(store: Store, page_id: int, person_id: int) -> str:
    """The page belongs to the document before it, or after it at the beginning. Raises NotDone."""
    with opened(store, page_id, person_id, "took in page {}") as pile:
        if pile.page.document_id:
            raise NotDone("This page belongs to a document already.")
        lying = pile.lying(pile.page.pile_id)
        near = _nearest(lying, lying.index(pile.page))
        if near is None:
            raise NotDone("There is no document that it could belong to.")
        pile.page.document_id, pile.page.left_out = near.document_id, None
    return pile.told


def move_page(store: Store, page_id: int, target_id: int, side: Side, person_id: int) -> str:
    """Lay the page before or after another one of the batch, into its pile and document. Raises Missing, NotDone."""
    with opened(store, page_id, person_id, "moved page {}") as pile:
        others = [page for page in pile.pages if page is not pile.page]
        target = next((page for page in others if page.id == target_id), None)
        if target is None:
            raise Missing("There is no such page in this batch.")
        lying = [page for page in pile.lying(target.pile_id) if page is not pile.page]
        near = _nearest(lying, lying.index(target) + (side == "after"), target)
        if pile.page.document_id and near is None:
            raise NotDone("That pile has no document that the page could belong to.")
        if pile.page.document_id and near:
            pile.page.document_id = near.document_id
        pile.lay([pile.page], others.index(target) + (side == "after"), target.pile_id)
    return pile.told


def _nearest(lying: list[Page], at: int, target: Page | None = None) -> Page | None:
    """The page whose document a page at that place of a pile belongs to: the target's, the one's before, or after."""
    if target and target.document_id:
        return target
    return next((p for p in [*reversed(lying[:at]), *lying[at:]] if p.document_id), None)


def take_back(store: Store, batch_id: int, person_id: int) -> str:
    """Undo the last mending of the batch that is not undone yet; returns what it was. Raises NotDone."""
    with store.transaction() as session:
        event = _last(session, batch_id)
        if event is None:
            raise NotDone("There is nothing to take back.")
        pages = _pages_of_batch(session, batch_id)
        before = _as_it_lies(pages)
        for page in pages:
            kept = event.before["pages"].get(str(page.id))
            if kept:
                page.sqlmodel_update(kept)
                made = (page.image, page.thumbnail, page.reading)  # deleted where something was blacked out
                if not all(name and store.blobs.holds(name) for name in made):
                    read_again(session, page)
        pages.sort(key=lambda page: (page.pile_id or 0, page.place))
        _keep(session, pages, before, person_id)
        said = str(event.after["said"])
        note(session, TAKEN_BACK, batch_id=batch_id, person_id=person_id, after={"event": event.id, "said": said})
        return said


def read_again(session: Session, page: Page) -> None:
    """The page is to be read once more; until then there is no picture of it."""
    page.state, page.problem = PageState.WAITING, None
    page.image = page.thumbnail = page.reading = None
    defer(session, "read_page", priority=READ, page_id=page.id)


def can_take_back(session: Session, batch_id: int) -> bool:
    return _last(session, batch_id) is not None


@contextmanager
def opened(store: Store, page_id: int, person_id: int, said: str) -> Iterator[Mending]:
    """The piles round a page, to be mended; what then changed is kept with what it was before.

    ``said`` tells in the trail what was done, with the page's number in its pile. Raises Missing, NotDone.
    """
    with store.transaction() as session:
        page = session.get(Page, page_id)
        if page is None or page.pile_id is None:
            raise Missing("There is no such page.")
        batch_id = session.get_one(ArrivedFile, page.pile_id).batch_id
        pages = _pages_of_batch(session, batch_id)
        session.refresh(page)
        pile = Mending(session, pages, page)
        before, was, number = _as_it_lies(pages), _kept(pages), pile.lying(page.pile_id).index(page) + 1
        yield pile
        lost = _keep(session, pages, before, person_id)
        if lost:
            pile.told = f"What was settled by hand in document {', '.join(map(str, lost))} is found anew."
        now = _kept(pages)
        changed = {key: kept for key, kept in was.items() if now[key] != kept}
        note(session, MENDED, batch_id=batch_id, person_id=person_id, before={"pages": changed},
             after={"said": said.format(number)})  # fmt: skip


def _pages_of_batch(session: Session, batch_id: int) -> list[Page]:
    """All pages of the batch as they lie, with its files locked against whatever is being read or mended."""
    files = select(ArrivedFile.id).where(ArrivedFile.batch_id == batch_id).order_by(col(ArrivedFile.id))
    numbers = session.exec(files.with_for_update()).all()
    lying = (
        select(Page).where(col(Page.pile_id).in_(numbers)).order_by(col(Page.pile_id), col(Page.place), col(Page.id))
    )
    return list(session.exec(lying.execution_options(populate_existing=True)))


def _kept(pages: list[Page]) -> dict[str, dict[str, Any]]:
    return {str(page.id): {name: getattr(page, name) for name in _KEPT} for page in pages}


def _as_it_lies(pages: list[Page]) -> dict[int, list[tuple[int, str]]]:
    """By document, its pages as they lie, each with what was done to it by hand."""
    lying: dict[int, list[tuple[int, str]]] = {}
    for page in pages:
        if page.document_id:
            lying.setdefault(page.document_id, []).append((page.id or 0, json.dumps(page.by_hand, sort_keys=True)))
    return lying


def _keep(session: Session, pages: list[Page], before: dict[int, list[tuple[int, str]]], person_id: int) -> list[int]:
    """Number the pages anew, and see to the documents whose pages changed; returns those that lose what was settled.

    Raises NotDone for one that has gone on.
    """
    after = _as_it_lies(pages)
    touched = sorted(number for number in {*before, *after} if before.get(number) != after.get(number))
    by_hand = select(FieldValue.document_id).where(
        col(FieldValue.document_id).in_(touched), col(FieldValue.settled_by_id).is_not(None)
    )
    lost = sorted(set(session.exec(by_hand)))
    for number in touched:
        _changed(session, session.get_one(Document, number), bool(after.get(number)), person_id)
    in_document, in_pile = Counter[int | None](), Counter[int | None]()
    for page in pages:
        page.place = in_pile[page.pile_id]
        page.position = in_document[page.document_id] if page.document_id else page.place
        in_pile[page.pile_id] += 1
        in_document[page.document_id] += 1
    session.flush()
    return lost


def _changed(session: Session, document: Document, has_pages: bool, person_id: int) -> None:
    holder = holder_name(session, document, person_id)
    if holder:
        raise NotDone(f"{holder} has document {document.id} in hand; its pages cannot be changed now.")
    if document.state not in OPEN:
        raise NotDone(f"Document {document.id} is {WORDS[document.state]}; its pages cannot be changed any more.")
    for table in (FieldValue, CheckResult, TableRow):
        session.exec(delete(table).where(col(table.document_id) == document.id))
    if not has_pages:
        dissolve(session, document, person_id)
        return
    read_anew(document)
    if session.get_one(ArrivedFile, document.file_id).state != FileState.CUT:
        defer(session, "capture", priority=CAPTURE, document_id=document.id)


def _last(session: Session, batch_id: int) -> Event | None:
    """The last mending that is not taken back."""
    wanted = select(Event).where(Event.batch_id == batch_id, col(Event.what).in_((MENDED, TAKEN_BACK)))
    back: set[int] = set()
    for event in session.exec(wanted.order_by(col(Event.id).desc())):
        if event.what == TAKEN_BACK:
            back.add(int(event.after["event"]))
        elif event.id not in back:
            return event
    return None
