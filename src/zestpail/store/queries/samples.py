"""The samples of document types."""

from __future__ import annotations

from collections.abc import Sequence

from sqlmodel import Session, col, select

from zestpail.store.tables import Page, Sample


def samples_of(session: Session, type_key: str) -> Sequence[Sample]:
    """The samples of a type in the order in which they were added."""
    return session.exec(select(Sample).where(Sample.type_key == type_key).order_by(col(Sample.id))).all()


def pages_of_sample(session: Session, sample_id: int) -> list[Page]:
    return list(session.exec(select(Page).where(Page.sample_id == sample_id).order_by(col(Page.position))))
