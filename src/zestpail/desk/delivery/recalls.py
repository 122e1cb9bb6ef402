"""Taking out of destinations what was written of a document that was taken back before all of them had it.

What is recalled is named in the transaction that takes the document back; a worker then removes it over there, and
deletes what had been drawn for it here. A document is not delivered again before that is done.
"""

from __future__ import annotations

from zestpail.delivery import Outlets
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.gone_files import forget
from zestpail.store import Store
from zestpail.store.queries.deliveries import deliveries_of
from zestpail.store.states import DeliveryState
from zestpail.store.tables import Delivery, Document


def recall(store: Store, outlets: Outlets, document_id: int) -> None:
    """Remove what was written of deliveries that are to be recalled. Raises Refused where that cannot be done now.

    Nothing of the document is sent meanwhile. Doing it again does nothing.
    """
    drawn: set[str] = set()
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        for delivery in deliveries_of(session, document_id):
            if delivery.state != DeliveryState.RECALLED or not delivery.plan:
                continue
            removed = delivery.plan.recall(outlets)
            drawn.update(delivery.plan.blobs)
            unplan(delivery)
            if removed:
                note(session, "delivery_removed", document=document, after={"message": ", ".join(removed)})
            else:
                note(session, "delivery_dropped", document=document)
    forget(store, drawn)


def unplan(delivery: Delivery) -> None:
    """It is to be planned anew; nothing of it lies over there."""
    delivery.state, delivery.plan, delivery.receipt, delivery.problem = DeliveryState.WAITING, None, None, None
    delivery.place, delivery.path, delivery.content, delivery.terms, delivery.sent_at = "", "", "", "", None
