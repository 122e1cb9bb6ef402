"""How many files, pages and documents stand where: of all lanes at once, or of several batches at once."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import ColumnElement
from sqlmodel import Session, and_, col, func, or_, select

from zestpail.store.states import DocumentState, FileState, PageState
from zestpail.store.tables import ArrivedFile, Batch, Document, Page

UNDECIDED: ColumnElement[bool] = or_(
    col(Page.state) == PageState.WAITING, and_(col(Page.document_id).is_(None), col(Page.left_out).is_(None))
)
"""Pages that wait to be read, or to be split into documents with the others of their stack."""


def files_by_lane(session: Session, refused_since: datetime) -> dict[tuple[int, FileState], int]:
    """How many files of each state a lane has; of those that were refused, the ones that arrived since then."""
    wanted = (
        select(Batch.lane_id, ArrivedFile.state, func.count())
        .join(Batch, col(ArrivedFile.batch_id) == col(Batch.id))
        .where(or_(col(ArrivedFile.state) != FileState.REFUSED, col(Batch.arrived_at) >= refused_since))
        .group_by(col(Batch.lane_id), col(ArrivedFile.state))
    )
    return {(lane, FileState(state)): count for lane, state, count in session.exec(wanted)}


def pages_in_reading_by_lane(session: Session) -> dict[tuple[int, PageState], int]:
    """How many pages of each state a lane has in batches that are still being read."""
    in_reading = select(ArrivedFile.batch_id).join(Page, col(Page.file_id) == col(ArrivedFile.id)).where(UNDECIDED)
    wanted = (
        select(Batch.lane_id, Page.state, func.count())
        .select_from(Page)
        .join(ArrivedFile, col(Page.file_id) == col(ArrivedFile.id))
        .join(Batch, col(ArrivedFile.batch_id) == col(Batch.id))
        .where(col(Batch.id).in_(in_reading))
        .group_by(col(Batch.lane_id), col(Page.state))
    )
    return {(lane, PageState(state)): count for lane, state, count in session.exec(wanted)}


def documents_by_lane(
    session: Session, delivered_since: datetime
) -> dict[tuple[int, DocumentState], tuple[int, datetime]]:
    """How many documents of each state a lane has, and when the oldest arrived.

    Of those that are delivered, the ones since then; without those in stacks whose splits a person has still to see.
    """
    wanted = (
        select(Batch.lane_id, Document.state, func.count(), func.min(Document.arrived_at))
        .select_from(Document)
        .join(Batch, col(Document.batch_id) == col(Batch.id))
        .join(ArrivedFile, col(Document.file_id) == col(ArrivedFile.id))
        .where(
            or_(col(Document.state) != DocumentState.DELIVERED, col(Document.delivered_at) >= delivered_since),
            or_(col(Document.state) != DocumentState.READING, col(ArrivedFile.state) != FileState.SPLIT),
        )
        .group_by(col(Batch.lane_id), col(Document.state))
    )
    return {(lane, DocumentState(state)): (count, oldest) for lane, state, count, oldest in session.exec(wanted)}


def files_by_batch(session: Session, batches: Sequence[int]) -> dict[tuple[int, FileState], int]:
    """How many files of each state those batches have."""
    wanted = (
        select(ArrivedFile.batch_id, ArrivedFile.state, func.count())
        .where(col(ArrivedFile.batch_id).in_(batches))
        .group_by(col(ArrivedFile.batch_id), col(ArrivedFile.state))
    )
    return {(batch, FileState(state)): count for batch, state, count in session.exec(wanted)}


def undecided_pages_by_batch(session: Session, batches: Sequence[int]) -> dict[int, int]:
    """How many pages of those batches wait to be read or split."""
    wanted = (
        select(ArrivedFile.batch_id, func.count())
        .select_from(Page)
        .join(ArrivedFile, col(Page.file_id) == col(ArrivedFile.id))
        .where(col(ArrivedFile.batch_id).in_(batches), UNDECIDED)
        .group_by(col(ArrivedFile.batch_id))
    )
    return dict(session.exec(wanted).all())


def documents_by_batch(session: Session, batches: Sequence[int]) -> dict[tuple[int, DocumentState], int]:
    """How many documents of each state those batches have."""
    wanted = (
        select(Document.batch_id, Document.state, func.count())
        .where(col(Document.batch_id).in_(batches))
        .group_by(col(Document.batch_id), col(Document.state))
    )
    return {(batch, DocumentState(state)): count for batch, state, count in session.exec(wanted)}
