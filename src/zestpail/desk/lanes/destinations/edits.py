"""Changes of where a lane's draft delivers, and of what goes into which column: each can be undone."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter, ValidationError
from slugify import slugify
from sqlmodel import Session

from zestpail.core.writing.renditions import in_order
from zestpail.delivery import (
    DESTINATIONS,
    AnyDestination,
    FilingDestination,
    Later,
    MailDestination,
    Outlets,
    Refused,
)
from zestpail.delivery.destination import SECRET, Asked, Destination
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.journal import undo_last, write_down
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.secrets import keep_secret
from zestpail.desk.lanes.letter import draft_of, known_values
from zestpail.desk.lanes.naming_choices import naming_of
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.notices import changed
from zestpail.store.tables import Lane

Entered = Mapping[str, str]
_ANY: TypeAdapter[AnyDestination] = TypeAdapter(AnyDestination)
Change = Callable[[AnyDestination], AnyDestination]


def subject_of(lane: Lane) -> str:
    """What changes of a lane's destinations are written down under."""
    return f"destinations {lane.id}"


def add(
    store: Store, outlets: Outlets, data: Path, lane_key: str, kind: str, entered: Entered, person_id: int
) -> str:  # fmt: skip
    """Another destination, which is asked at once for what it says of itself; returns its id. Raises NotDone."""
    made = DESTINATIONS.get(kind)
    if made is None or not made.asks:
        raise Missing("There is no such kind of destination.")
    with store.transaction() as session:
        taken = {one.id for one in draft_of(lane_of_key(session, lane_key)).destinations}
    beginning = slugify(entered.get("name", ""))[:30] or kind
    new_id = next(one for one in (beginning, *(f"{beginning}-{at}" for at in range(2, 100))) if one not in taken)
    with_secret = _keep(store, data, lane_key, new_id, entered, person_id)
    there = _met(_of_entries({"destination": kind, "id": new_id}, made.asks, {**entered, **with_secret}), outlets)
    _change(store, lane_key, lambda all_: (*all_, there), f"added {there.shown.removeprefix('to ')}", person_id)
    return new_id


def set_up(
    store: Store, outlets: Outlets, data: Path, lane_key: str, destination_id: str, entered: Entered, person_id: int
) -> None:  # fmt: skip
    """Other settings of it, or another secret; without a new secret it keeps the one that it has. Raises NotDone."""
    there = destination_of(store, lane_key, destination_id)
    with_secret = _keep(store, data, lane_key, destination_id, entered, person_id)
    moved = entered.get("address", "").strip().rstrip("/") != there.model_dump().get("address")
    known = {**there.model_dump(), **({"host_key": ""} if moved and "host_key" in type(there).model_fields else {})}
    fresh = _met(_of_entries(known, there.asks, {**entered, **with_secret}), outlets)
    _of(store, lane_key, destination_id, lambda _: fresh, "other settings", person_id)


def meet(store: Store, outlets: Outlets, lane_key: str, destination_id: str, person_id: int) -> None:
    """Ask the other side again what it says of itself, such as its columns. Raises NotDone, Missing."""
    there = destination_of(store, lane_key, destination_id)
    forgotten = there.model_copy(update={"host_key": ""}) if "host_key" in type(there).model_fields else there
    fresh = _met(forgotten, outlets)
    _of(store, lane_key, destination_id, lambda _: fresh, "asked again what it says of itself", person_id)


def set_files(
    store: Store, lane_key: str, destination_id: str, forms: Sequence[str], naming: str, person_id: int
) -> None:
    """In which forms documents go there, and under which names; "" for the lane's names. Raises NotDone, Missing."""
    wanted = in_order(forms)
    if not wanted:
        raise NotDone("Choose at least one form in which documents are delivered. Nothing was changed.")
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        named = naming_of(naming, known_values(session, lane, draft_of(lane))) if naming.strip() else None

    def changed(one: AnyDestination) -> AnyDestination:
        if isinstance(one, FilingDestination):
            return one.model_copy(update={"files": wanted, "naming": named})
        if isinstance(one, MailDestination):
            return one.model_copy(update={"files": wanted})
        raise Missing("No files go there.")

    _of(store, lane_key, destination_id, changed, "other files", person_id)


def remove(store: Store, lane_key: str, destination_id: str, person_id: int) -> None:
    """Nothing goes there any more; it can be undone. Raises Missing."""
    there = destination_of(store, lane_key, destination_id)
    _change(store, lane_key, lambda all_: tuple(one for one in all_ if one.id != destination_id),
            f"removed {there.shown.removeprefix('to ')}", person_id)  # fmt: skip


def undo(store: Store, lane_key: str, person_id: int) -> None:
    """Undo the last change. Raises NotDone."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.refresh(lane, with_for_update=True)

        def put_back(values: dict[str, Any]) -> None:
            _put(lane, LaneSettings.model_validate(values["settings"]).destinations)

        entry = undo_last(session, subject_of(lane), put_back)
        note(session, "draft_changed", person_id=person_id,
             after={"lane": lane_key, "part": "destinations", "message": f"undone: {entry.message}"})  # fmt: skip


def destination_of(store: Store, lane_key: str, destination_id: str) -> AnyDestination:
    """The destination of that id in the draft. Raises Missing."""
    with store.transaction() as session:
        return found(draft_of(lane_of_key(session, lane_key)), destination_id)


def found(settings: LaneSettings, destination_id: str) -> AnyDestination:
    """The destination of that id, if it is set up by what is entered here. Raises Missing."""
    for one in settings.destinations:
        if one.id == destination_id and one.asks and one not in (settings.folder, settings.mail):
            return one
    raise Missing("This lane does not deliver there.")


def change_one(
    store: Store, lane_key: str, destination_id: str, how: Change, message: str, person_id: int
) -> None:  # fmt: skip
    """Change one destination of the draft. Raises Missing, and what ``how`` raises."""
    _of(store, lane_key, destination_id, how, message, person_id)


def _of_entries(known: Mapping[str, Any], asks: Sequence[Asked], entered: Entered) -> AnyDestination:
    """A destination with what was entered. Raises NotDone."""
    own = {one.key: entered.get(one.key, "").strip() for one in asks if one.key != SECRET or entered.get(SECRET)}
    for one in asks:
        if one.needed and not one.choices and one.key != SECRET and not own.get(one.key):
            raise NotDone(f"“{one.label}” is needed. Nothing was changed.")
    own = {key: text.rstrip("/") if key == "address" else text for key, text in own.items()}
    try:
        return _ANY.validate_python({**known, **own})
    except ValidationError as error:
        wrong = error.errors()[0]
        label = next((one.label for one in asks if one.key in map(str, wrong["loc"])), "")
        message = f"“{label}” cannot be that." if label else f"Not possible: {wrong['msg'].lower()}."
        raise NotDone(f"{message} Nothing was changed.") from error


def _keep(
    store: Store, data: Path, lane_key: str, destination_id: str, entered: Entered, person_id: int
) -> dict[str, str]:
    """Keep the secret that was entered; returns under which name."""
    text = entered.get(SECRET, "").strip()
    if not text:
        return {SECRET: ""}
    name = f"{lane_key} {destination_id}"
    keep_secret(store, data, name, text, person_id)
    return {SECRET: name}


def _met(there: AnyDestination, outlets: Outlets) -> AnyDestination:
    """Raises NotDone where it cannot be reached."""
    known: Destination = there
    try:
        return _ANY.validate_python(known.met(outlets).model_dump())
    except Later as problem:
        raise NotDone(f"{problem} Nothing was changed; try it again in a while.") from problem
    except Refused as problem:
        raise NotDone(f"{problem} Nothing was changed.") from problem


def _of(store: Store, lane_key: str, destination_id: str, how: Change, message: str, person_id: int) -> None:
    def changed(all_: tuple[AnyDestination, ...]) -> tuple[AnyDestination, ...]:
        if all(one.id != destination_id for one in all_):
            raise Missing("This lane does not deliver there.")
        return tuple(how(one) if one.id == destination_id else one for one in all_)

    _change(store, lane_key, changed, message, person_id)


def _change(
    store: Store, lane_key: str, how: Callable[[tuple[AnyDestination, ...]], tuple[AnyDestination, ...]], message: str,
    person_id: int,
) -> None:  # fmt: skip
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.refresh(lane, with_for_update=True)
        before = draft_of(lane)
        _put(lane, how(before.destinations))
        _write_down(session, lane, before, message, person_id)
        changed(session, f"lane {lane.key}")


def _write_down(session: Session, lane: Lane, before: LaneSettings, message: str, person_id: int) -> None:
    if draft_of(lane) == before:
        return
    write_down(session, subject_of(lane), message, {"settings": before.model_dump(mode="json")}, person_id)
    told = {"lane": lane.key, "part": "destinations", "message": message}
    note(session, "draft_changed", person_id=person_id, after=told)


def _put(lane: Lane, destinations: tuple[AnyDestination, ...]) -> None:
    changed = LaneSettings.model_validate({**dict(draft_of(lane)), "destinations": destinations})
    lane.draft = changed if changed != lane.settings else None
