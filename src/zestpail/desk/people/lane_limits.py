"""Lanes that are open to some people only."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from sqlmodel import col, delete, select

from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.store import Store
from zestpail.store.access_tables import LanePerson
from zestpail.store.tables import Lane, Person


@dataclass(frozen=True)
class LaneAccess:
    """A lane, and the people to whom it is open; nobody where it is open to all."""

    key: str
    name: str
    people: tuple[int, ...]


def lanes_and_people(store: Store) -> list[LaneAccess]:
    """Every lane with those to whom it is open."""
    with store.transaction() as session:
        limits: dict[int, list[int]] = {}
        for one in session.exec(select(LanePerson).order_by(col(LanePerson.person_id))):
            limits.setdefault(one.lane_id, []).append(one.person_id)
        lanes = session.exec(select(Lane).order_by(col(Lane.id)))
        return [LaneAccess(lane.key, lane.name, tuple(limits.get(lane.id or 0, ()))) for lane in lanes]


def limit_lane(store: Store, key: str, people: Collection[int], by: int) -> None:
    """Open the lane to these people only; to all where nobody is named. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        known = session.exec(select(Person).where(col(Person.id).in_(people)).order_by(col(Person.name))).all()
        session.exec(delete(LanePerson).where(col(LanePerson.lane_id) == lane.id))
        session.add_all(LanePerson(lane_id=lane.id or 0, person_id=one.id or 0) for one in known)
        told = {"message": f"{lane.name}: {', '.join(one.name for one in known) or 'everybody'}"}
        note(session, "lane_limited", person_id=by, after=told)
