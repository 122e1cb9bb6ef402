"""A batch taken back after it was delivered: its files, rows and records are taken out again wherever that can be."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import Session, col, select

from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.transitions import take_back, withdraw
from zestpail.store import Store
from zestpail.store.queries.deliveries import current_deliveries
from zestpail.store.states import DeliveryState, DocumentState
from zestpail.store.tables import Batch, Document, Lane

OUT = (DocumentState.SETTLED, DocumentState.STUCK, DocumentState.DELIVERED)


@dataclass(frozen=True)
class WithdrawalView:
    """What taking a batch back would do."""

    documents: int
    taken_out: list[str]
    """Destinations that its documents are taken out of."""
    stays: list[str]
    """Destinations that keep what they have."""


def withdrawal_of(store: Store, batch_id: int) -> WithdrawalView:
    """What taking the batch back would do now. Raises Missing."""
    with store.transaction() as session:
        batch = session.get(Batch, batch_id)
        if batch is None:
            raise Missing("There is no such batch.")
        out, kept = set[str](), set[str]()
        documents = _delivered(session, batch_id)
        for document in documents:
            for delivery in current_deliveries(session, document.id or 0).values():
                if delivery.state == DeliveryState.SENT and delivery.plan:
                    (out if delivery.plan.can_be_recalled else kept).add(delivery.destination)
        there = session.get_one(Lane, batch.lane_id).settings.destinations
        names = {one.id: one.shown for one in there}
        return WithdrawalView(
            len(documents), [names.get(one, one) for one in sorted(out)], [names.get(one, one) for one in sorted(kept)]
        )  # fmt: skip


def withdraw_batch(store: Store, batch_id: int, person_id: int) -> int:
    """All delivered documents of the batch go back to review; returns how many. Raises NotDone where there is none."""
    with store.transaction() as session:
        documents = _delivered(session, batch_id)
        if not documents:
            raise NotDone("Nothing of this batch is delivered.")
        for document in documents:
            back = withdraw if document.state == DocumentState.DELIVERED else take_back
            back(session, document, person_id)
        return len(documents)


def _delivered(session: Session, batch_id: int) -> list[Document]:
    wanted = select(Document).where(Document.batch_id == batch_id, col(Document.state).in_(OUT))
    return list(session.exec(wanted.order_by(col(Document.id))))
