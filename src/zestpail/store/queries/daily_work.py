"""Documents that were settled, and what became of their values on the way."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

from sqlmodel import Session, col, select

from zestpail.store.states import DocumentState
from zestpail.store.tables import Batch, Document, FieldValue, Lane, TableRow, TypeRevision
from zestpail.store.trail_tables import Event, JournalEntry

DONE = (DocumentState.SETTLED, DocumentState.DELIVERED, DocumentState.STUCK)
TOLD = ("values_changed", "review_opened", "review_taken_over", "settled")


def settled_documents(
    session: Session, type_key: str, revision: int | None, lane: str, closed: Collection[int], most: int
) -> list[Document]:
    """The newest documents of a type that are settled; of one revision or lane if named, none of closed lanes."""
    wanted = (
        select(Document)
        .join(TypeRevision, col(TypeRevision.id) == col(Document.revision_id))
        .join(Batch, col(Batch.id) == col(Document.batch_id))
        .join(Lane, col(Lane.id) == col(Batch.lane_id))
        .where(TypeRevision.key == type_key, col(Document.state).in_(DONE), col(Lane.id).not_in(closed))
    )
    if revision:
        wanted = wanted.where(TypeRevision.number == revision)
    if lane:
        wanted = wanted.where(Lane.key == lane)
    return list(session.exec(wanted.order_by(col(Document.settled_at).desc(), col(Document.id).desc()).limit(most)))


def settled_in_lane(session: Session, lane: str, most: int) -> list[Document]:
    """The newest documents of a lane that are settled, of whatever type."""
    of_lane = select(Batch.id).join(Lane, col(Batch.lane_id) == col(Lane.id)).where(Lane.key == lane)
    wanted = select(Document).where(col(Document.state).in_(DONE), col(Document.batch_id).in_(of_lane))
    return list(session.exec(wanted.order_by(col(Document.settled_at).desc(), col(Document.id).desc()).limit(most)))


def values_of_all(session: Session, ids: Collection[int]) -> Sequence[FieldValue]:
    """The values of these documents."""
    return session.exec(select(FieldValue).where(col(FieldValue.document_id).in_(ids))).all()


def rows_of_all(session: Session, ids: Collection[int]) -> Sequence[TableRow]:
    """The rows of their tables."""
    return session.exec(select(TableRow).where(col(TableRow.document_id).in_(ids))).all()


def changes_of_all(session: Session, ids: Collection[int]) -> dict[int, list[dict[str, Any]]]:
    """By document what stood there before each change that was not taken back, the last change first."""
    subjects = {f"document {number}": number for number in ids}
    wanted = select(JournalEntry).where(col(JournalEntry.subject).in_(subjects), col(JournalEntry.undone_at).is_(None))
    found: dict[int, list[dict[str, Any]]] = {}
    for entry in session.exec(wanted.order_by(col(JournalEntry.id).desc())):
        found.setdefault(subjects[entry.subject], []).append(entry.before)
    return found


def told_of_all(session: Session, ids: Collection[int]) -> Sequence[Event]:
    """What the trail tells of how they were reviewed, in order."""
    wanted = select(Event).where(col(Event.document_id).in_(ids), col(Event.what).in_(TOLD))
    return session.exec(wanted.order_by(col(Event.id))).all()


def lanes_of_type(session: Session, type_key: str, closed: Collection[int]) -> list[tuple[str, str]]:
    """Keys and names of the lanes in which documents of the type were settled."""
    wanted = (
        select(Lane.key, Lane.name)
        .join(Batch, col(Batch.lane_id) == col(Lane.id))
        .join(Document, col(Document.batch_id) == col(Batch.id))
        .join(TypeRevision, col(TypeRevision.id) == col(Document.revision_id))
        .where(TypeRevision.key == type_key, col(Lane.id).not_in(closed))
        .distinct()
    )
    return [(key, name) for key, name in session.exec(wanted)]
