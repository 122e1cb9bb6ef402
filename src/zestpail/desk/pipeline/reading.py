"""What a worker does with an arrived file: open it, read its pages, find its values. Each step can be done twice."""

from __future__ import annotations

from sqlmodel import Session, select

from zestpail.core.problems import Unreadable
from zestpail.core.reading.opening import count_pages
from zestpail.core.reading.unpacking import plain_text, unpacked_files
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import (
    lane_of_file,
)
from zestpail.desk.documents.gone_files import forget
from zestpail.desk.documents.next_step import go_on_with
from zestpail.desk.documents.page_readings import keep_text
from zestpail.desk.intake.unpacking import unpack
from zestpail.desk.pipeline.page_pipeline import PageWanted, blobs_in, failed, read_and_keep
from zestpail.desk.pipeline.split import begin_pages
from zestpail.store import Store
from zestpail.store.jobs import Priority, defer
from zestpail.store.states import FileState, PageState
from zestpail.store.tables import ArrivedFile, Document, Page


def open_file(store: Store, file_id: int) -> None:
    """Count the file's pages and put them to reading, unpack what is packed, or refuse it with the reason."""
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id)
        if file.state != FileState.WAITING:
            return
        blob, name, inside = file.blob, file.name, file.of_id is not None
    try:
        data = store.blobs.get(blob)
        package = None if inside else plain_text(name, data) or unpacked_files(data, store.limits)
        pages, problem = 0 if package else count_pages(data, store.limits), None
    except Unreadable as refusal:
        package, pages, problem = None, 0, str(refusal)
    if package:
        unpack(store, file_id, package)
        return
    if problem:
        refuse_file(store, file_id, problem)
        return
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id, with_for_update=True)
        if file.state == FileState.WAITING:
            begin_pages(session, file, pages)


def refuse_file(store: Store, file_id: int, problem: str) -> None:
    """Keep the file, but do nothing with it; the reason is shown with it."""
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id, with_for_update=True)
        if file.state == FileState.WAITING:
            file.state, file.problem = FileState.REFUSED, problem
            note(session, "file_refused", batch_id=file.batch_id, after={"file": file.name, "why": problem})


def read_page(store: Store, page_id: int) -> None:
    """Read one page and keep its reading and prepared image; with the last page, find the document's values."""
    with store.transaction() as session:
        page = session.get_one(Page, page_id)
        if page.state != PageState.WAITING:
            return
        file, edits = session.get_one(ArrivedFile, page.file_id), page.edits
        lane_settings = lane_of_file(session, file).settings
        wanted = PageWanted(
            file.blob, page.file_index, lane_settings.reading, lane_settings.cleaning, edits, store.limits
        )
    row = read_and_keep(store.blobs, wanted)
    if "reading" in row:
        keep_text(store, row["reading"])
    with store.transaction() as session:
        page = _page_to_finish(session, page_id)
        as_read = page.state == PageState.WAITING and page.edits == edits
        if as_read:
            page.sqlmodel_update(row)
            _page_finished(session, page)
    if not as_read:  # it was changed meanwhile: nothing of what is blacked out now may stay behind
        forget(store, blobs_in(row))


def fail_page(store: Store, page_id: int, problem: str) -> None:
    """Go on without a page that cannot be read; its document asks for a person."""
    with store.transaction() as session:
        page = _page_to_finish(session, page_id)
        if page.state == PageState.WAITING:
            page.sqlmodel_update(failed(problem))
            _page_finished(session, page)


def _page_to_finish(session: Session, page_id: int) -> Page:
    """The page, with its file locked: two workers that finish its last pages must see each other's."""
    page = session.get_one(Page, page_id)
    session.get_one(ArrivedFile, page.file_id, with_for_update=True)
    session.refresh(page)
    return page


def _page_finished(session: Session, page: Page) -> None:
    """Tell of it; with the last page of a document find its values, with the last one of a stack split it."""
    session.flush()
    document = session.get(Document, page.document_id) if page.document_id else None
    file = session.get_one(ArrivedFile, page.file_id)
    note(session, "page_read" if page.state == PageState.READ else "page_failed", document=document,
         batch_id=file.batch_id,
         after={"page": page.file_index + 1, "source": page.source, "problem": page.problem})  # fmt: skip
    together = Page.document_id == page.document_id if document else Page.stack_id == page.stack_id
    waiting = select(Page.id).where(together, Page.state == PageState.WAITING)
    if session.exec(waiting).first() is not None:
        return
    if document and file.state != FileState.SPLIT:
        go_on_with(session, document)
    elif page.left_out is None and file.state != FileState.SPLIT:
        defer(session, "split", priority=Priority.EXTRACT, file_id=file.id)
