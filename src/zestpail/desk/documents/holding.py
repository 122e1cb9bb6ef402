"""Who has a document in hand: whoever opened it, for as long as that person works on it."""

from __future__ import annotations

from datetime import timedelta

from sqlmodel import Session

from zestpail.store.columns import now
from zestpail.store.tables import Document, Person

HOLD = timedelta(minutes=10)
"""After so long without a sign of life a document is free for others."""


def holder_name(session: Session, document: Document, person_id: int) -> str | None:
    """Who else has the document in hand."""
    if not held_by_other(document, person_id):
        return None
    return session.get_one(Person, document.holder_id).name


def held_by_other(document: Document, person_id: int) -> bool:
    held = document.holder_id is not None and document.held_at is not None and now() - document.held_at < HOLD
    return held and document.holder_id != person_id
