"""Handing settled documents over: to each destination of the lane planned once, sent at least once, recorded once.

What is written, and under which names, is decided and kept before anything is written. A delivery that broke off is
sent again as planned: the files have the same content and the rows the same reference, so nothing is doubled. A plan
holds for what the document is made of and for the lane's settings; where either changed, it is dropped and made anew.
Each destination has a delivery of its own: one that fails neither holds up nor repeats the others.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from functools import cache, partial
from pathlib import Path, PurePosixPath

import structlog
from sqlmodel import Session, col, select

from zestpail.delivery import (
    AnyDestination,
    AnyPlan,
    Later,
    Outgoing,
    Outlets,
    Post,
    Receipt,
    Refused,
    Taken,
    Web,
)
from zestpail.desk.delivery.content import content_of, terms_of
from zestpail.desk.delivery.drawing import READY, DrawnDocument, draw
from zestpail.desk.delivery.outgoing import outgoing
from zestpail.desk.delivery.outlets import outlets_of
from zestpail.desk.delivery.recalls import recall, unplan
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of, settings_of
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.transitions import defer_delivery, delivered, stuck, try_again
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.queries.deliveries import current_deliveries, promised_names, sent_before
from zestpail.store.states import DeliveryState, DocumentState
from zestpail.store.tables import Delivery, Document, Lane

log = structlog.get_logger()
FIRST_PAUSE, LONGEST_PAUSE, MOST_ATTEMPTS = timedelta(seconds=20), timedelta(hours=1), 40
"""Between attempts at a destination that cannot take something now, and how many are made: for a day and a half."""
ANY = "any"
"""Stands for a destination where it is not known which one failed."""


class Outdated(Exception):
    """The document changed since this was planned."""


@dataclass(frozen=True)
class _Planned:
    """A delivery that is to be sent."""

    destination: AnyDestination
    plan: AnyPlan
    content: str


def deliver(
    store: Store, root: Path, document_id: int, post: Post | None = None, allowed: Sequence[Path] = (),
    web: Web | None = None,
) -> bool:  # fmt: skip
    """Hand the document to the destinations of its lane; returns whether all have it.

    Folders are under ``root``, or where the administrator allows it; addresses are asked by ``web``.

    Does nothing if the document is not waiting to be delivered. A refusal by a destination is recorded with its reason;
    when all have been tried, it leaves the document stuck. One that cannot take it now is asked again by itself.
    """
    outlets = outlets_of(store, root, post, allowed, web)
    try:
        _recall_stale(store, document_id)
        recall(store, outlets, document_id)
    except Refused as refusal:
        log.warning("not recalled", document=document_id, why=str(refusal))
        later = isinstance(refusal, Later)
        refuse(store, document_id, f"What was written of it before cannot be removed: {refusal}", later=later)
        return False
    try:
        drawn = draw(store, document_id)
    except Refused as refusal:
        refuse(store, document_id, str(refusal))
        return False
    if drawn is None:
        return False
    try:
        again = [_hand_over(store, outlets, document_id, one) for one in _plan(store, outlets, document_id, drawn)]
    except Outdated:
        again = [True]
    return deliver(store, root, document_id, post, allowed, web) if any(again) else _finish(store, document_id)


def take_out(store: Store, root: Path, document_id: int, allowed: Sequence[Path] = (), web: Web | None = None) -> None:
    """Remove from destinations what was written of a document that was taken back. Raises Refused with the reason."""
    recall(store, outlets_of(store, root, None, allowed, web), document_id)


def deliver_again(store: Store, document_id: int, person_id: int) -> None:
    """A person asks for another attempt at a stuck document; what took it already is left alone."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None:
            raise Missing("There is no such document.")
        _again(session, document, person_id)


def deliver_batch_again(store: Store, batch_id: int, person_id: int) -> int:
    """The same for all documents of a batch that a destination did not take yet; returns how many."""
    with store.transaction() as session:
        wanted = select(Document).where(Document.batch_id == batch_id).order_by(col(Document.id))
        left = [one for one in session.exec(wanted) if waits_for(session, one)]
        for document in left:
            _again(session, document, person_id)
        return len(left)


def waits_for(session: Session, document: Document) -> bool:
    """Whether something was not delivered of it that can be tried again now."""
    if document.state not in READY:
        return False
    tried = current_deliveries(session, document.id or 0).values()
    return document.state == DocumentState.STUCK or any(one.next_at for one in tried)


def _again(session: Session, document: Document, person_id: int) -> None:
    """A stuck document, or one that would be tried again by itself only later."""
    if document.state == DocumentState.SETTLED and waits_for(session, document):
        defer_delivery(session, document)
    else:
        try_again(session, document, person_id)


def refuse(store: Store, document_id: int, why: str, *, later: bool = False) -> None:
    """Record that the document was not handed over, which leaves it stuck until a person asks, or it is tried later."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        open_states = (DeliveryState.WAITING, DeliveryState.FAILED)
        waiting = [one for one in current_deliveries(session, document_id).values() if one.state in open_states]
        for delivery in waiting or [Delivery(document_id=document_id, destination=ANY)]:
            delivery.state, delivery.problem = DeliveryState.FAILED, why
            session.add(delivery)
        if document.state in READY and later:
            defer_delivery(session, document, int(LONGEST_PAUSE.total_seconds() / 60))
            note(session, "delivery_failed", document=document, after={"why": why})
        elif document.state in READY:
            stuck(session, document, why)


def _recall_stale(store: Store, document_id: int) -> None:
    """What was planned and not sent for other content or by other settings is recalled: some of it may lie there."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state not in READY:
            return
        content, settings = content_of(session, document), settings_of(session, document)
        terms = {one.id: terms_of(settings, one) for one in settings.destinations}
        for delivery in current_deliveries(session, document_id).values():
            in_force = (delivery.content, delivery.terms) == (content, terms.get(delivery.destination))
            if delivery.plan and not in_force and delivery.state != DeliveryState.SENT:
                delivery.state = DeliveryState.RECALLED


def _plan(store: Store, outlets: Outlets, document_id: int, drawn: DrawnDocument) -> list[_Planned]:
    """What will be sent to those destinations that do not have it; the same again if it was planned before.

    Raises Outdated where something of before is to be recalled first.
    """
    with store.transaction() as session:
        document = session.get_one(Document, document_id)
        lane = session.get_one(Lane, lane_of(session, document).id, with_for_update=True)
        session.refresh(document, with_for_update=True)
        if document.state not in READY:
            return []
        known = current_deliveries(session, document_id)
        if any(one.state == DeliveryState.RECALLED for one in known.values()):
            raise Outdated
        lane_settings = settings_of(session, document)
        _drop_gone(session, known, {one.id for one in lane_settings.destinations})
        counter = next((one.counter for one in known.values() if one.counter), 0)
        if not counter:
            lane.counter += 1
            counter = lane.counter
        going_out = outgoing(session, document, lane, lane.settings, counter, drawn)
        planned = []
        for destination in lane_settings.destinations:
            before = known.get(destination.id)
            delivery = _delivery_of(before, document_id, destination, counter, drawn.content)
            if delivery is None:
                continue
            sent = sent_before(session, document_id, destination.id, delivery.version)
            delivery.content, delivery.terms = drawn.content, terms_of(lane_settings, destination)
            record = sent.receipt.record if sent and sent.receipt else ""
            version = replace(
                going_out, version=delivery.version, replaces=sent.plan if sent else None, replaces_record=record
            )
            plan = _planned(session, outlets, destination, version, delivery)
            if plan:
                planned.append(_Planned(destination, plan, drawn.content))
        return planned


def _drop_gone(session: Session, known: dict[str, Delivery], destinations: set[str]) -> None:
    """Forget what was not sent to destinations that the lane has no more."""
    for delivery in [one for one in known.values() if one.destination not in destinations]:
        if delivery.state != DeliveryState.SENT:
            session.delete(known.pop(delivery.destination))


def _delivery_of(
    known: Delivery | None, document_id: int, destination: AnyDestination, counter: int, content: str
) -> Delivery | None:
    """The delivery to be planned: a new version where another content was sent before; None where it has this one."""
    if known is None:
        return Delivery(document_id=document_id, destination=destination.id, counter=counter)
    if known.state != DeliveryState.SENT:
        return known
    if known.content in ("", content):
        return None
    return Delivery(document_id=document_id, destination=destination.id, counter=counter, version=known.version + 1)


def _planned(
    session: Session, outlets: Outlets, destination: AnyDestination, going_out: Outgoing, delivery: Delivery
) -> AnyPlan | None:
    """The delivery's plan, made now if there is none; None where the document is not for this destination."""

    @cache
    def promised(place: str, beginning: PurePosixPath) -> set[str]:
        return promised_names(session, place, beginning)

    def is_taken(place: str, name: PurePosixPath) -> bool:
        beginning = name.with_name(name.stem.partition(" (")[0] + name.suffix)
        return str(name) in promised(place, beginning)

    try:
        made = delivery.plan or destination.plan(going_out, is_taken, outlets)
    except Refused as refusal:
        log.warning("not planned", document=delivery.document_id, to=delivery.destination, why=str(refusal))
        delivery.attempts += 1
        _failed(refusal, delivery)
        session.add(delivery)
        return None
    delivery.plan = made and made.model_copy(update={"settings": destination.revision})
    if delivery.plan is None:
        return None
    delivery.place, delivery.path = delivery.plan.promised or ("", "")
    delivery.attempts += 1
    session.add(delivery)
    session.flush()
    return delivery.plan


def _hand_over(store: Store, outlets: Outlets, document_id: int, one: _Planned) -> bool:
    """Send what is planned, if it still is what is in force; returns whether it must be planned anew.

    The document is locked meanwhile: it is taken back before, or not at all. Raises Outdated.
    """
    try:
        with store.transaction() as session:
            document = session.get_one(Document, document_id, with_for_update=True)
            delivery = current_deliveries(session, document_id).get(one.destination.id)
            if delivery is None or delivery.plan != one.plan or delivery.state == DeliveryState.RECALLED:
                raise Outdated
            if content_of(session, document) != one.content:
                raise Outdated
            if document.state in READY and delivery.state != DeliveryState.SENT:
                receipt: Receipt = one.destination.send(one.plan, outlets)
                receipt = receipt.model_copy(update={"settings": one.plan.settings})
                delivery.state, delivery.receipt, delivery.problem = DeliveryState.SENT, receipt, None
                delivery.sent_at, delivery.next_at = now(), None
                details = receipt.model_dump(mode="json", exclude_defaults=True)
                note(session, "delivered", document=document, after={"message": one.destination.title, **details})
    except Taken:
        _set(store, document_id, one.destination, unplan)
        return True
    except Refused as refusal:
        log.warning("not delivered", document=document_id, to=one.destination.id, why=str(refusal))
        _set(store, document_id, one.destination, partial(_failed, refusal))
    return False


def _set(store: Store, document_id: int, destination: AnyDestination, change: Callable[[Delivery], None]) -> None:
    with store.transaction() as session:
        delivery = current_deliveries(session, document_id).get(destination.id)
        if delivery and delivery.state in (DeliveryState.WAITING, DeliveryState.FAILED):
            change(delivery)


def _failed(refusal: Refused, delivery: Delivery) -> None:
    delivery.state, delivery.problem = DeliveryState.FAILED, str(refusal)
    again = isinstance(refusal, Later) and delivery.attempts < MOST_ATTEMPTS
    delivery.next_at = now() + pause(delivery.attempts) if again else None


def pause(attempts: int) -> timedelta:
    """How long is waited after so many attempts: twice as long each time, up to an hour."""
    return min(FIRST_PAUSE * (1 << max(attempts - 1, 0)), LONGEST_PAUSE)


def _finish(store: Store, document_id: int) -> bool:
    """All destinations were tried: the document is delivered, or stuck with what they said."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state not in READY:
            return document.state == DocumentState.DELIVERED
        tried = current_deliveries(session, document_id).values()
        left = [one for one in tried if one.state != DeliveryState.SENT]
        problems = [one.problem or "" for one in left]
        soonest = min((one.next_at for one in left if one.next_at), default=None)
        if soonest:
            defer_delivery(session, document, max(int((soonest - now()).total_seconds()), 1))
        if any(one.next_at is None for one in left):
            stuck(session, document, " ".join(problems))
        elif left:
            note(session, "delivery_failed", document=document, after={"why": " ".join(problems)})
        else:
            delivered(document)
            note(session, "delivered_to_all", document=document)
        return not problems
