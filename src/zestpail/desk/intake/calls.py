"""Readings that another system begins: it calls, its record is asked for, and what is attached to that arrives.

A call is kept before it is answered. What it says of the record is not believed: the record is asked for where the lane
says. A call that comes again is known by its identity, and nothing is read twice for it.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import PurePosixPath
from typing import Any
from urllib.parse import quote, urlsplit

from sqlmodel import Session, col, select

from zestpail.core.reading.limits import Limits
from zestpail.delivery import Answer, Later, Refused, Web
from zestpail.delivery.hook import ID, is_signed
from zestpail.delivery.record import CAME_FROM
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.intake.arrivals import arrive_once
from zestpail.store import Store
from zestpail.store.calls_settings import CallsFrom
from zestpail.store.columns import now
from zestpail.store.intake_tables import CallState, OutsideCall
from zestpail.store.jobs import Priority, defer
from zestpail.store.tables import Lane

MOST_BYTES = 100_000
"""Of a call."""
FIRST_PAUSE, LONGEST_PAUSE, MOST_ATTEMPTS = 20, 3600, 40
"""Seconds between attempts at fetching, twice as long each time, and how many are made."""
SHOWN = 50


class NotOurs(NotDone):
    """A call that is not signed by whom the lane listens to."""


@dataclass(frozen=True)
class CallRow:
    """One call, and what came of it."""

    id: int
    record: str
    state: CallState
    problem: str
    next_at: datetime | None
    batch: int | None
    came_at: datetime


def take_call(store: Store, web: Web, lane_key: str, body: bytes, head: Mapping[str, str]) -> bool:
    """Keep a call, if it is one that begins a reading; returns whether it does. Raises NotOurs, NotDone."""
    try:
        with store.transaction() as session:
            settings = lane_of_key(session, lane_key).settings.calls
    except Missing:
        settings = None
    at = int(now().timestamp())
    if settings is None or not is_signed(body, head, at, _secret(web, settings)):
        raise NotOurs("This call is not signed by a system that the lane listens to.")
    record, state = _told(body)
    if not record:
        raise NotDone("The call does not say which record it speaks of, as data.id.")
    if settings.state and state.casefold() != settings.state.casefold():
        return False
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.get_one(Lane, lane.id, with_for_update=True)
        identity = head[ID]
        known = select(OutsideCall).where(OutsideCall.lane_id == lane.id, OutsideCall.identity == identity)
        if session.exec(known).first() is None:
            call = OutsideCall(lane_id=lane.id or 0, identity=identity, record=record)
            session.add(call)
            session.flush()
            defer(session, "fetch_called", priority=Priority.OPEN, call_id=call.id)
    return True


def fetch_called(store: Store, web: Web, call_id: int) -> None:
    """Ask for the record of a call and take in what is attached to it. Doing it again takes in nothing twice."""
    with store.transaction() as session:
        call = session.get_one(OutsideCall, call_id)
        lane = session.get_one(Lane, call.lane_id)
        settings, record, lane_key = lane.settings.calls, call.record, lane.key
        if call.state == CallState.TAKEN:
            return
    try:
        if settings is None:
            raise Refused("The lane listens to no other system any more.")
        batch = None
        for at, (name, data) in enumerate(_attached(web, settings, record, store.limits), 1):
            identity = f"call {call_id}, attachment {at}"
            arrival = arrive_once(store, lane_key, name, data, _channel(settings), identity, {CAME_FROM: record})
            batch = batch or arrival.batch_id
        _set(store, call_id, CallState.TAKEN, "", batch=batch)
    except Refused as refusal:
        fail_call(store, call_id, str(refusal), later=isinstance(refusal, Later))


def fail_call(store: Store, call_id: int, why: str, *, later: bool = False) -> None:
    """Nothing could be taken in: tried again after a while, or left to a person."""
    with store.transaction() as session:
        call = session.get_one(OutsideCall, call_id, with_for_update=True)
        call.attempts += 1
        call.problem, call.state, call.next_at = why, CallState.FAILED, None
        if later and call.attempts < MOST_ATTEMPTS:
            pause = min(FIRST_PAUSE << min(call.attempts - 1, 16), LONGEST_PAUSE)
            call.next_at = now() + timedelta(seconds=pause)
            defer(session, "fetch_called", priority=Priority.OPEN, seconds=pause, call_id=call_id)


def fetch_again(store: Store, lane_key: str, call_id: int, person_id: int) -> None:
    """A person asks for another attempt. Raises Missing."""
    with store.transaction() as session:
        call, lane = session.get(OutsideCall, call_id), lane_of_key(session, lane_key)
        if call is None or call.lane_id != lane.id:
            raise Missing("There is no such call.")
        if call.state == CallState.FAILED:
            call.state, call.next_at = CallState.WAITING, None
            defer(session, "fetch_called", priority=Priority.OPEN, call_id=call_id)
            note(session, "call_fetched_again", person_id=person_id, after={"lane": lane_key, "message": call.record})


def calls_of(session: Session, lane: Lane) -> list[CallRow]:
    """The last calls, newest first."""
    wanted = select(OutsideCall).where(OutsideCall.lane_id == lane.id).order_by(col(OutsideCall.id).desc())
    return [
        CallRow(one.id or 0, one.record, one.state, one.problem, one.next_at, one.batch_id, one.came_at)
        for one in session.exec(wanted.limit(SHOWN))
    ]


def _secret(web: Web, settings: CallsFrom) -> str:
    try:
        return web.secret(settings.signed_with)
    except Refused as problem:
        raise NotOurs(str(problem)) from problem


def _told(body: bytes) -> tuple[str, str]:
    """Id and state of the record that a call speaks of."""
    try:
        told = json.loads(body)
    except ValueError:
        return "", ""
    data = told.get("data") if isinstance(told, dict) else None
    if not isinstance(data, dict):
        return "", ""
    return str(data.get("id") or "")[:200], str(data.get("state") or "")


def _attached(web: Web, settings: CallsFrom, record: str, limits: Limits) -> list[tuple[str, bytes]]:
    """Name and content of what is attached to a record. Raises Refused, Later."""
    answer = web.call("GET", f"{settings.address.rstrip('/')}/{quote(record, safe='')}", settings.secret)
    told = _object(answer)
    if answer.status != 200:
        raise Refused(f"{urlsplit(settings.address).hostname} answers {answer.status} for {record}.")
    if settings.state and str(told.get("state", "")).casefold() != settings.state.casefold():
        raise Refused(f"{record} is not “{settings.state}” any more.")
    attached = told.get("attachments")
    found = [one for one in attached if isinstance(one, dict)] if isinstance(attached, list) else []
    if not found:
        raise Refused(f"Nothing is attached to {record}.")
    return [_file(web, settings, one, limits.max_bytes) for one in found]


def _file(web: Web, settings: CallsFrom, told: Mapping[str, Any], most: int) -> tuple[str, bytes]:
    name, address = str(told.get("name") or "attachment"), str(told.get("address") or "")
    answer = web.call("GET", address, settings.secret, head={"accept": "*/*"}, most=most)
    if answer.status != 200:
        raise Refused(f"{PurePosixPath(name).name} cannot be fetched: it is answered with {answer.status}.")
    return name, answer.body


def _object(answer: Answer) -> dict[str, Any]:
    try:
        told = json.loads(answer.body or b"{}")
    except ValueError:
        return {}
    return told if isinstance(told, dict) else {}


def _channel(settings: CallsFrom) -> str:
    return f"call of {urlsplit(settings.address).hostname}"


def _set(store: Store, call_id: int, state: CallState, problem: str, batch: int | None) -> None:
    with store.transaction() as session:
        call = session.get_one(OutsideCall, call_id, with_for_update=True)
        call.state, call.problem, call.next_at, call.batch_id = state, problem, None, batch
