"""Files as they were delivered, to be looked at again."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import PurePosixPath

from zestpail.delivery import RecordPlan
from zestpail.desk.documents.messages import Missing
from zestpail.store import Store
from zestpail.store.queries.deliveries import deliveries_of


@dataclass(frozen=True)
class DeliveredFile:
    name: str
    data: bytes


def delivered_file(store: Store, document_id: int, number: int) -> DeliveredFile:
    """The file of one of the document's receipts, counted from 0 as they are listed. Raises Missing."""
    with store.transaction() as session:
        with_receipt = [one for one in deliveries_of(session, document_id) if one.receipt]
    if not 0 <= number < len(with_receipt) or with_receipt[number].plan is None:
        raise Missing("There is no such delivery.")
    delivery = with_receipt[number]
    receipt, plan = delivery.receipt, delivery.plan
    if receipt is None or plan is None or not store.blobs.holds(plan.pdf):
        raise Missing("This file is not kept any more.")
    if isinstance(plan, RecordPlan):
        return DeliveredFile(f"record-{plan.reference}.json", "\n".join(body for body, _, _ in plan.records).encode())
    name = PurePosixPath(receipt.file).name if receipt.file else f"document-{document_id}.pdf"
    return DeliveredFile(name, store.blobs.get(plan.pdf))
