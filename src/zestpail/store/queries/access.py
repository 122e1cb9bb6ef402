"""Which lanes are closed to whom, and in which lane something lies."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from sqlalchemy import ColumnElement
from sqlmodel import Session, and_, col, or_, select, true

from zestpail.store.access_tables import LanePerson
from zestpail.store.intake_tables import Scan
from zestpail.store.tables import ArrivedFile, Batch, Document, Lane, Page

Closed = Collection[int]
"""Ids of lanes that are limited to other people."""


def lanes_closed_to(person_id: int) -> Any:
    """A selection of the lanes that are limited to other people."""
    limited = select(LanePerson.lane_id)
    return limited.where(col(LanePerson.lane_id).not_in(limited.where(LanePerson.person_id == person_id)))


def closed_lanes(session: Session, person_id: int) -> frozenset[int]:
    """The lanes that are limited to other people."""
    return frozenset(session.exec(lanes_closed_to(person_id)))


def open_lanes(session: Session, closed: Closed) -> list[Lane]:
    """All lanes but the closed ones, in their order."""
    return [lane for lane in session.exec(select(Lane).order_by(col(Lane.id))) if lane.id not in closed]


def open_batch(closed: Closed) -> ColumnElement[bool]:
    """That a batch lies in none of the closed lanes."""
    return col(Batch.lane_id).not_in(closed) if closed else true()


def open_to_see(batch_id: Any, closed: Closed) -> ColumnElement[bool]:
    """That what belongs to that batch lies in none of the closed lanes."""
    return batch_id.not_in(select(Batch.id).where(col(Batch.lane_id).in_(closed))) if closed else true()


def open_page(closed: Closed) -> ColumnElement[bool]:
    """That a page lies in none of the closed lanes; pages of samples lie in no lane."""
    if not closed:
        return true()
    files = select(ArrivedFile.id).join(Batch, and_(col(Batch.id) == col(ArrivedFile.batch_id)))
    return or_(col(Page.file_id).is_(None), col(Page.file_id).not_in(files.where(col(Batch.lane_id).in_(closed))))


def lane_of_what(session: Session, what: str, number: int) -> int | None:
    """The lane in which a batch, document, page, file or scan lies; None where there is none."""
    of_batch = select(Batch.lane_id)
    match what:
        case "batch_id":
            wanted = of_batch.where(Batch.id == number)
        case "document_id":
            wanted = of_batch.join(Document, col(Document.batch_id) == col(Batch.id)).where(Document.id == number)
        case "page_id":
            files = select(Page.file_id).where(Page.id == number)
            wanted = of_batch.join(ArrivedFile, col(ArrivedFile.batch_id) == col(Batch.id))
            wanted = wanted.where(col(ArrivedFile.id).in_(files))
        case "file_id":
            wanted = of_batch.join(ArrivedFile, col(ArrivedFile.batch_id) == col(Batch.id))
            wanted = wanted.where(ArrivedFile.id == number)
        case "scan_id":
            wanted = select(Scan.lane_id).where(Scan.id == number)
        case _:
            raise ValueError(what)
    return session.exec(wanted).first()


def lane_id_of(session: Session, key: str) -> int | None:
    """The lane of that key."""
    return session.exec(select(Lane.id).where(Lane.key == key)).first()


def is_of_sample(session: Session, page_id: int) -> bool:
    """Whether a page is one of a type's samples."""
    return session.exec(select(Page.sample_id).where(Page.id == page_id)).first() is not None
