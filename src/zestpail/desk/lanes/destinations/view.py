"""A lane's destinations as pages show them: what each asks, its files, its mapping with one document's values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from sqlmodel import Session

from zestpail.core.document_type import DocumentType
from zestpail.core.writing.renditions import RENDITIONS
from zestpail.delivery import (
    DESTINATIONS,
    AnyDestination,
    FilingDestination,
    Later,
    MappedDestination,
    Outgoing,
    Outlets,
    Refused,
    Taken,
)
from zestpail.delivery.destination import SECRET, Asked, Destination, Trial
from zestpail.desk.delivery.drawing import drawn_for_trial
from zestpail.desk.documents.context import lane_of_key, revision_for
from zestpail.desk.documents.journal import last_change
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.lanes.destinations.edits import destination_of, found, subject_of
from zestpail.desk.lanes.destinations.looked_at import looked_at, offered
from zestpail.desk.lanes.destinations.mapping_view import MappingView, mapping_view
from zestpail.desk.lanes.letter import draft_of, known_values
from zestpail.desk.lanes.naming_choices import line_of
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.tables import Lane


@dataclass(frozen=True)
class Entry:
    """One thing that is entered, as a form shows it."""

    asked: Asked
    value: str
    choices: list[tuple[str, str]]


@dataclass(frozen=True)
class KindView:
    """A kind of destination that can be added."""

    code: str
    kind: str
    title: str
    about: str
    entries: list[Entry]


@dataclass(frozen=True)
class DestinationLine:
    """One destination of the lane; without a page of its own where the letter of the lane sets it up."""

    id: str
    shown: str
    kind: str
    own_page: bool


@dataclass(frozen=True)
class DestinationsView:
    """Where a lane delivers."""

    lane: str
    lane_name: str
    there: list[DestinationLine]
    kinds: list[KindView]
    undo: str
    """The last change, which can be undone; "" where there is none."""
    active: bool


@dataclass(frozen=True)
class FilesView:
    """In which forms documents go there, and how they are named."""

    forms: list[tuple[str, str, bool]]
    """Code and name of each form, and whether it is wanted."""
    naming: str
    """As it is typed; "" for the names of the lane."""
    lane_naming: str
    named_by: list[str]
    can_be_named: bool
    names: tuple[str, ...]
    """What the document that is looked at would be called."""


@dataclass(frozen=True)
class DestinationView:
    """One destination, with a document of the lane to look at it by."""

    lane: str
    lane_name: str
    id: str
    kind: str
    called: str
    where: str
    entries: list[Entry]
    known_by: str
    """The key that the other machine is known by; "" where it has none."""
    learns: bool
    """Whether the other side can be asked what it says of itself."""
    files: FilesView | None
    mapping: MappingView | None
    documents: list[tuple[int, str]]
    document: int | None
    undo: str
    active: bool
    revision: int
    can_be_tried: bool


def destinations_of_lane(store: Store, lane_key: str) -> DestinationsView:
    """Where the draft of the lane delivers, and what can be added. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        settings = draft_of(lane)
        doc_type = DocumentType.model_validate(revision_for(session, settings).body)
        entry = last_change(session, subject_of(lane))
        by_letter = (settings.folder, settings.mail, settings.next_lane)
        there = [DestinationLine(one.id, one.shown, one.title, one not in by_letter) for one in settings.destinations]
        kinds = [
            KindView(code, kind.kind, kind.title, kind.about, _entries(kind.asks, {}, doc_type))
            for code, kind in DESTINATIONS.items() if kind.asks
        ]  # fmt: skip
        return DestinationsView(
            lane_key, lane.name, there, kinds, entry.message if entry else "", lane.draft is None
        )  # fmt: skip


def destination_view(
    store: Store, lane_key: str, destination_id: str, document_id: int | None = None
) -> DestinationView:
    """One destination of the draft, with the values of a document of the lane. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        settings = draft_of(lane)
        there = found(settings, destination_id)
        documents = offered(session, lane)
        known = [number for number, _ in documents]
        number = document_id if document_id in known else (known[0] if known else None)
        document = looked_at(session, lane, settings, number)
        own_type = DocumentType.model_validate(revision_for(session, settings).body)
        doc_type = document.doc_type if document else own_type
        entry = last_change(session, subject_of(lane))
        mapping = None
        if isinstance(there, MappedDestination):
            mapping = mapping_view(there, doc_type, document)
        data = there.model_dump()
        kind: type[Destination] = type(there)
        return DestinationView(
            lane=lane_key, lane_name=lane.name, id=destination_id, kind=there.title,
            called=there.called if isinstance(there, MappedDestination) else there.shown.removeprefix("to "),
            where=str(data.get("address") or data.get("folder") or ""),
            entries=_entries(there.asks, data, own_type), known_by=str(data.get("host_key", "")),
            learns=kind.met is not Destination.met, files=_files(session, lane, settings, there, document),
            mapping=mapping, documents=documents, document=number, undo=entry.message if entry else "",
            active=lane.draft is None, revision=there.revision,
            can_be_tried=there.can_be_tried and bool(document) and not (there.wants and (number or 0) < 0),
        )  # fmt: skip


def try_destination(store: Store, outlets: Outlets, lane_key: str, destination_id: str, document_id: int) -> Trial:
    """Send one document there now, and take it out again. Raises NotDone, Missing."""
    there = destination_of(store, lane_key, destination_id)
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        settings = draft_of(lane)
        if document_id not in [number for number, _ in offered(session, lane)]:
            raise Missing("There is no such document in this lane.")
    drawn = drawn_for_trial(store, document_id, settings.notes, there.wants) if there.wants else None
    with store.transaction() as session:
        going_out = looked_at(session, lane_of_key(session, lane_key), settings, document_id, drawn)
    if going_out is None:
        raise Missing("There is no such document in this lane.")
    try:
        return there.tried(replace(going_out, reference=f"T{abs(document_id)}"), outlets)
    except (Later, Refused, Taken) as problem:
        raise NotDone(str(problem)) from problem


def _entries(asks: Sequence[Asked], data: Mapping[str, object], doc_type: DocumentType) -> list[Entry]:
    tables = [("", "each document"), *((table.key, f"each row of {table.name}") for table in doc_type.tables)]
    return [
        Entry(one, "" if one.key == SECRET else str(data.get(one.key) or ""),
              tables if one.of_tables else list(one.choices.items()))
        for one in asks
    ]  # fmt: skip


def _files(
    session: Session, lane: Lane, settings: LaneSettings, there: AnyDestination, document: Outgoing | None
) -> FilesView | None:
    if not there.wants:
        return None
    named_by = known_values(session, lane, settings)
    naming = there.naming if isinstance(there, FilingDestination) else None
    names = there.shown_of(document).files if document else ()
    return FilesView(
        [(code, name, code in there.wants) for code, name in RENDITIONS.items()],
        line_of(naming, named_by) if naming else "", line_of(settings.naming, named_by), list(named_by),
        isinstance(there, FilingDestination), names,
    )  # fmt: skip
