"""Of what acts programs are told, and as what."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum

from sqlmodel import Session

from zestpail.store.feed_tables import News
from zestpail.store.tables import Batch


class Kind(StrEnum):
    """A kind of news."""

    BATCH_ARRIVED = "batch.arrived"
    FILE_REFUSED = "file.refused"
    DOCUMENT_NEEDS_SORTING = "document.needs_sorting"
    DOCUMENT_NEEDS_REVIEW = "document.needs_review"
    DOCUMENT_UNREADABLE = "document.unreadable"
    DOCUMENT_SETTLED = "document.settled"
    DOCUMENT_REOPENED = "document.reopened"
    DOCUMENT_DELIVERED = "document.delivered"
    DOCUMENT_DELIVERY_FAILED = "document.delivery_failed"
    DOCUMENT_EMPTIED = "document.emptied"
    DOCUMENT_ERASED = "document.erased"
    JOB_DONE = "job.done"


KINDS: Mapping[str, Kind] = {
    "arrived": Kind.BATCH_ARRIVED,
    "file_refused": Kind.FILE_REFUSED,
    "needs_sorting": Kind.DOCUMENT_NEEDS_SORTING,
    "needs_review": Kind.DOCUMENT_NEEDS_REVIEW,
    "unreadable": Kind.DOCUMENT_UNREADABLE,
    "settled": Kind.DOCUMENT_SETTLED,
    "taken_back": Kind.DOCUMENT_REOPENED,
    "reopened": Kind.DOCUMENT_REOPENED,
    "withdrawn": Kind.DOCUMENT_REOPENED,
    "delivered_to_all": Kind.DOCUMENT_DELIVERED,
    "delivery_failed": Kind.DOCUMENT_DELIVERY_FAILED,
    "emptied": Kind.DOCUMENT_EMPTIED,
    "erased": Kind.DOCUMENT_ERASED,
}
"""The kind of news that an act of the trail is; of others nobody is told."""
KIND_WORDS: Mapping[Kind, str] = {
    Kind.BATCH_ARRIVED: "a batch arrived",
    Kind.FILE_REFUSED: "a file cannot be read",
    Kind.DOCUMENT_NEEDS_SORTING: "a person must say what a document is",
    Kind.DOCUMENT_NEEDS_REVIEW: "a person must look at a document",
    Kind.DOCUMENT_UNREADABLE: "a document cannot be read",
    Kind.DOCUMENT_SETTLED: "a document is settled: its values stand",
    Kind.DOCUMENT_REOPENED: "a document that was settled was opened again",
    Kind.DOCUMENT_DELIVERED: "a document was delivered to all its destinations",
    Kind.DOCUMENT_DELIVERY_FAILED: "a destination did not take a document",
    Kind.DOCUMENT_EMPTIED: "all pages of a document went to others",
    Kind.DOCUMENT_ERASED: "a document was erased",
    Kind.JOB_DONE: "a file that a program had read directly is read, or cannot be",
}
"""What each kind says."""


def tell(session: Session, act: str, batch_id: int | None, document_id: int | None) -> None:
    """Programs are told of the act, where it is one of those."""
    kind = KINDS.get(act)
    if kind and batch_id:
        lane_id = session.get_one(Batch, batch_id).lane_id
        session.add(News(kind=kind, lane_id=lane_id, batch_id=batch_id, document_id=document_id))


def tell_of_job(session: Session, job_id: int, token_id: int) -> None:
    """The program whose job it is is told that it is done."""
    session.add(News(kind=Kind.JOB_DONE, job_id=job_id, token_id=token_id))
