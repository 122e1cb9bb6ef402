"""How far a batch is delivered, destination by destination."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from sqlmodel import Session, select

from zestpail.store.queries.deliveries import current_deliveries
from zestpail.store.states import DeliveryState, DocumentState
from zestpail.store.tables import Batch, Document, Lane


@dataclass(frozen=True)
class DestinationRow:
    """One destination of the batch's lane."""

    shown: str
    sent: int
    later: int
    """What it could not take and will be asked again by itself."""
    failed: int
    id: str = ""


def by_destination(session: Session, batch: Batch) -> tuple[list[DestinationRow], int]:
    """Each destination that has, or was to have, something of the batch; and how many documents can be tried again."""
    counts: dict[str, Counter[str]] = {}
    left = 0
    for document in session.exec(select(Document).where(Document.batch_id == batch.id)):
        deliveries = current_deliveries(session, document.id or 0)
        for delivery in deliveries.values():
            failed = "later" if delivery.next_at else "failed"
            state = {DeliveryState.SENT: "sent", DeliveryState.FAILED: failed}.get(delivery.state, "waiting")
            counts.setdefault(delivery.destination, Counter())[state] += 1
        open_ = document.state in (DocumentState.SETTLED, DocumentState.STUCK)
        left += open_ and (document.state == DocumentState.STUCK or any(one.next_at for one in deliveries.values()))
    destinations = session.get_one(Lane, batch.lane_id).settings.destinations
    rows = [
        DestinationRow(one.shown, counts[one.id]["sent"], counts[one.id]["later"], counts[one.id]["failed"], one.id)
        for one in destinations if one.id in counts
    ]  # fmt: skip
    return rows, left
