"""The audit trail, and who is told that something changed."""

from __future__ import annotations

from typing import Any

from sqlmodel import Session

from zestpail.store.notices import changed
from zestpail.store.tables import Document, Event


def note(
    session: Session,
    what: str,
    *,
    document: Document | None = None,
    batch_id: int | None = None,
    person_id: int | None = None,
    before: dict[str, Any] | None = None,
    after: dict[str, Any] | None = None,
) -> Event:
    """Add to the trail and tell those who look on."""
    event = Event(
        what=what,
        person_id=person_id,
        batch_id=document.batch_id if document else batch_id,
        document_id=document.id if document else None,
        before=before or {},
        after=after or {},
    )
    session.add(event)
    topics = ["today"]
    if event.batch_id:
        topics.append(f"batch {event.batch_id}")
    if document:
        topics.append(f"document {document.id}")
    changed(session, *topics)
    return event
