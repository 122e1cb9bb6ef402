"""Documents with their values as cells, many at once: only what a spreadsheet shows is fetched."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any, NamedTuple

from sqlalchemy import select as select_columns
from sqlmodel import Session, col, select

from zestpail.store.queries.access import Closed, open_to_see
from zestpail.store.states import DocumentState, ValueState
from zestpail.store.tables import ArrivedFile, Batch, CheckResult, Document, FieldValue, Lane


class SheetDocument(NamedTuple):
    """A document as a row."""

    document: Document
    file: str


class SheetValue(NamedTuple):
    """A value as a cell."""

    document_id: int
    key: str
    value: str | None
    state: ValueState
    confidence: float


def documents_of_batch(session: Session, batch_id: int) -> list[SheetDocument]:
    """All documents of a batch, in their order."""
    return _documents(session, [Document.batch_id == batch_id, Document.state != DocumentState.DISSOLVED])


def documents_of_queue(session: Session, lane: str, closed: Closed, most: int) -> list[SheetDocument]:
    """The documents of a lane, or of all lanes, that wait for review, those that have waited longest first."""
    conditions = [Document.state == DocumentState.REVIEW, open_to_see(col(Document.batch_id), closed)]
    if lane:
        of_lane = select(Batch.id).join(Lane, col(Batch.lane_id) == col(Lane.id)).where(Lane.key == lane)
        conditions.append(col(Document.batch_id).in_(of_lane))
    return _documents(session, conditions, most)


def documents_by_id(session: Session, ids: Collection[int]) -> list[SheetDocument]:
    """These documents, in their order."""
    return _documents(session, [col(Document.id).in_(ids)])


def _documents(session: Session, conditions: Sequence[Any], most: int | None = None) -> list[SheetDocument]:
    wanted = select(Document, ArrivedFile.name).join(ArrivedFile, col(Document.file_id) == col(ArrivedFile.id))
    found = session.exec(wanted.where(*conditions).order_by(col(Document.file_id), col(Document.id)).limit(most))
    return [SheetDocument(document, file) for document, file in found]


def values_of_many(session: Session, ids: Collection[int]) -> list[SheetValue]:
    """The values of these documents."""
    columns = (FieldValue.document_id, FieldValue.key, FieldValue.value, FieldValue.state, FieldValue.confidence)
    wanted = select_columns(*(col(column) for column in columns)).where(col(FieldValue.document_id).in_(ids))
    return [SheetValue(*row) for row in session.execute(wanted)]


def failing_of_many(session: Session, ids: Collection[int]) -> list[tuple[int, list[str], str]]:
    """What fails in these documents and nobody has waived: the fields, and what is said."""
    wanted = select(CheckResult.document_id, CheckResult.fields, CheckResult.message).where(
        col(CheckResult.document_id).in_(ids),
        col(CheckResult.passed).is_(False),
        col(CheckResult.waived_by_id).is_(None),
    )
    return [(number, list(fields), message) for number, fields, message in session.exec(wanted)]
