"""The queue of documents that wait for a person, in the order in which their files arrived."""

from __future__ import annotations

from datetime import datetime

from sqlmodel import Session, col, func, or_, select, tuple_

from zestpail.store.queries.access import Closed, closed_lanes, open_to_see
from zestpail.store.states import DocumentState
from zestpail.store.tables import Batch, Document, Lane

FOR_PERSON = (DocumentState.SORTING, DocumentState.REVIEW)
"""What waits for a person: what it is, or what stands on it."""


def next_in_queue(
    session: Session, person_id: int, free_if_held_before: datetime, after: int | None, lane: str = ""
) -> int | None:
    """The first document that the person may take: behind ``after`` in the queue, and from its front where none is.

    With the key of a ``lane``, only of that lane.

    Documents that others hold are passed over, unless they gave no sign of life since ``free_if_held_before``.
    """
    place = tuple_(col(Document.file_id), col(Document.id))
    wanted = select(Document.id).where(
        col(Document.state).in_(FOR_PERSON),
        or_(
            col(Document.holder_id).is_(None),
            Document.holder_id == person_id,
            col(Document.held_at).is_(None),
            col(Document.held_at) <= free_if_held_before,
        ),
        open_to_see(col(Document.batch_id), closed_lanes(session, person_id)),
    )
    if lane:
        of_lane = select(Batch.id).join(Lane, col(Batch.lane_id) == col(Lane.id)).where(Lane.key == lane)
        wanted = wanted.where(col(Document.batch_id).in_(of_lane))
    present = session.get(Document, after) if after else None
    if present:
        behind = place > tuple_(present.file_id, present.id)
        wanted = wanted.where(Document.id != after).order_by(behind.desc())
    return session.exec(wanted.order_by(col(Document.file_id), col(Document.id)).limit(1)).first()


def count_in_state(session: Session, closed: Closed, *states: DocumentState) -> dict[DocumentState, int]:
    """How many documents are in each of these states, without those in the closed lanes."""
    wanted = select(Document.state, func.count()).where(col(Document.state).in_(states))
    wanted = wanted.where(open_to_see(col(Document.batch_id), closed)).group_by(col(Document.state))
    return {DocumentState(state): count for state, count in session.exec(wanted)}
