"""Deliveries of documents, and the names that are promised to them."""

from __future__ import annotations

from pathlib import PurePosixPath

from sqlmodel import Session, col, select

from zestpail.store.states import DeliveryState
from zestpail.store.tables import Delivery


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
