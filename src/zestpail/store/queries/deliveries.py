"""Deliveries of documents, and the names that are promised to them."""

from __future__ import annotations

from datetime import datetime
from pathlib import PurePosixPath

from sqlalchemy import case
from sqlmodel import Session, col, distinct, func, or_, select

from zestpail.store.queries.access import Closed, open_batch
from zestpail.store.states import DeliveryState
from zestpail.store.tables import Batch, Delivery, Document, Lane


def deliveries_of(session: Session, document_id: int) -> list[Delivery]:
    """The document's deliveries of all versions, in the order in which they were planned."""
    return list(session.exec(select(Delivery).where(Delivery.document_id == document_id).order_by(col(Delivery.id))))


def current_deliveries(session: Session, document_id: int) -> dict[str, Delivery]:
    """By destination, the delivery of the document's newest version."""
    newest = sorted(deliveries_of(session, document_id), key=lambda delivery: delivery.version)
    return {delivery.destination: delivery for delivery in newest}


def sent_before(session: Session, document_id: int, destination: str, version: int) -> Delivery | None:
    """The delivery of the newest version before that one which the destination has."""
    sent = (Delivery.destination == destination, Delivery.version < version, Delivery.state == DeliveryState.SENT)
    wanted = select(Delivery).where(Delivery.document_id == document_id, *sent)
    return session.exec(wanted.order_by(col(Delivery.version).desc()).limit(1)).first()


def promised_names(session: Session, place: str, like: PurePosixPath) -> set[str]:
    """The names at a place that are promised to any document, of those that begin as this one does."""
    beginning = str(like.with_suffix(""))
    wanted = select(Delivery.path).where(
        Delivery.place == place, col(Delivery.path).startswith(beginning, autoescape=True)
    )
    return set(session.exec(wanted))


def deliveries_by_lane(session: Session, sent_since: datetime) -> dict[tuple[int, str], dict[str, int]]:
    """Of how many documents each destination of each lane has taken (since then), or not taken, a delivery."""
    sent, later = col(Delivery.state) == DeliveryState.SENT, col(Delivery.next_at).is_not(None)
    standing = case((sent, "sent"), (later, "later"), else_="failed")
    wanted = (
        select(Batch.lane_id, Delivery.destination, standing, func.count(distinct(col(Delivery.document_id))))
        .select_from(Delivery)
        .join(Document, col(Document.id) == col(Delivery.document_id))
        .join(Batch, col(Batch.id) == col(Document.batch_id))
        .where(or_(Delivery.state == DeliveryState.FAILED, col(Delivery.sent_at) >= sent_since))
        .group_by(col(Batch.lane_id), col(Delivery.destination), standing)
    )
    found: dict[tuple[int, str], dict[str, int]] = {}
    for lane, destination, name, count in session.exec(wanted):
        found.setdefault((lane, destination), {})[name] = count
    return found


def open_deliveries(
    session: Session, lane: str, destination: str, closed: Closed, most: int
) -> list[tuple[Delivery, Document, Lane]]:
    """What no destination took yet that tried to, newest first; of one lane, or one of its destinations, if named."""
    wanted = (
        select(Delivery, Document, Lane)
        .join(Document, col(Document.id) == col(Delivery.document_id))
        .join(Batch, col(Batch.id) == col(Document.batch_id))
        .join(Lane, col(Lane.id) == col(Batch.lane_id))
        .where(Delivery.state == DeliveryState.FAILED, open_batch(closed))
    )
    if lane:
        wanted = wanted.where(Lane.key == lane)
    if destination:
        wanted = wanted.where(Delivery.destination == destination)
    return list(session.exec(wanted.order_by(col(Delivery.id).desc()).limit(most)))
