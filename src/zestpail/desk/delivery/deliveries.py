"""Handing settled documents over: to each destination of the lane planned once, sent at least once, recorded once.

What is written, and under which names, is decided and kept before anything is written. A delivery that broke off is
sent again as planned: the files have the same content and the rows the same reference, so nothing is doubled. Each
destination has a delivery of its own: one that fails neither holds up nor repeats the others.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, partial
from pathlib import Path, PurePosixPath

from sqlmodel import Session

from zestpail.core.writing.searchable_pdf import searchable_pdf
from zestpail.delivery import (
    AnyDestination,
    AnyPlan,
    Outgoing,
    Outlets,
    Post,
    Receipt,
    Refused,
    SmtpPost,
    Taken,
    folder_files,
)
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of, type_of
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.searchable_pages import page_to_write
from zestpail.desk.documents.table_rows import plain
from zestpail.desk.documents.transitions import delivered, stuck, try_again
from zestpail.desk.intake.arrivals import arrive_once
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.queries.deliveries import deliveries_of, promised_names
from zestpail.store.queries.documents import pages_of, rows_of, values_of
from zestpail.store.tables import Delivery, DeliveryState, Document, DocumentState, Lane

READY = (DocumentState.SETTLED, DocumentState.STUCK)
ANY = "any"
"""Stands for a destination where it is not known which one failed."""


@dataclass(frozen=True)
class _Planned:
    """A delivery that is to be sent."""

    destination: AnyDestination
    plan: AnyPlan


def deliver(store: Store, root: Path, document_id: int, post: Post | None = None) -> bool:
    """Hand the document to the destinations of its lane, folders being under ``root``; returns whether all have it.

    Does nothing if the document is not waiting to be delivered. A refusal by a destination is recorded with its reason;
    when all have been tried, it leaves the document stuck.
    """
    outlets = _outlets(store, root, post or SmtpPost("", ""))
    planned = _plan(store, outlets, document_id)
    if planned is None:
        return False
    taken = False
    for one in planned:
        try:
            _record(store, document_id, one.destination, _send(store, outlets, one))
        except Taken:
            _forget_plan(store, document_id, one.destination)
            taken = True
        except Refused as refusal:
            _fail(store, document_id, one.destination, str(refusal))
    return deliver(store, root, document_id, post) if taken else _finish(store, document_id)


def deliver_again(store: Store, document_id: int, person_id: int) -> None:
    """A person asks for another attempt at a stuck document; what took it already is left alone."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None:
            raise Missing("There is no such document.")
        try_again(session, document, person_id)


def refuse(store: Store, document_id: int, why: str) -> None:
    """Record that the document was not handed over, which leaves it stuck until a person asks again."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        waiting = [one for one in deliveries_of(session, document_id) if one.state != DeliveryState.SENT]
        for delivery in waiting or [Delivery(document_id=document_id, destination=ANY)]:
            delivery.state, delivery.problem = DeliveryState.FAILED, why
            session.add(delivery)
        if document.state in READY:
            stuck(session, document, why)


def _outlets(store: Store, root: Path, post: Post) -> Outlets:
    def hand_on(lane: str, name: str, data: bytes, channel: str, identity: str) -> int:
        return arrive_once(store, lane, name, data, channel, identity).batch_id

    return Outlets(partial(folder_files, root), post, hand_on)


def _plan(store: Store, outlets: Outlets, document_id: int) -> list[_Planned] | None:
    """What will be sent to those destinations that do not have it; the same again if it was planned before."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id)
        if document.state not in READY:
            return None
        pages, title = pages_of(session, document_id), f"Document {document_id}"
        title = next((v.value for v in values_of(session, document_id) if v.key == "invoice_number" and v.value), title)
        notes = lane_of(session, document).settings.notes
    pdf = store.blobs.put(searchable_pdf([page_to_write(store, page, notes) for page in pages if page.image], title))
    with store.transaction() as session:
        lane = session.get_one(Lane, lane_of(session, document).id, with_for_update=True)
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state not in READY:
            return None
        known = {one.destination: one for one in deliveries_of(session, document_id)}
        if ANY in known:
            session.delete(known.pop(ANY))
        ids = {one.id for one in lane.settings.destinations}
        for gone in [one for one in known.values() if one.destination not in ids and one.state != DeliveryState.SENT]:
            session.delete(known.pop(gone.destination))
        counter = next((one.counter for one in known.values()), 0)
        if not counter:
            lane.counter += 1
            counter = lane.counter
        outgoing = _outgoing(session, document, lane, counter, pdf)
        planned = []
        for destination in lane.settings.destinations:
            delivery = known.get(destination.id)
            if delivery is None or delivery.state != DeliveryState.SENT:
                delivery = delivery or Delivery(document_id=document_id, destination=destination.id, counter=counter)
                plan = _planned(session, outlets, destination, outgoing, delivery)
                if plan:
                    planned.append(_Planned(destination, plan))
        return planned


def _planned(
    session: Session, outlets: Outlets, destination: AnyDestination, outgoing: Outgoing, delivery: Delivery
) -> AnyPlan | None:
    """The delivery's plan, made now if there is none; None where the document is not for this destination."""

    @cache
    def promised(place: str, beginning: PurePosixPath) -> set[str]:
        return promised_names(session, place, beginning)

    def is_taken(place: str, name: PurePosixPath) -> bool:
        beginning = name.with_name(name.stem.partition(" (")[0] + name.suffix)
        return str(name) in promised(place, beginning)

    if delivery.plan is None:
        delivery.plan = destination.plan(outgoing, is_taken, outlets)
        if delivery.plan is None:
            return None
        delivery.place, delivery.path = delivery.plan.promised or ("", "")
    delivery.attempts += 1
    session.add(delivery)
    session.flush()
    return delivery.plan


def _outgoing(session: Session, document: Document, lane: Lane, counter: int, pdf: str) -> Outgoing:
    doc_type, document_id = type_of(session, document), document.id or 0
    return Outgoing(
        reference=f"D{document_id}",
        counter=counter,
        pdf=pdf,
        doc_type=doc_type,
        own_type=doc_type.key == lane.settings.type,
        values={value.key: value.value for value in values_of(session, document_id)},
        rows=plain(doc_type, rows_of(session, document_id)),
        given=document.origin.given,
        mail=document.origin.mail,
        lane=lane.name,
        naming=lane.settings.naming,
    )


def _send(store: Store, outlets: Outlets, one: _Planned) -> Receipt:
    return one.destination.send(one.plan, store.blobs.get(one.plan.pdf), outlets)


def _delivery(session: Session, document_id: int, destination: AnyDestination) -> Delivery:
    return next(one for one in deliveries_of(session, document_id) if one.destination == destination.id)


def _record(store: Store, document_id: int, destination: AnyDestination, receipt: Receipt) -> None:
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        delivery = _delivery(session, document_id, destination)
        if delivery.state == DeliveryState.SENT:
            return
        delivery.state, delivery.receipt, delivery.problem = DeliveryState.SENT, receipt, None
        delivery.sent_at = now()
        details = receipt.model_dump(mode="json", exclude_defaults=True)
        note(session, "delivered", document=document, after={"message": destination.title, **details})


def _fail(store: Store, document_id: int, destination: AnyDestination, why: str) -> None:
    with store.transaction() as session:
        delivery = _delivery(session, document_id, destination)
        delivery.state, delivery.problem = DeliveryState.FAILED, why


def _finish(store: Store, document_id: int) -> bool:
    """All destinations were tried: the document is delivered, or stuck with what they said."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        problems = [one.problem or "" for one in deliveries_of(session, document_id) if one.state != DeliveryState.SENT]
        if document.state not in READY:
            return document.state == DocumentState.DELIVERED
        if problems:
            stuck(session, document, " ".join(problems))
        else:
            delivered(document)
            note(session, "delivered_to_all", document=document)
        return not problems


def _forget_plan(store: Store, document_id: int, destination: AnyDestination) -> None:
    """Somebody else took the name in the meantime: plan anew."""
    with store.transaction() as session:
        delivery = _delivery(session, document_id, destination)
        delivery.plan, delivery.place, delivery.path = None, "", ""
