"""Addresses that are called with news: signed, tried again for a day, each call kept so that it can be made again.

Signed as Standard Webhooks 1.0 has it (see :mod:`zestpail.delivery.hook`); a call that is made again has the same id.
"""

from __future__ import annotations

import base64
import json
import secrets
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime, timedelta
from pathlib import Path
from typing import NamedTuple

from pydantic import BaseModel
from sqlmodel import Session, col, select

from zestpail.delivery import Refused, Web
from zestpail.delivery.hook import MARK, signed
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.news import KIND_WORDS, Kind
from zestpail.desk.documents.secrets import keep_secret
from zestpail.desk.programs.news import told
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.feed_tables import Hook, HookCall, HookCallState
from zestpail.store.queries.news import calls_due, hooks, last_news, news_after, number_news
from zestpail.store.tables import Lane

WAITS = (10, 60, 300, 1_800, 3_600, 10_800, 21_600, 43_200)
"""Seconds until it is tried again, after the first time, the second …; after the last it is given up."""
AT_HAND = timedelta(minutes=5)
"""For so long nobody else makes a call that was begun."""
AT_ONCE, AT_A_TIME, MOST_LISTED = 50, 4, 100


class HookTerms(BaseModel):
    """What is to be called, and with what."""

    address: str = ""
    kinds: list[str] = []
    lanes: list[str] = []


class HookRow(NamedTuple):
    id: int
    address: str
    kinds: tuple[str, ...]
    lanes: tuple[str, ...]
    made_at: datetime
    ended: bool


class HookCallRow(NamedTuple):
    id: int
    address: str
    kind: str
    document_id: int | None
    state: HookCallState
    attempts: int
    answered: int | None
    problem: str
    next_at: datetime | None
    called_at: datetime | None
    made_at: datetime


def add_hook(store: Store, data: Path, web: Web, terms: HookTerms, person_id: int) -> str:
    """From now on the address is called; returns the secret that calls are signed with, which is shown this once.

    Raises NotDone where the address may not be called, or there is no such kind or lane.
    """
    address = terms.address.strip()
    try:
        web.permit(address)
    except Refused as problem:
        raise NotDone(str(problem)) from problem
    if not set(terms.kinds) <= set(KIND_WORDS) or len(address) > 500:
        raise NotDone("There is no such kind of news.")
    secret = MARK + base64.b64encode(secrets.token_bytes(32)).decode()
    with store.transaction() as session:
        number_news(session)
        known = set(session.exec(select(Lane.key)))
        if not set(terms.lanes) <= known:
            raise Missing("There is no such lane.")
        hook = Hook(
            address=address, secret="", kinds=tuple(terms.kinds), lanes=tuple(terms.lanes),
            position=last_news(session), person_id=person_id,
        )  # fmt: skip
        session.add(hook)
        session.flush()
        hook.secret = f"hook {hook.id}"
        note(session, "hook_made", person_id=person_id, after={"message": address})
    keep_secret(store, data, hook.secret, secret, person_id)
    return secret


def end_hook(store: Store, hook_id: int, person_id: int) -> None:
    """The address is called no more. Raises Missing."""
    with store.transaction() as session:
        hook = session.get(Hook, hook_id)
        if hook is None:
            raise Missing("There is no such address.")
        hook.ended_at = hook.ended_at or now()
        note(session, "hook_ended", person_id=person_id, after={"message": hook.address})


def hooks_there_are(store: Store) -> list[HookRow]:
    """The addresses, the newest first."""
    with store.transaction() as session:
        return [HookRow(one.id or 0, one.address, one.kinds, one.lanes, one.made_at, one.ended_at is not None)
                for one in hooks(session, also_ended=True)]  # fmt: skip


def calls_made(store: Store) -> list[HookCallRow]:
    """The last calls, the newest first."""
    with store.transaction() as session:
        wanted = select(HookCall, Hook.address).join(Hook, col(Hook.id) == col(HookCall.hook_id))
        found = session.exec(wanted.order_by(col(HookCall.id).desc()).limit(MOST_LISTED))
        return [
            HookCallRow(one.id or 0, address, one.kind, one.document_id, one.state, one.attempts, one.answered,
                        one.problem, one.next_at, one.called_at, one.made_at)
            for one, address in found
        ]  # fmt: skip


def call_again(store: Store, call_id: int, person_id: int) -> None:
    """Make a call once more, with the same id. Raises Missing, NotDone where the address is called no more."""
    with store.transaction() as session:
        call = session.get(HookCall, call_id, with_for_update=True)
        hook = session.get(Hook, call.hook_id) if call else None
        if call is None or hook is None:
            raise Missing("There is no such call.")
        if hook.ended_at:
            raise NotDone("This address is called no more.")
        call.state, call.next_at, call.attempts, call.problem = HookCallState.WAITING, now(), 0, ""
        note(session, "hook_replayed", person_id=person_id, after={"message": hook.address})


def plan_calls(store: Store) -> int:
    """Each address is to be called with what is new for it; returns how many calls were planned."""
    with store.transaction() as session:
        number_news(session)
    with store.transaction() as session:
        lanes = {lane.id or 0: lane.key for lane in session.exec(select(Lane))}
        planned = 0
        for hook in session.exec(select(Hook).where(col(Hook.ended_at).is_(None)).with_for_update()):
            planned += _plan(session, hook, lanes)
        return planned


def _plan(session: Session, hook: Hook, lanes: dict[int, str]) -> int:
    last = last_news(session)
    closed = [number for number, key in lanes.items() if hook.lanes and key not in hook.lanes]
    jobs = Kind.JOB_DONE in hook.kinds  # only where they are asked for: each program is told of its own by /news
    found = news_after(session, hook.position, AT_ONCE, closed=closed, kinds=hook.kinds, all_jobs=jobs)
    for one in found:
        body = {"type": one.kind, "timestamp": one.at.isoformat(),
                "data": told(one, lanes.get(one.lane_id or 0)).model_dump(mode="json")}  # fmt: skip
        session.add(HookCall(hook_id=hook.id or 0, seq=one.seq or 0, kind=one.kind, document_id=one.document_id,
                             body=json.dumps(body), next_at=now()))  # fmt: skip
    reached = (found[-1].seq or 0) if found else 0
    hook.position = reached if len(found) == AT_ONCE else max(last, reached, hook.position)
    return len(found)


def make_calls(store: Store, web: Web) -> int:
    """Make the calls whose time has come, a few of each address at a time; returns how many there were."""
    with store.transaction() as session:
        of_hook: Counter[int] = Counter()
        begun = []
        for call in calls_due(session, now(), AT_ONCE):
            of_hook[call.hook_id] += 1
            if of_hook[call.hook_id] <= AT_A_TIME:  # an address that hangs keeps the others waiting no longer
                call.next_at = now() + AT_HAND
                begun.append((call.id or 0, session.get_one(Hook, call.hook_id), call.body))

    def made(one: tuple[int, Hook, str]) -> None:
        call_id, hook, body = one
        answered, problem = _called(web, hook, call_id, body.encode())
        with store.transaction() as session:
            _ended(session.get_one(HookCall, call_id, with_for_update=True), answered, problem)

    with ThreadPoolExecutor(AT_A_TIME) as several:
        list(several.map(made, begun))
    return len(begun)


def _called(web: Web, hook: Hook, call_id: int, body: bytes) -> tuple[int | None, str]:
    """What the address answered, and why that is not well."""
    try:
        head = signed(body, f"{web.house}-news-{call_id}", int(now().timestamp()), web.secret(hook.secret))
        answer = web.call("POST", hook.address, "", body, head)
    except Refused as problem:
        return None, str(problem)
    return answer.status, "" if 200 <= answer.status < 300 else f"It answers {answer.status}."


def _ended(call: HookCall, answered: int | None, problem: str) -> None:
    call.attempts, call.called_at, call.answered, call.problem = call.attempts + 1, now(), answered, problem
    if not problem:
        call.state, call.next_at = HookCallState.DONE, None
    elif call.attempts > len(WAITS):
        call.state, call.next_at = HookCallState.FAILED, None
    else:
        call.next_at = now() + timedelta(seconds=WAITS[call.attempts - 1])
