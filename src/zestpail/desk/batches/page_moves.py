"""Mending piles on the page ribbon: cut, join, move, leave out, take in; each a change that can be taken back.

Documents that have gone on cannot be changed any more. Those that change have their values found anew.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, Literal

from sqlmodel import Session, col, delete, select

from zestpail.desk.documents.audit import note
from zestpail.desk.documents.holding import holder_name
from zestpail.desk.documents.journal import last_change, undo_last, write_down
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.next_step import go_on_with
from zestpail.desk.documents.transitions import (
    WORDS,
    dissolve,
    read_anew,
)
from zestpail.store import Store
from zestpail.store.columns import put_back, saved
from zestpail.store.jobs import Priority, defer
from zestpail.store.states import DocumentState, FileState, PageState
from zestpail.store.tables import ArrivedFile, CheckResult, Document, FieldValue, Page, TableRow

Side = Literal["before", "after"]
CHANGEABLE = (DocumentState.READING, DocumentState.SORTING, DocumentState.REVIEW, DocumentState.DISSOLVED)
BY_HAND = "taken out by hand"
_SAVED = ("document_id", "stack_id", "position", "place", "left_out", "edits", "notes",
         "state", "problem", "image", "thumbnail", "reading", "width", "height", "source")  # fmt: skip


@dataclass
class StackEdit:
    """The piles of a batch as they are being mended: all pages as they lie, and the one at hand."""

    session: Session
    pages: list[Page]
    page: Page
    details: str = ""
    """What a person should know once it is mended."""

    def lying(self, stack_id: int | None) -> list[Page]:
        """The pages of one pile. Raises NotDone if it is not cut yet."""
        pages = [page for page in self.pages if page.stack_id == stack_id]
        if any(one.document_id is None and one.left_out is None for one in pages):
            raise NotDone("This stack is still being read. It can be changed as soon as it is split.")
        return pages

    def document(self) -> list[Page]:
        """The pages of the document of the page at hand. Raises NotDone if it belongs to none."""
        if self.page.document_id is None:
            raise NotDone("This page is left out and belongs to no document. Take it in first.")
        return [page for page in self.pages if page.document_id == self.page.document_id]

    def lay(self, moved: list[Page], at: int, stack_id: int | None) -> None:
        """Lay pages into a pile, before the one that is ``at`` that place among the others."""
        others = [page for page in self.pages if page not in moved]
        self.pages[:] = [*others[:at], *moved, *others[at:]]
        for page in moved:
            page.stack_id = stack_id


def split_before(store: Store, page_id: int, person_id: int) -> str:
    """A document begins at this page. Raises NotDone if one does already."""
    with opened(store, page_id, person_id, "split before page {}") as stack:
        document = stack.document()
        if document[0] is stack.page:
            raise NotDone("A document begins at this page already.")
        old = stack.session.get_one(Document, stack.page.document_id)
        origin = old.origin.model_copy(update={"why": "split by hand", "doubt": ""})
        new = Document(batch_id=old.batch_id, file_id=old.file_id, revision_id=old.revision_id, origin=origin)
        stack.session.add(new)
        stack.session.flush()
        for page in document[document.index(stack.page) :]:
            page.document_id = new.id
    return stack.details


def join_before(store: Store, page_id: int, person_id: int) -> str:
    """The document of this page goes on the one before it, also in the pile before. Raises NotDone if there is none."""
    with opened(store, page_id, person_id, "joined at page {}") as stack:
        document = stack.document()
        earlier = next((p for p in reversed(stack.pages[: stack.pages.index(document[0])]) if p.document_id), None)
        if earlier is None:
            raise NotDone("There is no document before this one.")
        if earlier.stack_id != stack.page.stack_id:
            last = stack.lying(earlier.stack_id)[-1]
            stack.lay(document, stack.pages.index(last) + 1, earlier.stack_id)
        for page in document:
            page.document_id = earlier.document_id
    return stack.details


def leave_out(store: Store, page_id: int, person_id: int) -> str:
    """The page belongs to no document: it is kept, but not delivered. Raises NotDone if that is so already."""
    with opened(store, page_id, person_id, "left out page {}") as stack:
        stack.document()
        stack.page.document_id, stack.page.left_out = None, BY_HAND
    return stack.details


def take_in(store: Store, page_id: int, person_id: int) -> str:
    """The page belongs to the document before it, or after it at the beginning. Raises NotDone."""
    with opened(store, page_id, person_id, "took page {} back in") as stack:
        if stack.page.document_id:
            raise NotDone("This page belongs to a document already.")
        lying = stack.lying(stack.page.stack_id)
        near = nearest(lying, lying.index(stack.page))
        if near is None:
            raise NotDone("There is no document that it could belong to.")
        stack.page.document_id, stack.page.left_out = near.document_id, None
    return stack.details


def move_page(store: Store, page_id: int, target_id: int, side: Side, person_id: int) -> str:
    """Lay the page before or after another one of the batch, into its pile and document. Raises Missing, NotDone."""
    with opened(store, page_id, person_id, "moved page {}") as stack:
        others = [page for page in stack.pages if page is not stack.page]
        target = next((page for page in others if page.id == target_id), None)
        if target is None:
            raise Missing("There is no such page in this batch.")
        lying = [page for page in stack.lying(target.stack_id) if page is not stack.page]
        near = nearest(lying, lying.index(target) + (side == "after"), target)
        if stack.page.document_id and near is None:
            raise NotDone("That stack has no document that the page could belong to.")
        if stack.page.document_id and near:
            stack.page.document_id = near.document_id
        stack.lay([stack.page], others.index(target) + (side == "after"), target.stack_id)
    return stack.details


def nearest(lying: list[Page], at: int, target: Page | None = None) -> Page | None:
    """The page whose document a page at that place of a pile belongs to: the target's, the one's before, or after."""
    if target and target.document_id:
        return target
    return next((p for p in [*reversed(lying[:at]), *lying[at:]] if p.document_id), None)


def undo(store: Store, batch_id: int, person_id: int) -> str:
    """Undo the last change of the batch's pages that is not undone yet; returns what it was. Raises NotDone."""
    with store.transaction() as session:
        pages = _pages_of_batch(session, batch_id)
        before = _as_it_lies(pages)

        def put_pages_back(values: dict[str, Any]) -> None:
            for page in pages:
                if str(page.id) in values["pages"]:
                    put_back(page, values["pages"][str(page.id)])
                    made = (page.image, page.thumbnail, page.reading)  # deleted where something was blacked out
                    if not all(name and store.blobs.holds(name) for name in made):
                        read_again(session, page)

        entry = undo_last(session, _subject(batch_id), put_pages_back)
        pages.sort(key=lambda page: (page.stack_id or 0, page.place))
        _keep(session, pages, before, person_id)
        note(session, "pages_undone", batch_id=batch_id, person_id=person_id, after={"message": entry.message})
        return entry.message


def read_again(session: Session, page: Page) -> None:
    """The page is to be read once more; until then there is no picture of it."""
    page.state, page.problem = PageState.WAITING, None
    page.image = page.thumbnail = page.reading = None
    defer(session, "read_page", priority=Priority.READ, page_id=page.id)


def undoable(session: Session, batch_id: int) -> str:
    """What undoing would take back; empty where there is nothing."""
    change = last_change(session, _subject(batch_id))
    return change.message if change else ""


def _subject(batch_id: int) -> str:
    """What changes of the batch's pages are written down under."""
    return f"batch {batch_id}"


@contextmanager
def opened(store: Store, page_id: int, person_id: int, message: str) -> Iterator[StackEdit]:
    """The piles round a page, to be mended; what then changed is kept with what it was before.

    ``said`` tells in the trail what was done, with the page's number in its pile. Raises Missing, NotDone.
    """
    with store.transaction() as session:
        page = session.get(Page, page_id)
        if page is None or page.stack_id is None:
            raise Missing("There is no such page.")
        batch_id = session.get_one(ArrivedFile, page.stack_id).batch_id
        pages = _pages_of_batch(session, batch_id)
        session.refresh(page)
        stack = StackEdit(session, pages, page)
        before, was, number = _as_it_lies(pages), _snapshot(pages), stack.lying(page.stack_id).index(page) + 1
        yield stack
        lost = _keep(session, pages, before, person_id)
        if lost:
            stack.details = f"What was settled by hand in document {', '.join(map(str, lost))} is found anew."
        now = _snapshot(pages)
        changed = {key: values for key, values in was.items() if now[key] != values}
        done = message.format(number)
        write_down(session, _subject(batch_id), done, {"pages": changed}, person_id)
        note(session, "pages_changed", batch_id=batch_id, person_id=person_id, after={"message": done})


def _pages_of_batch(session: Session, batch_id: int) -> list[Page]:
    """All pages of the batch as they lie, with its files locked against whatever is being read or mended."""
    files = select(ArrivedFile.id).where(ArrivedFile.batch_id == batch_id).order_by(col(ArrivedFile.id))
    numbers = session.exec(files.with_for_update()).all()
    lying = (
        select(Page).where(col(Page.stack_id).in_(numbers)).order_by(col(Page.stack_id), col(Page.place), col(Page.id))
    )
    return list(session.exec(lying.execution_options(populate_existing=True)))


def _snapshot(pages: list[Page]) -> dict[str, dict[str, Any]]:
    return {str(page.id): saved(page, _SAVED) for page in pages}


def _as_it_lies(pages: list[Page]) -> dict[int, list[tuple[int, str]]]:
    """By document, its pages as they lie, each with what was done to it by hand."""
    lying: dict[int, list[tuple[int, str]]] = {}
    for page in pages:
        if page.document_id:
            lying.setdefault(page.document_id, []).append((page.id or 0, page.edits.model_dump_json()))
    return lying


def _keep(session: Session, pages: list[Page], before: dict[int, list[tuple[int, str]]], person_id: int) -> list[int]:
    """Number the pages anew, and see to the documents whose pages changed; returns those that lose what was settled.

    Raises NotDone for one that has gone on.
    """
    after = _as_it_lies(pages)
    touched = sorted(number for number in {*before, *after} if before.get(number) != after.get(number))
    edits = select(FieldValue.document_id).where(
        col(FieldValue.document_id).in_(touched), col(FieldValue.settled_by_id).is_not(None)
    )
    lost = sorted(set(session.exec(edits)))
    for number in touched:
        _changed(session, session.get_one(Document, number), bool(after.get(number)), person_id)
    in_document, in_pile = Counter[int | None](), Counter[int | None]()
    for page in pages:
        page.place = in_pile[page.stack_id]
        page.position = in_document[page.document_id] if page.document_id else page.place
        in_pile[page.stack_id] += 1
        in_document[page.document_id] += 1
    session.flush()
    return lost


def _changed(session: Session, document: Document, has_pages: bool, person_id: int) -> None:
    holder = holder_name(session, document, person_id)
    if holder:
        raise NotDone(f"{holder} is working on document {document.id}; its pages cannot be changed now.")
    if document.state not in CHANGEABLE:
        raise NotDone(f"Document {document.id} is {WORDS[document.state]}; its pages cannot be changed any more.")
    for table in (FieldValue, CheckResult, TableRow):
        session.exec(delete(table).where(col(table.document_id) == document.id))
    if not has_pages:
        dissolve(session, document, person_id)
        return
    read_anew(document)
    document.sorted = None
    if session.get_one(ArrivedFile, document.file_id).state != FileState.SPLIT:
        go_on_with(session, document)
