"""Whether what left here is what is there: counted and added up here, and asked of the other side now."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal

from sqlmodel import Session, col, select

from zestpail.delivery import RecordDestination, Refused, Web
from zestpail.delivery.record import TOGETHER, RecordPlan
from zestpail.desk.documents.messages import Missing
from zestpail.store import Store
from zestpail.store.queries.deliveries import current_deliveries
from zestpail.store.states import DeliveryState
from zestpail.store.tables import Batch, Document, Lane


@dataclass(frozen=True)
class Totals:
    """How many records, and the sums of their columns of numbers, by the columns' names."""

    count: int
    sums: dict[str, Decimal]


@dataclass(frozen=True)
class Reconciled:
    """A batch's records here and over there."""

    called: str
    here: Totals
    there: Totals | None
    """None where it could not be asked."""
    differences: tuple[str, ...]
    problem: str = ""

    @property
    def same(self) -> bool:
        """Whether all that was sent is there as it was sent."""
        return self.there is not None and not self.differences


@dataclass(frozen=True)
class _Sent:
    document: int
    body: dict[str, object]
    identity: str
    record: str


def reconciled(store: Store, web: Web, batch_id: int) -> list[Reconciled]:
    """Ask each system that records of the batch were sent to. Raises Missing."""
    with store.transaction() as session:
        batch = session.get(Batch, batch_id)
        if batch is None:
            raise Missing("There is no such batch.")
        settings = session.get_one(Lane, batch.lane_id).settings
        there = [one for one in settings.destinations if isinstance(one, RecordDestination)]
        sent = {one.id: list(_sent(session, batch_id, one.id)) for one in there}
    return [_compared(web, one, sent[one.id], f"B{batch_id}") for one in there if sent[one.id]]


def _sent(session: Session, batch_id: int, destination: str) -> Iterator[_Sent]:
    wanted = select(Document).where(Document.batch_id == batch_id).order_by(col(Document.id))
    for document in session.exec(wanted):
        delivery = current_deliveries(session, document.id or 0).get(destination)
        if delivery and delivery.state == DeliveryState.SENT and isinstance(delivery.plan, RecordPlan):
            ids = (delivery.receipt.record if delivery.receipt else "").split(TOGETHER)
            for at, (body, identity, _) in enumerate(delivery.plan.records):
                record = ids[at] if at < len(ids) else ""
                yield _Sent(document.id or 0, dict(json.loads(body)), identity, record)


def _compared(web: Web, destination: RecordDestination, sent: Sequence[_Sent], batch: str) -> Reconciled:
    names = {column.key: column.name for column in destination.columns.plain if column.kind == "number"}
    here = _totals([one.body for one in sent], names)
    try:
        found = _asked(web, destination, sent, batch)
    except Refused as problem:
        return Reconciled(destination.called, here, None, (), str(problem))
    differences = [text for one in sent for text in _differences(one, found.get(one.record), names)]
    known = {one.record for one in sent}
    differences += [f"{number} is there and was not sent by this batch." for number in found if number not in known]
    return Reconciled(destination.called, here, _totals(list(found.values()), names), tuple(differences))


def _asked(
    web: Web, destination: RecordDestination, sent: Sequence[_Sent], batch: str
) -> dict[str, dict[str, object]]:  # fmt: skip
    """By id what is there now: of the batch in one question if its column has it, else one by one.

    What others sent there, or another destination of ours, is left out, where the other side tells keys.
    """
    ours = f"{web.house}-{destination.id}-"
    tied = next((tie.column for tie in destination.ties.ties if tie.value.used == {"batch"}), "")
    if destination.way == "into_its_own":
        there = [one for record in sent for one in destination.asked_one(web, record.record)]
        return {str(one.get("id")): one for one in there}
    wanted = [{tied: batch}] if tied else [{"key": record.identity} for record in sent]
    there = [one for asked in wanted for one in destination.asked(web, asked)]
    return {str(one.get("id")): one for one in there if str(one.get("key", ours)).startswith(ours)}


def _totals(records: Sequence[dict[str, object]], names: dict[str, str]) -> Totals:
    sums = {
        name: sum((Decimal(str(one[key])) for one in records if key in one), Decimal(0))
        for key, name in names.items() if any(key in one for one in records)
    }  # fmt: skip
    return Totals(len(records), sums)


def _differences(sent: _Sent, there: dict[str, object] | None, names: dict[str, str]) -> Iterator[str]:
    if there is None:
        yield f"Document {sent.document} is not there: it was taken as {sent.record or 'a record without a number'}."
        return
    for key, value in sent.body.items():
        if key in names and Decimal(str(there.get(key, 0))) != Decimal(str(value)):
            yield f"Document {sent.document}: {names[key]} is {value} here and {there.get(key, 'nothing')} over there."
        elif key not in names and not isinstance(value, list) and there.get(key) != value:
            yield f"Document {sent.document}: “{value}” here is “{there.get(key, '')}” over there."
