"""The one journal of changes that can be undone: on the review desk, on the page ribbon, on the bench.

A change is written down with what it takes to put back what was before; how that is done is its subject's own matter.
The last change of a subject that is not undone yet is the next one to be undone.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from sqlmodel import Session, col, select

from zestpail.desk.documents.messages import NotDone
from zestpail.store.columns import now
from zestpail.store.trail_tables import JournalEntry

Before = dict[str, Any]


def write_down(session: Session, subject: str, message: str, before: Before, person_id: int | None) -> JournalEntry:
    """Keep a change of the subject, such as ``document 12``."""
    entry = JournalEntry(subject=subject, message=message, before=before, person_id=person_id)
    session.add(entry)
    session.flush()
    return entry


def last_change(session: Session, subject: str) -> JournalEntry | None:
    """The change that would be undone next; None where there is none."""
    wanted = select(JournalEntry).where(JournalEntry.subject == subject, col(JournalEntry.undone_at).is_(None))
    return session.exec(wanted.order_by(col(JournalEntry.id).desc()).limit(1)).first()


def undo_last(session: Session, subject: str, put_back: Callable[[Before], None]) -> JournalEntry:
    """Undo the last change by ``put_back``, which is given what was before; returns it. Raises NotDone."""
    entry = last_change(session, subject)
    if entry is None:
        raise NotDone("There is nothing to undo.")
    put_back(entry.before)
    entry.undone_at = now()
    session.add(entry)
    return entry
