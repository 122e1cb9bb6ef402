"""Every receipt of a batch, as it is printed: what went where, when, by which settings."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlmodel import col, select

from zestpail.delivery import Receipt
from zestpail.desk.documents.messages import Missing
from zestpail.store import Store
from zestpail.store.tables import Batch, Delivery, Document, Lane


@dataclass(frozen=True)
class ReceiptRow:
    """One receipt."""

    document: int
    shown: str
    """Where it was delivered, as the lane says it now."""
    receipt: Receipt
    sent_at: datetime | None


def receipts_of(store: Store, batch_id: int) -> list[ReceiptRow]:
    """Those of all documents and versions, in the order in which they were planned. Raises Missing."""
    with store.transaction() as session:
        batch = session.get(Batch, batch_id)
        if batch is None:
            raise Missing("There is no such batch.")
        there = session.get_one(Lane, batch.lane_id).settings.destinations
        names = {one.id: one.shown for one in there}
        wanted = select(Delivery).join(Document, col(Document.id) == col(Delivery.document_id))
        of_batch = wanted.where(Document.batch_id == batch_id).order_by(col(Delivery.document_id), col(Delivery.id))
        return [
            ReceiptRow(one.document_id, names.get(one.destination, one.destination), one.receipt, one.sent_at)
            for one in session.exec(of_batch) if one.receipt
        ]  # fmt: skip
