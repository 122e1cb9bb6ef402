"""The ways a document moves from arrived to delivered: each transition is one function, any other is a mistake."""

from __future__ import annotations

from sqlmodel import Session

from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import NotDone
from zestpail.store.columns import now
from zestpail.store.jobs import Priority, defer
from zestpail.store.queries.deliveries import current_deliveries
from zestpail.store.states import DeliveryState, DocumentState
from zestpail.store.tables import Document

BEFORE = "before"
"""Digest of content that was sent before digests were kept."""


def to_review(session: Session, document: Document, why: str) -> None:
    """A person must look at it."""
    _move(document, DocumentState.REVIEW, DocumentState.READING)
    document.review_since = now()
    note(session, "needs_review", document=document, after={"why": why})


def to_sorting(session: Session, document: Document, why: str) -> None:
    """A person must say what it is, or where it begins."""
    _move(document, DocumentState.SORTING, DocumentState.READING)
    document.review_since = now()
    note(session, "needs_sorting", document=document, after={"why": why})


def sorted_out(session: Session, document: Document, person_id: int, what: str) -> None:
    """Somebody said what it is: its values can be found."""
    _move(document, DocumentState.READING, DocumentState.SORTING)
    document.review_since = document.holder_id = document.held_at = None
    note(session, "sorted", document=document, person_id=person_id, after={"type": what})


def sort_again(session: Session, document: Document, person_id: int) -> None:
    """What was said of it is taken back: a person says it anew."""
    _move(document, DocumentState.SORTING, DocumentState.READING, DocumentState.REVIEW)
    document.review_since = now()
    note(session, "needs_sorting", document=document, person_id=person_id, after={"why": "taken back"})


def give_up(session: Session, document: Document, why: str) -> None:
    """None of its pages can be read: there is nothing that a person could review."""
    _move(document, DocumentState.UNREADABLE, DocumentState.READING)
    note(session, "unreadable", document=document, after={"why": why})


def settle(session: Session, document: Document, person_id: int | None, wait: int = 0) -> None:
    """All values stand: deliver it, after ``wait`` seconds in which it can be taken back."""
    _move(document, DocumentState.SETTLED, DocumentState.READING, DocumentState.REVIEW)
    document.settled_at, document.settled_by_id = now(), person_id
    document.holder_id = document.held_at = None
    note(session, "settled", document=document, person_id=person_id)
    defer_delivery(session, document, wait)


def take_back(session: Session, document: Document, person_id: int) -> None:
    """Back to review, before all destinations have it; what some of them have is removed there, where that can be."""
    _move(document, DocumentState.REVIEW, DocumentState.SETTLED, DocumentState.STUCK)
    _reopen(document)
    current = current_deliveries(session, document.id or 0).values()
    for delivery in current:
        if delivery.plan and (delivery.state != DeliveryState.SENT or delivery.plan.can_be_recalled):
            delivery.state = DeliveryState.RECALLED
        delivery.content = delivery.content or BEFORE
    if any(delivery.state == DeliveryState.RECALLED for delivery in current):
        defer(session, "take_out", priority=Priority.DELIVER, document_id=document.id)
    note(session, "taken_back", document=document, person_id=person_id)


def withdraw(session: Session, document: Document, person_id: int) -> None:
    """Back to review after it was delivered, and taken out of every destination where that can be."""
    _move(document, DocumentState.REVIEW, DocumentState.DELIVERED)
    _reopen(document)
    for delivery in current_deliveries(session, document.id or 0).values():
        delivery.content = delivery.content or BEFORE
        if delivery.plan and delivery.plan.can_be_recalled:
            delivery.state = DeliveryState.RECALLED
    defer(session, "take_out", priority=Priority.DELIVER, document_id=document.id)
    note(session, "withdrawn", document=document, person_id=person_id)


def correct(session: Session, document: Document, person_id: int) -> None:
    """Back to review after it was delivered: what is then delivered is a new version, and the old one is kept."""
    _move(document, DocumentState.REVIEW, DocumentState.DELIVERED)
    _reopen(document)
    for delivery in current_deliveries(session, document.id or 0).values():
        delivery.content = delivery.content or BEFORE
    note(session, "reopened", document=document, person_id=person_id)


def _reopen(document: Document) -> None:
    document.settled_at = document.settled_by_id = document.delivered_at = None
    document.review_since = now()


def delivered(document: Document) -> None:
    """The destination has it."""
    _move(document, DocumentState.DELIVERED, DocumentState.SETTLED, DocumentState.STUCK)
    document.delivered_at = now()


def stuck(session: Session, document: Document, why: str) -> None:
    """The destination did not take it."""
    if document.state != DocumentState.STUCK:
        _move(document, DocumentState.STUCK, DocumentState.SETTLED)
    note(session, "delivery_failed", document=document, after={"why": why})


def try_again(session: Session, document: Document, person_id: int | None) -> None:
    """Deliver a stuck document once more."""
    _move(document, DocumentState.SETTLED, DocumentState.STUCK)
    note(session, "delivery_retried", document=document, person_id=person_id)
    defer_delivery(session, document)


def dissolve(session: Session, document: Document, person_id: int) -> None:
    """All of its pages belong to other documents now, or to none."""
    _move(document, DocumentState.DISSOLVED, DocumentState.READING, DocumentState.SORTING, DocumentState.REVIEW)
    note(session, "emptied", document=document, person_id=person_id)


def read_anew(document: Document) -> None:
    """Its pages changed: its values are to be found anew."""
    _move(document, DocumentState.READING, DocumentState.READING, DocumentState.SORTING, DocumentState.REVIEW,
          DocumentState.DISSOLVED)  # fmt: skip
    document.review_since = document.holder_id = document.held_at = None


def defer_delivery(session: Session, document: Document, wait: int = 0) -> None:
    defer(session, "deliver", priority=Priority.DELIVER, seconds=wait, document_id=document.id)


def _move(document: Document, to: DocumentState, *allowed: DocumentState) -> None:
    if document.state not in allowed:
        raise NotDone(f"This document is {WORDS[document.state]} already.")
    document.state = to


WORDS = {
    DocumentState.READING: "being read",
    DocumentState.SORTING: "to be sorted",
    DocumentState.UNREADABLE: "not readable",
    DocumentState.REVIEW: "in review",
    DocumentState.SETTLED: "settled",
    DocumentState.DELIVERED: "delivered",
    DocumentState.STUCK: "stuck",
    DocumentState.DISSOLVED: "without pages",
}
