"""Mending a pile on the page ribbon: cut, join, move, leave out, turn; each a change that can be taken back.

Documents that have gone on cannot be changed any more. Those that change have their values found anew.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from sqlmodel import Session, col, delete, select

from zestpail.desk.review import holder_name
from zestpail.desk.sentences import Missing, NotDone
from zestpail.desk.separating import pages_of_file
from zestpail.desk.states import CAPTURE, READ, WORDS, dissolve, read_anew
from zestpail.desk.trail import note
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
OPEN = (DocumentState.READING, DocumentState.REVIEW, DocumentState.DISSOLVED)
BY_HAND = "taken out by hand"
_KEPT = ("document_id", "position", "place", "left_out", "turned", "state", "problem", "image", "thumbnail", "reading",
         "width", "height", "source")  # fmt: skip


@dataclass
class Mending:
    """A pile as it is being mended: its pages as they lie, and the one at hand."""

    session: Session
    file: ArrivedFile
    pages: list[Page]
    page: Page
    told: str = ""
    """What a person should know once it is mended."""

    @property
    def at(self) -> int:
        return self.pages.index(self.page)

    def before(self) -> Page | None:
        """The nearest page before the one at hand that belongs to a document."""
        return next((page for page in reversed(self.pages[: self.at]) if page.document_id), None)

    def document(self) -> list[Page]:
        """The pages of the document of the page at hand. Raises NotDone if it belongs to none."""
        if self.page.document_id is None:
            raise NotDone("This page is left out and belongs to no document. Take it in first.")
        return [page for page in self.pages if page.document_id == self.page.document_id]


def cut_before(store: Store, page_id: int, person_id: int) -> str:
    """A document begins at this page. Raises NotDone if one does already."""
    with _mending(store, page_id, person_id, "cut before page {}") as pile:
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
    """The document of this page goes on the one before it. Raises NotDone if there is none."""
    with _mending(store, page_id, person_id, "joined at page {}") as pile:
        document = pile.document()
        earlier = [p for p in pile.pages[: pile.pages.index(document[0])] if p.document_id]
        if not earlier:
            raise NotDone("There is no document before this one.")
        for page in document:
            page.document_id = earlier[-1].document_id
    return pile.told


def leave_out(store: Store, page_id: int, person_id: int) -> str:
    """The page belongs to no document: it is kept, but not delivered. Raises NotDone if that is so already."""
    with _mending(store, page_id, person_id, "took out page {}") as pile:
        pile.document()
        pile.page.document_id, pile.page.left_out = None, BY_HAND
    return pile.told


def take_in(store: Store, page_id: int, person_id: int) -> str:
    """The page belongs to the document before it, or after it at the beginning. Raises NotDone."""
    with _mending(store, page_id, person_id, "took in page {}") as pile:
        if pile.page.document_id:
            raise NotDone("This page belongs to a document already.")
        near = pile.before() or next((page for page in pile.pages[pile.at :] if page.document_id), None)
        if near is None:
            raise NotDone("There is no document that it could belong to.")
        pile.page.document_id, pile.page.left_out = near.document_id, None
    return pile.told


def move_page(store: Store, page_id: int, before_id: int | None, person_id: int) -> str:
    """Lay the page before another one, into its document; at the end for None. Raises Missing."""
    with _mending(store, page_id, person_id, "moved page {}") as pile:
        others = [page for page in pile.pages if page is not pile.page]
        target = next((page for page in others if page.id == before_id), None)
        if before_id is not None and target is None:
            raise Missing("There is no such page in this pile.")
        at = others.index(target) if target else len(others)
        near = (
            target if target and target.document_id else next((p for p in reversed(others[:at]) if p.document_id), None)
        )
        pile.pages[:] = [*others[:at], pile.page, *others[at:]]
        if pile.page.document_id and near:
            pile.page.document_id = near.document_id
    return pile.told


def turn(store: Store, page_id: int, degrees: int, person_id: int) -> str:
    """Turn the page clockwise by 90, 180 or 270 degrees and read it anew."""
    if degrees not in (90, 180, 270):
        raise NotDone("A page can be turned by quarters only.")
    with _mending(store, page_id, person_id, "turned page {}") as pile:
        page = pile.page
        page.turned = (page.turned + degrees) % 360
        page.state, page.problem = PageState.WAITING, None
        defer(pile.session, "read_page", priority=READ, page_id=page.id)
    return pile.told


def take_back(store: Store, batch_id: int, person_id: int) -> str:
    """Undo the last mending of the batch that is not undone yet; returns what it was. Raises NotDone."""
    with store.transaction() as session:
        event = _last(session, batch_id)
        if event is None:
            raise NotDone("There is nothing to take back.")
        file = session.get_one(ArrivedFile, int(event.after["file_id"]), with_for_update=True)
        pages = pages_of_file(session, file.id or 0)
        before = _as_it_lies(pages)
        for page in pages:
            kept = event.before["pages"].get(str(page.id))
            if kept:
                page.sqlmodel_update(kept)
        pages.sort(key=lambda page: page.place)
        _keep(session, file, pages, before, person_id)
        said = str(event.after["said"])
        note(session, TAKEN_BACK, batch_id=batch_id, person_id=person_id, after={"event": event.id, "said": said})
        return said


def can_take_back(session: Session, batch_id: int) -> bool:
    return _last(session, batch_id) is not None


@contextmanager
def _mending(store: Store, page_id: int, person_id: int, said: str) -> Iterator[Mending]:
    with store.transaction() as session:
        page = session.get(Page, page_id)
        if page is None or page.file_id is None:
            raise Missing("There is no such page.")
        file = session.get_one(ArrivedFile, page.file_id, with_for_update=True)
        pages = pages_of_file(session, page.file_id)
        if any(one.document_id is None and one.left_out is None for one in pages):
            raise NotDone("This pile is still being read. It can be mended as soon as it is cut.")
        before, was, number = _as_it_lies(pages), _kept(pages), pages.index(page) + 1
        pile = Mending(session, file, pages, page)
        yield pile
        lost = _keep(session, file, pages, before, person_id)
        if lost:
            pile.told = f"What was settled by hand in document {', '.join(map(str, lost))} is found anew."
        now = _kept(pages)
        changed = {key: kept for key, kept in was.items() if now[key] != kept}
        note(session, MENDED, batch_id=file.batch_id, person_id=person_id, before={"pages": changed},
             after={"file_id": file.id, "said": said.format(number)})  # fmt: skip


def _kept(pages: list[Page]) -> dict[str, dict[str, Any]]:
    return {str(page.id): {name: getattr(page, name) for name in _KEPT} for page in pages}


def _as_it_lies(pages: list[Page]) -> dict[int, list[tuple[int, int]]]:
    """By document, its pages as they lie, each with how it is turned."""
    lying: dict[int, list[tuple[int, int]]] = {}
    for page in pages:
        if page.document_id:
            lying.setdefault(page.document_id, []).append((page.id or 0, page.turned))
    return lying


def _keep(
    session: Session, file: ArrivedFile, pages: list[Page], before: dict[int, list[tuple[int, int]]], person_id: int
) -> list[int]:
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
        _changed(session, file, session.get_one(Document, number), bool(after.get(number)), person_id)
    places: dict[int | None, int] = {}
    for at, page in enumerate(pages):
        page.place = at
        page.position = places.get(page.document_id, 0) if page.document_id else at
        places[page.document_id] = page.position + 1
    session.flush()
    return lost


def _changed(session: Session, file: ArrivedFile, document: Document, has_pages: bool, person_id: int) -> None:
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
    if file.state != FileState.CUT:
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
