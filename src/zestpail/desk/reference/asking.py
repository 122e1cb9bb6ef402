"""Asking an address for a list, now and at intervals: what comes is a new revision, if it differs."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path

from sqlmodel import col, select

from zestpail.core.reference.table_file import MOST_BYTES
from zestpail.delivery import Later, Refused, Web
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.secrets import keep_secret
from zestpail.desk.reference.lists import ask_by, give_file, list_of
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.jobs import defer
from zestpail.store.notices import changed as tell
from zestpail.store.reference_tables import AskedFrom, KnownList, ListState

EVERY = {"hour": timedelta(hours=1), "day": timedelta(days=1)}
AGAIN = timedelta(minutes=5)
"""When an address that did not answer is asked again."""
ACCEPTED = {"accept": "text/csv, application/json, application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"}
TIMES = {"hour": "every hour", "day": "once a day", "by_hand": "only when asked to"}


def connect(
    store: Store, web: Web, data: Path, key: str, address: str, secret: str, every: str, person_id: int
) -> None:
    """Have an address asked for the list from now on; with none it is not asked any more. Raises Missing, NotDone."""
    place = address.strip()[:500]
    if not place:
        ask_by(store, key, None, person_id)
        return
    if every not in TIMES:
        raise NotDone("Say how often the address is asked. Nothing was changed.")
    try:
        web.permit(place)
    except (Refused, Later) as problem:
        raise NotDone(f"{problem} Nothing was changed.") from problem
    with store.transaction() as session:
        before = list_of(session, key).asked
    name = f"list {key}"
    if secret.strip():
        keep_secret(store, data, name, secret.strip(), person_id)
    kept = name if secret.strip() else before.secret if before else ""
    ask_by(store, key, AskedFrom.model_validate({"address": place, "secret": kept, "every": every}), person_id)
    ask_soon(store, key)


def ask_soon(store: Store, key: str) -> None:
    """Have a worker ask now. Raises Missing, NotDone."""
    with store.transaction() as session:
        known = list_of(session, key)
        if known.asked is None:
            raise NotDone("No address is known for this list.")
        known.state, known.problem = ListState.READING, ""
        session.flush()
        defer(session, "ask_list", list_id=known.id)
        tell(session, "lists")


def ask_due(store: Store) -> None:
    """Have those lists asked for whose time has come."""
    with store.transaction() as session:
        due = select(KnownList).where(
            col(KnownList.next_at).is_not(None), col(KnownList.next_at) <= now(), KnownList.state != ListState.READING
        )
        for known in session.exec(due.with_for_update(skip_locked=True)):
            known.next_at = now() + AGAIN
            defer(session, "ask_list", list_id=known.id)


def ask(store: Store, web: Web, list_id: int) -> None:
    """Ask the list's address; what it says is taken as a file is."""
    with store.transaction() as session:
        known = session.get(KnownList, list_id)
        if known is None or known.asked is None or known.state is ListState.HELD:
            return
        key, asked = known.key, known.asked
    try:
        answer = web.call("GET", asked.address, asked.secret, head=ACCEPTED, most=MOST_BYTES)
        if answer.status != 200:
            raise Refused(f"{asked.address} answers {answer.status}.")
    except Refused as refusal:  # Later is one, too
        told = str(refusal)
        with store.transaction() as session:
            known = session.get_one(KnownList, list_id, with_for_update=True)
            known.state, known.problem = ListState.FAILED, f"{told} The revision before holds."
            known.next_at = now() + AGAIN if asked.every in EVERY else None
            tell(session, "lists")
        return
    with store.transaction() as session:
        known = session.get_one(KnownList, list_id, with_for_update=True)
        pause = EVERY.get(asked.every)
        known.next_at = now() + pause if pause else None
    give_file(store, key, asked.address, answer.body, None)
