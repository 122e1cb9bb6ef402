"""Changes of how a lane's draft sorts documents: each can be taken back, and two people's come one after the other."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from pydantic import ValidationError
from sqlmodel import Session

from zestpail.core.classification.cues import Cue
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key, type_names
from zestpail.desk.documents.journal import last_change, undo_last, write_down
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.lanes.sorting.removed import put_samples_back, subject_of
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings, TypeUsed
from zestpail.store.notices import changed
from zestpail.store.queries.types import last_revision
from zestpail.store.sorting_settings import SortedType, Sorting
from zestpail.store.tables import Lane


def draft_sorting(lane: Lane) -> Sorting:
    """How the draft sorts, or what is active where there is no draft."""
    return (lane.draft or lane.settings).sorting or Sorting()


def changed_sorting(
    session: Session, lane: Lane, change: Callable[[Sorting], Sorting], message: str, person_id: int,
    more: dict[str, Any] | None = None, unsorted: Sequence[int] = (),
) -> None:  # fmt: skip
    """Change the draft, and write down what it takes to undo that; ``unsorted`` are samples that had no type before."""
    before = lane.draft or lane.settings
    after = LaneSettings.model_validate(
        {**dict(before), **(more or {}), "sorting": change(before.sorting or Sorting())}
    )
    if after == before:
        return
    lane.draft = after if after != lane.settings else None
    undone_by = {"settings": before.model_dump(mode="json"), "unsorted": list(unsorted)}
    write_down(session, subject_of(lane), message, undone_by, person_id)
    note(session, "draft_changed", person_id=person_id, after={"lane": lane.key, "part": "sorting", "message": message})
    changed(session, f"sorting {lane.id}")


def change(store: Store, lane_key: str, how: Callable[[Sorting], Sorting], message: str, person_id: int) -> None:
    """The same in a transaction of its own. Raises Missing, NotDone."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.refresh(lane, with_for_update=True)
        changed_sorting(session, lane, how, message, person_id)


def add_type(store: Store, lane_key: str, type_key: str, person_id: int) -> None:
    """Documents are sorted into that type too, read with its newest revision. Raises NotDone."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.refresh(lane, with_for_update=True)
        settings = lane.draft or lane.settings
        if (settings.sorting or Sorting()).of(type_key):
            raise NotDone("Documents are sorted into that type already.")
        newest = last_revision(session, type_key)
        used = settings.used(type_key) or (TypeUsed(key=type_key, revision=newest.number) if newest else None)
        if used is None:
            raise NotDone("There is no published revision of that document type. Nothing was changed.")
        own = used.key == settings.type
        others = settings.other_types if own or used in settings.other_types else (*settings.other_types, used)
        changed_sorting(session, lane, lambda sorting: sorting.with_type(SortedType(key=type_key)),
                        f"added {type_names(session)[type_key]}", person_id, {"other_types": others})  # fmt: skip


def remove_type(store: Store, lane_key: str, type_key: str, person_id: int) -> None:
    """Nothing is sorted into that type any more; its samples are kept, for this to be undone."""
    change(store, lane_key, lambda sorting: sorting.without_type(type_key), "removed a type", person_id)


def remove_sample(store: Store, lane_key: str, sample_id: int, person_id: int) -> None:
    """The sample counts no more."""

    def without(sorting: Sorting) -> Sorting:
        return sorting.model_copy(update={"types": tuple(
            one.model_copy(update={"samples": tuple(n for n in one.samples if n != sample_id)}) for one in sorting.types
        )})  # fmt: skip

    change(store, lane_key, without, "removed a sample", person_id)


def move_sample(store: Store, lane_key: str, sample_id: int, type_key: str, person_id: int) -> None:
    """The sample is one of another type. Raises Missing where documents are not sorted into that."""

    def moved(sorting: Sorting) -> Sorting:
        if sorting.of(type_key) is None:
            raise Missing("Documents are not sorted into that type.")
        return sorting.model_copy(update={"types": tuple(
            one.model_copy(update={"samples": (*(n for n in one.samples if n != sample_id),
                                               *((sample_id,) if one.key == type_key else ()))})
            for one in sorting.types
        )})  # fmt: skip

    change(store, lane_key, moved, "moved a sample", person_id)


def add_cue(store: Store, lane_key: str, type_key: str, cue: dict[str, Any], person_id: int) -> None:
    """A cue for a type. Raises NotDone with a sentence for one that says nothing."""
    try:
        wanted = Cue.model_validate(cue)
    except ValidationError as error:
        raise NotDone("A cue needs words to look for, with letters or figures. Nothing was changed.") from error
    _of_type(store, lane_key, type_key, lambda one: {"cues": (*one.cues, wanted)}, "added a cue", person_id)


def remove_cue(store: Store, lane_key: str, type_key: str, number: int, person_id: int) -> None:
    """The cue of that number, from 0, counts no more."""

    def fewer(one: SortedType) -> dict[str, Any]:
        return {"cues": tuple(cue for at, cue in enumerate(one.cues) if at != number)}

    _of_type(store, lane_key, type_key, fewer, "removed a cue", person_id)


def describe(store: Store, lane_key: str, type_key: str, description: str, person_id: int) -> None:
    """One sentence of what a document of the type is. Raises NotDone."""
    said = " ".join(description.split())
    if len(said) > 400:
        raise NotDone("A description has at most 400 characters. Nothing was changed.")
    _of_type(store, lane_key, type_key, lambda _: {"description": said}, "described a type", person_id)


def differ(
    store: Store, lane_key: str, type_key: str, review_below: float | None, others_below: float | None,
    destinations: tuple[str, ...] | None, person_id: int,
) -> None:  # fmt: skip
    """Where documents of a type are looked at and delivered otherwise than the lane's. Raises NotDone."""
    for share in (review_below, others_below):
        if share is not None and not 0 <= share <= 1:
            raise NotDone("A threshold lies between 0 and 100 %. Nothing was changed.")
    if destinations is not None and not destinations:
        raise NotDone("Its documents must go somewhere: choose a destination. Nothing was changed.")
    wanted = {"review_below": review_below, "review_others_below": others_below, "destinations": destinations}
    _of_type(store, lane_key, type_key, lambda _: wanted, "changed what differs for a type", person_id)


def set_unknown(store: Store, lane_key: str, unknown: str, unknown_type: str, learns: str, person_id: int) -> None:
    """What becomes of documents of no type, and whether decisions become samples. Raises NotDone."""

    def set_(sorting: Sorting) -> Sorting:
        try:
            return Sorting.model_validate(
                {**dict(sorting), "unknown": unknown, "unknown_type": unknown_type, "learns": learns}
            )
        except ValidationError as error:
            raise NotDone("That cannot be chosen. Nothing was changed.") from error

    if unknown == "as_type" and not unknown_type:
        raise NotDone("Say of which type documents are that are of none of the others. Nothing was changed.")
    change(store, lane_key, set_, "changed what happens with unknown documents", person_id)


def undo(store: Store, lane_key: str, person_id: int) -> str:
    """Undo the last change; returns what it was. Raises NotDone."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.refresh(lane, with_for_update=True)

        def put_back(values: dict[str, Any]) -> None:
            put_samples_back(session, values)
            if "settings" in values:
                before = LaneSettings.model_validate(values["settings"])
                now = lane.draft or lane.settings
                mended = now.model_copy(update={"sorting": before.sorting, "other_types": before.other_types})
                lane.draft = mended if mended != lane.settings else None

        entry = undo_last(session, subject_of(lane), put_back)
        note(
            session,
            "draft_changed",
            person_id=person_id,
            after={"lane": lane_key, "part": "sorting", "message": f"undone: {entry.message}"},
        )
        changed(session, f"sorting {lane.id}")
        return entry.message


def undoable(session: Session, lane: Lane) -> str:
    """What undoing would take back; "" where there is nothing."""
    entry = last_change(session, subject_of(lane))
    return entry.message if entry else ""


def _of_type(
    store: Store,
    lane_key: str,
    type_key: str,
    how: Callable[[SortedType], dict[str, Any]],
    message: str,
    person_id: int,
) -> None:
    def set_(sorting: Sorting) -> Sorting:
        one = sorting.of(type_key)
        if one is None:
            raise Missing("Documents are not sorted into that type.")
        return sorting.with_type(SortedType.model_validate({**dict(one), **how(one)}))

    change(store, lane_key, set_, message, person_id)
