"""The mapping of a lane's records as a page shows it: our values, their columns, and one document's values at both."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.delivery import Later, RecordDestination, Refused, Web
from zestpail.delivery.columns import KINDS, Column
from zestpail.delivery.mapping import WRITTEN, Faults, Tie, faults_of, fitting, mapped
from zestpail.delivery.record import KEY, about_names
from zestpail.desk.documents.context import lane_of_key, revision_for, type_of
from zestpail.desk.documents.journal import last_change
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.table_rows import plain
from zestpail.desk.lanes.records.edits import found, record_of, subject_of
from zestpail.store import Store
from zestpail.store.queries.documents import rows_of, values_of
from zestpail.store.tables import Batch, Document, Lane

OFFERED = 40
"""Documents of the lane that values can be looked at of."""


@dataclass(frozen=True)
class OurValue:
    """One of our values, with that of the document that is looked at."""

    key: str
    """A field's key, or ``table/column``."""
    name: str
    value: str
    used: bool


@dataclass(frozen=True)
class TheirColumn:
    """One of their columns, what goes into it, and what that is for the document that is looked at."""

    place: str
    """Its key, or ``list/column``."""
    name: str
    kind: str
    required: bool
    sentence: str
    """What goes into it; "" for nothing."""
    value: str
    problem: str
    tie: Tie | None


@dataclass(frozen=True)
class MappingView:
    lane: str
    lane_name: str
    id: str
    called: str
    address: str
    has_key: bool
    ours: list[OurValue]
    theirs: list[TheirColumn]
    faults: Faults
    documents: list[tuple[int, str]]
    document: int | None
    undo: str
    active: bool
    written: list[tuple[str, str]]


@dataclass(frozen=True)
class Tried:
    """What was sent of one document, and what came back."""

    document: int
    sent: str
    status: str
    came_back: str
    removed: str


@dataclass(frozen=True)
class RecordsView:
    """The addresses that a lane sends records to."""

    lane: str
    lane_name: str
    there: list[tuple[str, str, str]]
    """Of each its id, name and address."""
    undo: str
    """The last change, which can be undone; "" where there is none."""
    active: bool


def records_of(store: Store, lane_key: str) -> RecordsView:
    """Where the draft of the lane sends records to. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        there = [one for one in (lane.draft or lane.settings).destinations if isinstance(one, RecordDestination)]
        entry = last_change(session, subject_of(lane))
        return RecordsView(
            lane_key, lane.name, [(one.id, one.called, one.address) for one in there], entry.message if entry else "",
            lane.draft is None,
        )  # fmt: skip


def mapping_view(store: Store, lane_key: str, record_id: str, document_id: int | None = None) -> MappingView:
    """The mapping of the draft, with the values of a document of the lane. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        settings = lane.draft or lane.settings
        there = found(settings, record_id)
        documents = _documents(session, lane)
        known = [number for number, _ in documents]
        number = document_id if document_id in known else (known[0] if known else None)
        doc_type = DocumentType.model_validate(revision_for(session, settings).body)
        values, rows = _values(session, lane, number)
        entry = last_change(session, subject_of(lane))
        names = {field.key: field.name for field in doc_type.fields}
        return MappingView(
            lane=lane_key, lane_name=lane.name, id=record_id, called=there.called, address=there.address,
            has_key=bool(there.secret), ours=_ours(doc_type, there, values, rows),
            theirs=_theirs(doc_type, there, values, rows),
            faults=faults_of(there.ties, there.columns, names), documents=documents, document=number,
            undo=entry.message if entry else "", active=lane.draft is None, written=list(WRITTEN.items()),
        )  # fmt: skip


def try_record(store: Store, web: Web, lane_key: str, record_id: str, document_id: int) -> Tried:
    """Send the record of one document now, and remove it over there again. Raises NotDone, Missing."""
    there = record_of(store, lane_key, record_id)
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        if document_id not in [number for number, _ in _documents(session, lane)]:
            raise Missing("There is no such document in this lane.")
        values, rows = _values(session, lane, document_id)
    made = mapped(there.ties, there.columns, values, rows)
    if made.problems:
        raise NotDone(f"Nothing was sent. {' '.join(made.problems)}")
    body = json.dumps(made.record, ensure_ascii=False, sort_keys=True, indent=2)
    try:
        answer = web.call("POST", there.address, there.secret, body.encode(), {KEY: f"{web.house}-test-{document_id}"})
        removed = there.removed(web, answer)
    except (Later, Refused) as problem:
        raise NotDone(str(problem)) from problem
    return Tried(document_id, body, str(answer.status), answer.body.decode("utf-8", "replace")[:4000], removed)


def _documents(session: Session, lane: Lane) -> list[tuple[int, str]]:
    """Documents of the lane that were read, newest first."""
    wanted = select(Document).join(Batch, col(Document.batch_id) == col(Batch.id)).where(Batch.lane_id == lane.id)
    own = list(session.exec(wanted.order_by(col(Document.id).desc()).limit(OFFERED)))
    told = []
    for document in own:
        values = {v.key: v.value for v in values_of(session, document.id or 0) if v.value}
        if values and type_of(session, document).key == lane.settings.type:
            told.append((document.id or 0, " ".join(filter(None, list(values.values())[:1])) or ""))
    return [(number, f"{title}, document {number}".strip(", ")) for number, title in told]


def _values(
    session: Session, lane: Lane, number: int | None
) -> tuple[dict[str, str | None], dict[str, list[dict[str, str | None]]]]:
    """Values and rows of a document as they would be sent; none without one."""
    if number is None:
        return {}, {}
    document = session.get_one(Document, number)
    doc_type = type_of(session, document)
    values: dict[str, str | None] = {value.key: value.value for value in values_of(session, number)}
    values |= {"document": f"D{number}", "document_type": doc_type.name, "batch": f"B{document.batch_id}",
               "lane": lane.name}  # fmt: skip
    return values, {key: list(several) for key, several in plain(doc_type, rows_of(session, number)).items()}


def _ours(
    doc_type: DocumentType, there: RecordDestination, values: Mapping[str, str | None],
    rows: Mapping[str, Sequence[Mapping[str, str | None]]],
) -> list[OurValue]:  # fmt: skip
    used = there.ties.used
    ours = [OurValue(f.key, f.name, _shown(values.get(f.key)), f.key in used) for f in doc_type.fields]
    ours += [OurValue(key, name, _shown(values.get(key)), key in used) for key, name in about_names().items()]
    for table in doc_type.tables:
        first = (rows.get(table.key) or [{}])[0]
        tied = {key for one in there.ties.tables if one.table == table.key for t in one.ties for key in t.value.used}
        ours += [OurValue(f"{table.key}/{c.key}", f"{table.name}: {c.name}", _shown(first.get(c.key)), c.key in tied)
                 for c in table.columns]  # fmt: skip
    return ours


def _theirs(
    doc_type: DocumentType, there: RecordDestination, values: Mapping[str, str | None],
    rows: Mapping[str, Sequence[Mapping[str, str | None]]],
) -> list[TheirColumn]:  # fmt: skip
    names = {field.key: field.name for field in doc_type.fields} | about_names()
    ties = {one.column: one for one in there.ties.ties}
    columns = [_their(c, c.key, c.name, ties.get(c.key), values, names) for c in there.columns.plain]
    for several in there.columns.lists:
        own = next((one for one in there.ties.tables if one.list_key == several.key), None)
        inner = {one.column: one for one in own.ties} if own else {}
        table = next((one for one in doc_type.tables if own and one.key == own.table), None)
        first = (rows.get(table.key) or [{}])[0] if table else {}
        called = {c.key: f"{table.name}: {c.name}" for c in table.columns} if table else {}
        inside = [c if own else c.model_copy(update={"required": False}) for c in several.columns]
        columns += [_their(c, f"{several.key}/{c.key}", f"{several.name}: {c.name}", inner.get(c.key), first, called)
                    for c in inside]  # fmt: skip
    return columns


def _their(
    column: Column, place: str, name: str, tie: Tie | None, values: Mapping[str, str | None], names: Mapping[str, str]
) -> TheirColumn:
    text = tie.value.text(values) if tie else ""
    problem = ""
    if text:
        try:
            fitting(column, text)
        except ValueError as wrong:
            problem = str(wrong)
    elif tie and column.required and values:
        problem = "is empty"
    kind = KINDS[column.kind] + (f", {column.longest} characters" if column.longest else "")
    sentence = tie.value.sentence(names) if tie else ""
    return TheirColumn(place, name, kind, column.required, sentence, _shown(text), problem, tie)


def _shown(value: str | None) -> str:
    return (value or "").replace("\n", " ")[:60]
