"""Erasing a document for good: its rows, files, words, copies and what the trail says of it.

What is left is a record that says that it was here, when it was erased and by which rule, and nothing that stood on it.
What was delivered lies with the systems that it was delivered to, and is theirs.
"""

from __future__ import annotations

from typing import NamedTuple

from sqlmodel import Session, col, select

from zestpail.core.writing.blanked_file import blanked
from zestpail.core.writing.mail_pages import readable
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import type_of
from zestpail.store import Store
from zestpail.store.queries import erasure as rows
from zestpail.store.queries.archive import forget_entry, forget_words, lock_entry, words_of_entry
from zestpail.store.queries.blob_use import let_go
from zestpail.store.queries.documents import pages_of, values_of
from zestpail.store.retention_tables import ErasedDocument, Erasure, Held
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Document, Page

GONE = "It was erased."


class _Named(NamedTuple):
    """What must not be found any more."""

    blobs: set[str]
    texts: set[str]
    """Names of files, and what samples were called."""


def erase_document(store: Store, document_id: int, erasure: Erasure) -> str:
    """Erase a document; returns why it was left, or "". The record is written down in the same transaction.

    Its files are let go: :mod:`zestpail.desk.documents.gone_files` deletes them.
    """
    with store.transaction() as session:
        document = session.get(Document, document_id, with_for_update=True)
        why = why_left(session, document)
        if document is None or why:
            return why
        record, gone = _erased(store, session, document, erasure.id or 0)
        let_go(session, gone.blobs, erased=True)
        session.add(record)
        note(session, "erased", batch_id=record.batch, person_id=erasure.person_id,
             after={"message": f"document {document_id}", "why": erasure.rule}, about=document_id)  # fmt: skip
    return ""


def why_left(session: Session, document: Document | None) -> str:
    """Why a document cannot be erased; "" where it can."""
    if document is None:
        return "It is not there any more."
    if session.get(Held, document.id):
        return "It is held back."
    if document.state in (DocumentState.READING, DocumentState.SORTING, DocumentState.REVIEW):
        return "It is not settled yet."
    if document.state in (DocumentState.SETTLED, DocumentState.STUCK):
        return "It is not delivered yet."
    return ""


def _erased(store: Store, session: Session, document: Document, erasure_id: int) -> tuple[ErasedDocument, _Named]:
    document_id, batch_id = document.id or 0, document.batch_id
    pages, values = pages_of(session, document_id), values_of(session, document_id)
    files = {number for page in pages if (number := page.file_id)} | {document.file_id}
    arrived = {
        one.id: one for one in session.exec(select(ArrivedFile).where(col(ArrivedFile.id).in_(files)).with_for_update())
    }
    first = arrived[document.file_id]
    gone = _Named(rows.blobs_of_document(session, document_id) | {first.blob}, set())
    copies = rows.copies_of(session, document_id, [one.blob for one in arrived.values()])
    record = ErasedDocument(
        erasure_id=erasure_id, document=document_id, batch=batch_id, type=type_of(session, document).key,
        arrived=document.arrived_at.date(), pages=len(pages), sha256=first.blob, samples=len(copies),
    )  # fmt: skip
    digests = {one.blob for one in arrived.values()} | {one.blob for one in copies}
    worth = {text for value in values for text in (value.value, value.raw) if text}
    rows.forget_learned(session, digests, worth)
    gone.texts.update(digests)
    for sample in copies:
        gone.blobs.update(rows.delete_sample(session, sample))
    gone.blobs.update(rows.delete_exports(session, document_id))
    _forget_found(session, document_id)
    indexes = {number: {page.file_index for page in pages if page.file_id == number} for number in files}
    rows.delete_document(session, document_id)
    session.expire_all()
    for number, of_it in indexes.items():
        gone.blobs.add(arrived[number].blob)
        _empty_file(store, session, arrived[number], of_it, gone)
    gone.blobs.update(rows.sheets_of_batch(session, batch_id))
    rows.blank_trail(session, batch_id, gone.texts)
    return record, gone


def _forget_found(session: Session, document_id: int) -> None:
    lock_entry(session, document_id)
    words = words_of_entry(session, document_id)
    forget_entry(session, document_id)
    forget_words(session, words)


def _empty_file(store: Store, session: Session, file: ArrivedFile, pages: set[int], gone: _Named) -> None:
    """What arrived has those pages no more; where no document is left of it, it is gone, with what it was packed in."""
    session.refresh(file)
    others = session.exec(select(Page.id).where(Page.file_id == file.id, col(Page.document_id).is_not(None))).first()
    if others is not None:
        file.blob = store.blobs.put(blanked(readable(file.name, store.blobs.get(file.blob)), pages))
    else:
        for page in session.exec(select(Page).where(Page.file_id == file.id)):  # what was left out of documents
            gone.blobs.update(name for name in (page.image, page.thumbnail, page.reading) if name)
            session.delete(page)
        gone.texts.add(file.name)
        file.blob, file.name, file.given, file.problem, file.size = "", rows.GONE_NAME, {}, GONE, 0
    session.flush()
    if file.of_id:
        packed_in = session.get_one(ArrivedFile, file.of_id)
        gone.blobs.add(packed_in.blob)
        gone.texts.add(packed_in.name)
        packed_in.blob, packed_in.name, packed_in.given, packed_in.problem = "", rows.GONE_NAME, {}, GONE
