"""From the pages of a file to its documents: at once where the file is one, else when all of its pages are read."""

from __future__ import annotations

from itertools import zip_longest

from sqlmodel import Session, select

from zestpail.core.classification.pile import SortedPile, sort_pile
from zestpail.core.separation import SplitDocument, SplitResult, split_stack
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import (
    lane_of_file,
    revision_for,
    revision_named,
)
from zestpail.desk.documents.lane_classifier import taught_by
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.pipeline.sort import take_for, told_of
from zestpail.store import Store
from zestpail.store.document_origin import DocumentOrigin, given_by
from zestpail.store.jobs import Priority, defer
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.pages import pages_of_stack
from zestpail.store.states import DocumentState, FileState, PageState
from zestpail.store.tables import ArrivedFile, Document, Page


def begin_pages(session: Session, file: ArrivedFile, count: int) -> None:
    """The pages of a file that was opened, put to reading; with their document where the file is one."""
    file.state = FileState.OPENED
    lane_settings = lane_of_file(session, file).settings
    document = None
    if lane_settings.known_at_once:
        revision = revision_for(session, lane_settings)
        origin = DocumentOrigin(given=given_by(file.given))
        document = Document(batch_id=file.batch_id, file_id=file.id or 0, revision_id=revision.id or 0, origin=origin)
        session.add(document)
        session.flush()
    for at in range(count):
        page = Page(file_id=file.id or 0, stack_id=file.id, document_id=document.id if document else None, position=at,
                    file_index=at, place=at)  # fmt: skip
        session.add(page)
        session.flush()
        defer(session, "read_page", priority=Priority.READ, page_id=page.id)
    note(session, "file_opened", document=document, batch_id=file.batch_id, after={"file": file.name, "pages": count})


def separate_file(store: Store, file_id: int) -> None:
    """Cut a file whose pages are all read into documents. Does nothing where that is done, or pages still wait."""
    with store.transaction() as session:
        pages = pages_of_stack(session, file_id)
        if not _to_be_split(pages):
            return
        file = session.get_one(ArrivedFile, file_id)
        lane_settings = lane_of_file(session, file).settings
        taught = taught_by(session, lane_settings.sorting) if lane_settings.sorting else None
        told = told_of(file)
    read = [reading_of(store, page) for page in pages]
    if taught:
        stack = sort_pile(read, lane_settings.separation, taught, told)
    else:
        stack = SortedPile(split=split_stack(read, lane_settings.separation))
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id, with_for_update=True)
        pages = pages_of_stack(session, file_id)
        if _to_be_split(pages):
            _keep_split(session, file, pages, stack, lane_settings)


def go_on(store: Store, file_id: int, person_id: int) -> None:
    """The cuts are right: find the values of the file's documents. Raises NotDone if that was said already."""
    with store.transaction() as session:
        file = session.get(ArrivedFile, file_id, with_for_update=True)
        if file is None:
            raise Missing("There is no such file.")
        if file.state != FileState.SPLIT:
            raise NotDone(f"The documents of {file.name} have gone on already.")
        file.state = FileState.OPENED
        wanted = select(Document).where(Document.file_id == file_id, Document.state == DocumentState.READING)
        for document in session.exec(wanted):
            defer(session, "extract", priority=Priority.EXTRACT, document_id=document.id)
        note(session, "splits_approved", batch_id=file.batch_id, person_id=person_id, after={"file": file.name})


def keep_whole(store: Store, file_id: int, problem: str) -> None:
    """Make one document of a pile that cannot be cut, for a person to see."""
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id, with_for_update=True)
        pages = pages_of_stack(session, file_id)
        if _to_be_split(pages):
            whole = SplitDocument(pages=tuple(range(len(pages))), why="the first page", doubt=problem)
            stack = SortedPile(split=SplitResult(documents=(whole,)))
            _keep_split(session, file, pages, stack, lane_of_file(session, file).settings)


def _to_be_split(pages: list[Page]) -> bool:
    decided = any(page.document_id or page.left_out for page in pages)
    return bool(pages) and not decided and all(page.state != PageState.WAITING for page in pages)


def _keep_split(
    session: Session, file: ArrivedFile, pages: list[Page], stack: SortedPile, lane_settings: LaneSettings
) -> None:
    cut = stack.split
    for left in cut.left_out:
        pages[left.page].left_out = left.why
    for document_pages, found in zip_longest(cut.documents, stack.sorted):
        document = _document(session, file, document_pages, lane_settings)
        for at, number in enumerate(document_pages.pages):
            pages[number].document_id, pages[number].position = document.id, at
        session.flush()
        note(
            session,
            "document_split",
            document=document,
            after={"why": document_pages.why, "pages": len(document_pages.pages)},
        )
        if found:
            take_for(session, document, found, lane_settings)
        if lane_settings.separation.goes_on == "at_once" and document.state == DocumentState.READING:
            defer(session, "extract", priority=Priority.EXTRACT, document_id=document.id)
    if lane_settings.separation.goes_on != "at_once":
        file.state = FileState.SPLIT
    details = {"file": file.name, "documents": len(cut.documents), "left out": len(cut.left_out)}
    note(session, "stack_split", batch_id=file.batch_id, after=details)


def _document(
    session: Session, file: ArrivedFile, document_pages: SplitDocument, lane_settings: LaneSettings
) -> Document:
    revision, doubt = revision_named(session, lane_settings, document_pages.type), document_pages.doubt
    if revision is None:
        revision = revision_for(session, lane_settings)
        doubt = f"Its sheet asks for the type {document_pages.type}, with which this lane does not read"
    if document_pages.mail and not lane_settings.may_mail(document_pages.mail):
        doubt = f"Its sheet asks to send it to {document_pages.mail}, an address that the lane does not allow"
    origin = DocumentOrigin(
        why=document_pages.why,
        given={**given_by(file.given), **document_pages.values},
        bundle=document_pages.bundle,
        mail=document_pages.mail,
        doubt=doubt,
    )
    document = Document(batch_id=file.batch_id, file_id=file.id or 0, revision_id=revision.id or 0, origin=origin)
    session.add(document)
    session.flush()
    return document
