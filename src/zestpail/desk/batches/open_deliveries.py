"""Deliveries that were not made: why, when they are tried next, and trying them again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlmodel import Session

from zestpail.desk.delivery.deliveries import deliver_again
from zestpail.desk.documents.messages import NotDone
from zestpail.store import Store
from zestpail.store.queries.access import Closed, open_lanes
from zestpail.store.queries.deliveries import open_deliveries

MOST = 500


@dataclass(frozen=True)
class OpenRow:
    """One document that one destination did not take."""

    document: int
    batch: int
    lane: str
    lane_name: str
    destination: str
    shown: str
    problem: str
    attempts: int
    next_at: datetime | None


@dataclass(frozen=True)
class OpenView:
    """What was not delivered, by what it is looked for, and by what it can be."""

    rows: list[OpenRow]
    lanes: list[tuple[str, str]]
    destinations: list[tuple[str, str]]


def open_view(store: Store, lane: str, destination: str, closed: Closed = ()) -> OpenView:
    """The newest that were not delivered, of one lane or one of its destinations if named."""
    with store.transaction() as session:
        lanes = open_lanes(session, closed)
        of_lane = next((one for one in lanes if one.key == lane), None)
        there = of_lane.settings.destinations if of_lane else ()
        return OpenView(
            _rows(session, lane, destination, closed), [(one.key, one.name) for one in lanes],
            [(one.id, one.shown) for one in there],
        )  # fmt: skip


def try_all(store: Store, documents: Sequence[int], person_id: int) -> int:
    """Try these documents again, each for itself; returns how many could be. Raises NotDone where none can."""
    tried = 0
    for number in documents:
        try:
            deliver_again(store, number, person_id)
            tried += 1
        except NotDone:  # it went through meanwhile, or somebody has it open
            continue
    if not tried:
        raise NotDone("None of these can be tried again now.")
    return tried


def _rows(session: Session, lane: str, destination: str, closed: Closed) -> list[OpenRow]:
    rows = []
    for delivery, document, of in open_deliveries(session, lane, destination, closed, MOST):
        names = {one.id: one.shown for one in of.settings.destinations}
        rows.append(OpenRow(
            document.id or 0, document.batch_id, of.key, of.name, delivery.destination,
            names.get(delivery.destination, delivery.destination), delivery.problem or "", delivery.attempts,
            delivery.next_at,
        ))  # fmt: skip
    return rows
