"""Changes of where a lane's draft sends records, and of what goes into which column: each can be undone."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from slugify import slugify
from sqlmodel import Session

from zestpail.delivery import AnyDestination, Later, RecordDestination, Refused, Web
from zestpail.delivery.mapping import FieldSource, LookupSource, TableTie, Tie, Ties
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.journal import undo_last, write_down
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.secrets import keep_secret
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.tables import Lane


def subject_of(lane: Lane) -> str:
    """What changes of a lane's records are written down under."""
    return f"records {lane.id}"


def add(
    store: Store, web: Web, data: Path, lane_key: str, name: str, address: str, key: str, person_id: int
) -> str:  # fmt: skip
    """Connect an address that takes records, whose columns are asked at once; returns its id. Raises NotDone."""
    called, place = name.strip(), address.strip().rstrip("/")
    if not called or not place:
        raise NotDone("Say what it is called and at which address it takes records. Nothing was changed.")
    with store.transaction() as session:
        taken = {one.id for one in _draft(lane_of_key(session, lane_key)).destinations}
    beginning = slugify(called)[:30] or "records"
    new_id = next(one for one in (beginning, *(f"{beginning}-{at}" for at in range(2, 100))) if one not in taken)
    secret = f"{lane_key} {new_id}" if key.strip() else ""
    if secret:
        keep_secret(store, data, secret, key.strip(), person_id)
    there = RecordDestination(id=new_id, name=called[:80], address=place[:500], secret=secret)
    there = _with_columns(there, web)
    _change(store, lane_key, lambda all_: (*all_, there), f"connected {called}", person_id)
    return new_id


def ask_columns(store: Store, web: Web, lane_key: str, record_id: str, person_id: int) -> None:
    """Ask the other side for its columns again. Raises NotDone, Missing."""
    there = record_of(store, lane_key, record_id)
    fresh = _with_columns(there, web)
    _of(store, lane_key, record_id, lambda one: one.model_copy(update={"columns": fresh.columns}),
        "asked the columns again", person_id)  # fmt: skip


def new_key(store: Store, data: Path, lane_key: str, record_id: str, key: str, person_id: int) -> None:
    """Another key for it. Raises NotDone, Missing."""
    if not key.strip():
        raise NotDone("Enter the key. Nothing was changed.")
    secret = f"{lane_key} {record_id}"
    keep_secret(store, data, secret, key.strip(), person_id)
    _of(store, lane_key, record_id, lambda one: one.model_copy(update={"secret": secret}), "a new key", person_id)


def remove(store: Store, lane_key: str, record_id: str, person_id: int) -> None:
    """Nothing is sent there any more; it can be undone. Raises Missing."""
    there = record_of(store, lane_key, record_id)
    _change(store, lane_key, lambda all_: tuple(one for one in all_ if one.id != record_id),
            f"removed {there.called}", person_id)  # fmt: skip


def tie(
    store: Store, lane_key: str, record_id: str, place: str, value: dict[str, Any] | None, table: str, person_id: int
) -> None:
    """What goes into a column, named as ``column`` or ``list/column``; None for nothing. Raises NotDone, Missing."""
    list_key, _, column = place.rpartition("/")
    try:
        made = Tie.model_validate({"column": column, "value": value}) if value else None
    except ValidationError as error:
        raise NotDone(f"Not possible: {error.errors()[0]['msg'].lower()}. Nothing was changed.") from error

    def change(one: RecordDestination) -> RecordDestination:
        there = one.columns.list_of(list_key) if list_key else None
        known = there.columns if there else () if list_key else one.columns.plain
        if made and list_key and not table and isinstance(made.value, FieldSource | LookupSource):
            raise NotDone("Into a row over there go columns of a table. Nothing was changed.")
        if made and all(other.key != column for other in known):
            raise Missing("There is no such column over there.")
        return one.model_copy(update={"ties": _tied(one.ties, list_key, column, made, table)})

    message = "tied a column" if made else "untied a column"
    _of(store, lane_key, record_id, change, message, person_id)


def _tied(ties: Ties, list_key: str, column: str, made: Tie | None, table: str) -> Ties:
    def replaced(before: tuple[Tie, ...]) -> tuple[Tie, ...]:
        return (*(one for one in before if one.column != column), *((made,) if made else ()))

    if not list_key:
        if made and table:
            raise NotDone("A column of a table goes into a row over there. Nothing was changed.")
        return ties.model_copy(update={"ties": replaced(ties.ties)})
    own = next((one for one in ties.tables if one.list_key == list_key), None)
    rows = table or (own.table if own else "")
    if made and not rows:
        raise NotDone("Into a row over there go columns of a table. Nothing was changed.")
    kept = own.ties if own and own.table == rows else ()
    fresh = TableTie(list_key=list_key, table=rows, ties=replaced(kept))
    others = tuple(one for one in ties.tables if one.list_key != list_key)
    return ties.model_copy(update={"tables": (*others, *((fresh,) if fresh.ties else ()))})


def undo(store: Store, lane_key: str, person_id: int) -> None:
    """Undo the last change. Raises NotDone."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.refresh(lane, with_for_update=True)

        def put_back(values: dict[str, Any]) -> None:
            before = LaneSettings.model_validate(values["settings"])
            _put(lane, before.destinations)

        entry = undo_last(session, subject_of(lane), put_back)
        note(session, "draft_changed", person_id=person_id,
             after={"lane": lane_key, "part": "records", "message": f"undone: {entry.message}"})  # fmt: skip


def record_of(store: Store, lane_key: str, record_id: str) -> RecordDestination:
    """The destination of that id in the draft. Raises Missing."""
    with store.transaction() as session:
        return found(_draft(lane_of_key(session, lane_key)), record_id)


def found(settings: LaneSettings, record_id: str) -> RecordDestination:
    """The destination of that id. Raises Missing."""
    for one in settings.destinations:
        if isinstance(one, RecordDestination) and one.id == record_id:
            return one
    raise Missing("This lane sends no records there.")


def _draft(lane: Lane) -> LaneSettings:
    return lane.draft or lane.settings


def _with_columns(there: RecordDestination, web: Web) -> RecordDestination:
    try:
        return there.model_copy(update={"columns": there.asked_columns(web)})
    except Later as problem:
        raise NotDone(f"{problem} Nothing was changed; try it again in a while.") from problem
    except Refused as problem:
        raise NotDone(f"{problem} Nothing was changed.") from problem


def _of(
    store: Store, lane_key: str, record_id: str, how: Callable[[RecordDestination], RecordDestination], message: str,
    person_id: int,
) -> None:  # fmt: skip
    def changed(all_: tuple[AnyDestination, ...]) -> tuple[AnyDestination, ...]:
        if not any(isinstance(one, RecordDestination) and one.id == record_id for one in all_):
            raise Missing("This lane sends no records there.")
        return tuple(how(one) if isinstance(one, RecordDestination) and one.id == record_id else one for one in all_)

    _change(store, lane_key, changed, message, person_id)


def _change(
    store: Store, lane_key: str, how: Callable[[tuple[AnyDestination, ...]], tuple[AnyDestination, ...]], message: str,
    person_id: int,
) -> None:  # fmt: skip
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.refresh(lane, with_for_update=True)
        before = _draft(lane)
        _put(lane, how(before.destinations))
        _write_down(session, lane, before, message, person_id)


def _write_down(session: Session, lane: Lane, before: LaneSettings, message: str, person_id: int) -> None:
    if _draft(lane) == before:
        return
    write_down(session, subject_of(lane), message, {"settings": before.model_dump(mode="json")}, person_id)
    note(session, "draft_changed", person_id=person_id, after={"lane": lane.key, "part": "records", "message": message})


def _put(lane: Lane, destinations: tuple[AnyDestination, ...]) -> None:
    changed = LaneSettings.model_validate({**dict(_draft(lane)), "destinations": destinations})
    lane.draft = changed if changed != lane.settings else None
