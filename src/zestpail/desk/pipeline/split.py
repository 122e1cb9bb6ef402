"""From the pages of a file to its documents: at once where the file is one, else when all of its pages are read."""

from __future__ import annotations

from sqlmodel import Session, select

from zestpail.core.separation import Pile, PiledDocument, separated
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import (
    lane_of_file,
    letter_of,
    revision_for,
    revision_named,
)
from zestpail.desk.documents.lane_settings import Letter
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.transitions import CAPTURE, READ
from zestpail.store import Store
from zestpail.store.jobs import defer
from zestpail.store.queries.pages import pages_of_pile
from zestpail.store.tables import ArrivedFile, Document, DocumentState, FileState, Page, PageState

CUT = "pages read and cut"
"""Name of the check that tells what a person should know of how a document was cut."""


def begin_pages(session: Session, file: ArrivedFile, count: int) -> None:
    """The pages of a file that was opened, put to reading; with their document where the file is one."""
    file.state = FileState.OPENED
    letter = letter_of(lane_of_file(session, file))
    document = None
    if letter.separation.each_file:
        revision = revision_for(session, letter)
        cut = {"given": file.given} if file.given else {}
        document = Document(batch_id=file.batch_id, file_id=file.id or 0, revision_id=revision.id or 0, cut=cut)
        session.add(document)
        session.flush()
    for at in range(count):
        page = Page(file_id=file.id or 0, pile_id=file.id, document_id=document.id if document else None, position=at,
                    file_index=at, place=at)  # fmt: skip
        session.add(page)
        session.flush()
        defer(session, "read_page", priority=READ, page_id=page.id)
    note(session, "opened", document=document, batch_id=file.batch_id, after={"file": file.name, "pages": count})


def separate_file(store: Store, file_id: int) -> None:
    """Cut a file whose pages are all read into documents. Does nothing where that is done, or pages still wait."""
    with store.transaction() as session:
        pages = pages_of_pile(session, file_id)
        if not _to_be_cut(pages):
            return
        file = session.get_one(ArrivedFile, file_id)
        letter = letter_of(lane_of_file(session, file))
    pile = separated([reading_of(store, page) for page in pages], letter.separation)
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id, with_for_update=True)
        pages = pages_of_pile(session, file_id)
        if _to_be_cut(pages):
            _keep_pile(session, file, pages, pile, letter)


def go_on(store: Store, file_id: int, person_id: int) -> None:
    """The cuts are right: find the values of the file's documents. Raises NotDone if that was said already."""
    with store.transaction() as session:
        file = session.get(ArrivedFile, file_id, with_for_update=True)
        if file is None:
            raise Missing("There is no such file.")
        if file.state != FileState.CUT:
            raise NotDone(f"The documents of {file.name} have gone on already.")
        file.state = FileState.OPENED
        wanted = select(Document).where(Document.file_id == file_id, Document.state == DocumentState.READING)
        for document in session.exec(wanted):
            defer(session, "capture", priority=CAPTURE, document_id=document.id)
        note(session, "cuts found right", batch_id=file.batch_id, person_id=person_id, after={"file": file.name})


def keep_whole(store: Store, file_id: int, problem: str) -> None:
    """Make one document of a pile that cannot be cut, for a person to see."""
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id, with_for_update=True)
        pages = pages_of_pile(session, file_id)
        if _to_be_cut(pages):
            whole = PiledDocument(pages=tuple(range(len(pages))), why="the first page", doubt=problem)
            _keep_pile(session, file, pages, Pile(documents=(whole,)), letter_of(lane_of_file(session, file)))


def _to_be_cut(pages: list[Page]) -> bool:
    decided = any(page.document_id or page.left_out for page in pages)
    return bool(pages) and not decided and all(page.state != PageState.WAITING for page in pages)


def _keep_pile(session: Session, file: ArrivedFile, pages: list[Page], pile: Pile, letter: Letter) -> None:
    for left in pile.left_out:
        pages[left.page].left_out = left.why
    for piled in pile.documents:
        document = _document(session, file, piled, letter)
        for at, number in enumerate(piled.pages):
            pages[number].document_id, pages[number].position = document.id, at
        session.flush()
        note(session, "cut", document=document, after={"why": piled.why, "pages": len(piled.pages)})
        if letter.separation.goes_on == "at once":
            defer(session, "capture", priority=CAPTURE, document_id=document.id)
    if letter.separation.goes_on != "at once":
        file.state = FileState.CUT
    told = {"file": file.name, "documents": len(pile.documents), "left out": len(pile.left_out)}
    note(session, "separated", batch_id=file.batch_id, after=told)


def _document(session: Session, file: ArrivedFile, piled: PiledDocument, letter: Letter) -> Document:
    revision, doubt = revision_named(session, letter, piled.type), piled.doubt
    if revision is None:
        revision = revision_for(session, letter)
        doubt = f"Its sheet asks for the type {piled.type}, with which this lane does not read"
    if piled.mail and not letter.may_mail(piled.mail):
        doubt = f"Its sheet asks to send it to {piled.mail}, to whom this lane's letter lets nothing be sent"
    cut = {
        "why": piled.why,
        "given": {**file.given, **piled.values},
        "bundle": piled.bundle,
        "mail": piled.mail,
        "doubt": doubt,
    }
    document = Document(batch_id=file.batch_id, file_id=file.id or 0, revision_id=revision.id or 0, cut=cut)
    session.add(document)
    session.flush()
    return document
