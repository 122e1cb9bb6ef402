"""What the archive can be narrowed by: lanes, types, states and people, each by its code with its name."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import col, select

from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.queries.access import Closed, open_lanes
from zestpail.store.queries.types import last_revision, newest_revisions
from zestpail.store.states import DocumentState
from zestpail.store.tables import Person

Pairs = list[tuple[str, str]]


@dataclass(frozen=True)
class Choices:
    lanes: Pairs
    types: Pairs
    states: Pairs
    people: Pairs
    fields: Pairs
    """The fields of the type that is chosen; empty where none is."""


def choices(store: Store, type_key: str, closed: Closed = ()) -> Choices:
    """What there is to choose from; fields are those of the chosen type's newest revision."""
    with store.transaction() as session:
        bodies = {key: found.body for key in newest_revisions(session) if (found := last_revision(session, key))}
        people = session.exec(select(Person).order_by(col(Person.name))).all()
        fields = bodies.get(type_key, {}).get("fields", [])
        return Choices(
            [(lane.key, lane.name) for lane in open_lanes(session, closed)],
            sorted(((key, str(body["name"])) for key, body in bodies.items()), key=lambda one: one[1]),
            [(state.value, words) for state, words in WORDS.items() if state != DocumentState.DISSOLVED],
            [(person.login, person.name) for person in people],
            [(field["key"], field["name"]) for field in fields],
        )
