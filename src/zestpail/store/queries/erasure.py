"""The rows of documents that are erased, and all that speaks of what stood on them."""

from __future__ import annotations

import json
import re
from collections.abc import Collection, Iterable
from typing import Any

from sqlalchemy import ColumnElement, Text, cast
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Session, and_, col, delete, or_, select, update

from zestpail.store.archive_tables import ArchiveDue
from zestpail.store.intake_tables import Scan, ScanState
from zestpail.store.learning_tables import LearnedBody, TypeLearning
from zestpail.store.queries.blob_use import naming
from zestpail.store.reference_tables import DocumentEntry, ListAlias
from zestpail.store.retention_tables import Export
from zestpail.store.tables import (
    ArrivedFile,
    CheckResult,
    Delivery,
    Document,
    FieldValue,
    LaneTrial,
    Page,
    ReadingText,
    Sample,
    SortingSample,
    TableRow,
)
from zestpail.store.trail_tables import Event, JournalEntry

OWN: tuple[Any, ...] = (Delivery, CheckResult, FieldValue, TableRow, DocumentEntry, ArchiveDue, Page)
"""Tables whose rows belong to one document."""
GONE = {"message": "erased"}
GONE_NAME = "erased"
LONG = 8
"""Characters from which on a text is looked for within others."""
OF_SAMPLES = ("sample_added", "sample_removed", "sorting_samples_added")
"""Acts that name files and belong to no batch."""


def copies_of(session: Session, document_id: int, files: Collection[str]) -> list[Sample]:
    """Samples of types that were made of the document, or are the same file."""
    same = or_(col(Sample.document_id) == document_id, col(Sample.blob).in_(files))
    return list(session.exec(select(Sample).where(same)))


def blobs_of_document(session: Session, document_id: int) -> set[str]:
    """The files that were made of the document: pictures, readings, and what was drawn for destinations."""
    found: set[str] = set()
    for page in session.exec(select(Page).where(Page.document_id == document_id)):
        found.update(name for name in (page.image, page.thumbnail, page.reading) if name)
    for delivery in session.exec(select(Delivery).where(Delivery.document_id == document_id)):
        found.update(delivery.plan.blobs if delivery.plan else ())
    return found


def delete_document(session: Session, document_id: int) -> None:
    """The document's rows, and the steps by which its changes could be undone."""
    session.execute(update(ListAlias).where(col(ListAlias.document_id) == document_id).values(document_id=None))
    for table in OWN:
        session.execute(delete(table).where(col(table.document_id) == document_id))
    session.execute(delete(Event).where(col(Event.document_id) == document_id))
    session.execute(delete(JournalEntry).where(col(JournalEntry.subject) == f"document {document_id}"))
    session.execute(delete(Document).where(col(Document.id) == document_id))
    session.execute(delete(ArchiveDue).where(col(ArchiveDue.document_id) == document_id))


def delete_sample(session: Session, sample: Sample) -> set[str]:
    """A sample with its pages, and what the journal of its type says of it; returns the files that it had."""
    found = {sample.blob}
    for page in session.exec(select(Page).where(Page.sample_id == sample.id)):
        found.update(name for name in (page.image, page.thumbnail, page.reading) if name)
        session.delete(page)
    session.flush()
    said = cast(col(JournalEntry.before), Text).regexp_match(rf'"sample": {sample.id}\M')
    session.execute(delete(JournalEntry).where(col(JournalEntry.subject) == f"type {sample.type_key}", said))
    for learning in session.exec(select(TypeLearning).where(TypeLearning.type_key == sample.type_key)):
        learning.samples = [GONE_NAME if name == sample.name else name for name in learning.samples]
        learning.faults = [fault for fault in learning.faults if sample.name not in fault]
    session.delete(sample)
    return found


def delete_other_copies(session: Session, erased: Collection[str]) -> None:
    """Samples to sort by and trials that were made of these files, but for files that other documents have too."""
    own = set(erased) - _of_others(session, erased)
    if not own:
        return
    for table, column in ((SortingSample, SortingSample.pages), (LaneTrial, LaneTrial.result)):
        made = {row for row, _ in naming(session, column, own)}
        session.execute(delete(table).where(or_(col(table.blob).in_(own), col(table.id).in_(made))))
    of_sorting = col(JournalEntry.subject).startswith("sorting ")
    said = {row for row, _ in naming(session, JournalEntry.before, own, of_sorting)}
    session.execute(delete(JournalEntry).where(col(JournalEntry.id).in_(said)))


def delete_texts(session: Session, readings: Collection[str]) -> None:
    """The words of readings that nothing needs any more."""
    session.execute(delete(ReadingText).where(col(ReadingText.reading).in_(readings)))


def _of_others(session: Session, blobs: Collection[str]) -> set[str]:
    """Those of the files that documents have which are left, such as the picture of an empty page."""
    found: set[str] = set()
    for column in (Page.image, Page.thumbnail, Page.reading, ArrivedFile.blob):
        found.update(name for name in session.exec(select(col(column)).where(col(column).in_(blobs))) if name)
    return found


def forget_learned(session: Session, digests: Collection[str], values: Collection[str]) -> None:
    """What types remember of those files (SHA-256), and of those values as examples."""
    within = "|".join(map(re.escape, sorted(digests)))
    for learned in session.exec(select(LearnedBody).where(cast(col(LearnedBody.body), Text).regexp_match(within))):
        body = dict(learned.body)
        body["layouts"] = [one for one in body.get("layouts", ()) if one.get("digest") not in digests]
        body["fields"] = [
            {**field, "examples": [one for one in field.get("examples", ()) if one not in values]}
            for field in body.get("fields", ())
        ]
        learned.body = body


def blank_trail(session: Session, batch_id: int, said: Iterable[str]) -> None:
    """Entries of the batch, and of samples, that name one of these texts say no more than that it was erased.

    A short text must be all that a value says: a file called ``1`` is not named by every entry with a 1 in it.
    """
    named = [_says(text) for text in said if text]
    if named:
        of_batch = and_(col(Event.batch_id) == batch_id, col(Event.document_id).is_(None))
        of_samples = and_(col(Event.batch_id).is_(None), col(Event.what).in_(OF_SAMPLES))
        session.execute(
            update(Event).where(or_(*named), or_(of_batch, of_samples)).values(before={}, after=GONE)
        )  # fmt: skip
    session.execute(delete(JournalEntry).where(col(JournalEntry.subject) == f"batch {batch_id}"))


def _says(text: str) -> ColumnElement[bool]:
    sought = text if len(text) >= LONG else json.dumps(text, ensure_ascii=False)
    return or_(
        *(cast(column, Text).contains(sought, autoescape=True) for column in (col(Event.before), col(Event.after)))
    )


def sheets_of_batch(session: Session, batch_id: int) -> set[str]:
    """The sheets of the pile as the scanner gave them, which are forgotten; they are in the file made of them."""
    found: set[str] = set()
    for scan in session.exec(select(Scan).where(Scan.batch_id == batch_id, Scan.state == ScanState.DONE)):
        found.update(scan.sheets)
        scan.sheets = []
    return found


def delete_exports(session: Session, document_id: int) -> set[str]:
    """Files that people take along in which the document is; returns them."""
    found = set()
    for export in session.exec(select(Export).where(col(Export.documents).op("@>")(cast([document_id], JSONB)))):
        found.add(export.blob)
        session.delete(export)
    return found - {""}
