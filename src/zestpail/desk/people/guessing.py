"""Slowing down whoever guesses passwords: the more wrong ones, the longer the wait, by login and by address."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta

from sqlalchemy import case
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col

from zestpail.desk.documents.messages import NotDone
from zestpail.store import Store
from zestpail.store.access_tables import WrongPasswords
from zestpail.store.columns import now

FREE, LONGEST = 5, timedelta(minutes=15)
"""Wrong passwords in a row that cost nothing, and the longest wait."""
FORGOTTEN = timedelta(days=1)
AT_ONCE, PATIENCE = 2, 10.0
"""Passwords that are checked at once (each takes 64 MB), and seconds that others wait for their turn."""
_turns = threading.BoundedSemaphore(AT_ONCE)


class TooOften(NotDone):
    """So many wrong passwords were entered that the next one has to wait."""


def may_try(store: Store, login: str, address: str) -> None:
    """Raises TooOften where somebody must wait first."""
    with store.transaction() as session:
        waits = [_wait(session, subject) for subject in _subjects(login, address)]
    seconds = int(max(waits).total_seconds()) + 1 if max(waits) > timedelta() else 0
    if seconds:
        when = f"{seconds} seconds" if seconds < 120 else f"{seconds // 60} minutes"
        raise TooOften(f"Too many wrong passwords were entered. Try again in {when}.")


def went_wrong(store: Store, login: str, address: str) -> None:
    """Count a wrong password."""
    count, last_at = col(WrongPasswords.count), col(WrongPasswords.last_at)
    counted = {"count": case((last_at < now() - FORGOTTEN, 1), else_=count + 1), "last_at": now()}
    with store.transaction() as session:
        for subject in _subjects(login, address):
            first = insert(WrongPasswords).values(subject=subject, count=1, last_at=now())
            session.execute(first.on_conflict_do_update(index_elements=["subject"], set_=counted))


def went_right(store: Store, login: str) -> None:
    """Whoever knows the password of a login may err again; an address stays known for what came from it."""
    with store.transaction() as session:
        known = session.get(WrongPasswords, _subjects(login, "")[0])
        if known:
            session.delete(known)


@contextmanager
def turn() -> Iterator[None]:
    """One of the few passwords that are checked at once. Raises TooOften where too many wait."""
    if not _turns.acquire(timeout=PATIENCE):
        raise TooOften("Too many people sign in at this moment. Try again in a while.")
    try:
        yield
    finally:
        _turns.release()


def _subjects(login: str, address: str) -> list[str]:
    return [f"login {login.strip()[:60]}", *([f"address {address[:60]}"] if address else [])]


def _wait(session: Session, subject: str) -> timedelta:
    """How long is still to be waited; addresses, behind which many may sit, have ten times as many for nothing."""
    known = session.get(WrongPasswords, subject)
    free = FREE * (10 if subject.startswith("address ") else 1)
    if known is None or known.count < free:
        return timedelta()
    pause = min(timedelta(seconds=1 << min(known.count - free, 12)), LONGEST)
    return known.last_at + pause - now()
