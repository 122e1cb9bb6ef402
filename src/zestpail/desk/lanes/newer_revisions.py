"""Newer revisions of a lane's types, and what reading with them would change on its last documents."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extract import extract
from zestpail.core.extraction.extracted_value import Extraction
from zestpail.core.reading.document import DocumentReading
from zestpail.desk.documents.context import lane_of_key, type_of
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.stored_lists import StoredLists
from zestpail.desk.documents.whole_types import whole_type
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.documents import pages_of
from zestpail.store.queries.types import last_revision, newest_revisions
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Batch, Document, Page

COMPARED = 8
"""Documents that both revisions are tried on."""
GONE = (DocumentState.READING, DocumentState.UNREADABLE, DocumentState.DISSOLVED)


@dataclass(frozen=True)
class Difference:
    """What a newer revision finds otherwise on a document."""

    document_id: int
    file: str
    field: str
    now: str
    then: str


@dataclass(frozen=True)
class Effect:
    compared: int
    differences: list[Difference]


@dataclass(frozen=True)
class _Read:
    """A document with both revisions of its type, and its pages."""

    id: int
    file: str
    now: DocumentType
    then: DocumentType
    pages: list[Page]


def has_newer(lane_settings: LaneSettings, newest: dict[str, int]) -> bool:
    """Whether a newer revision of one of its types is published."""
    return with_newest(lane_settings, newest) != lane_settings


def with_newest(lane_settings: LaneSettings, newest: dict[str, int]) -> LaneSettings:
    """The settings with the newest revision of each type."""
    others = tuple(
        one.model_copy(update={"revision": newest.get(one.key, one.revision)}) for one in lane_settings.other_types
    )
    own = newest.get(lane_settings.type, lane_settings.revision)
    return lane_settings.model_copy(update={"revision": own, "other_types": others})


def effect_of_newest(store: Store, key: str) -> Effect:
    """What the newest revisions would find otherwise on the lane's last documents. Raises Missing."""
    with store.transaction() as session:
        read = list(_last_read(session, lane_of_key(session, key).id or 0))
    differences: list[Difference] = []
    lists = StoredLists(store.transaction)
    for one in read:
        pages = DocumentReading(tuple(reading_of(store, page) for page in one.pages))
        now, then = (extract(pages, doc_type, lists=lists) for doc_type in (one.now, one.then))
        differences += _differences(one, now, then)
    return Effect(len(read), differences)


def _last_read(session: Session, lane_id: int) -> Iterator[_Read]:
    newest = newest_revisions(session)
    of_lane = select(Document).join(Batch, col(Document.batch_id) == col(Batch.id)).where(Batch.lane_id == lane_id)
    wanted = of_lane.where(col(Document.state).not_in(GONE)).order_by(col(Document.id).desc()).limit(COMPARED)
    for document in session.exec(wanted):
        now = type_of(session, document)
        last = last_revision(session, now.key)
        if last and now.revision < newest[now.key]:
            file = session.get_one(ArrivedFile, document.file_id).name
            then = whole_type(last)
            yield _Read(document.id or 0, file, now, then, pages_of(session, document.id or 0))


def _differences(read: _Read, before: Extraction, after: Extraction) -> Iterator[Difference]:
    found, names = {value.key: value.value for value in before.values}, {**read.now.names, **read.then.names}
    new = {value.key: value.value for value in after.values}
    for key in {**found, **new}:
        if found.get(key) != new.get(key):
            shown = [
                _shown(doc_type, key, values.get(key)) for doc_type, values in ((read.now, found), (read.then, new))
            ]
            yield Difference(read.id, read.file, names[key], *shown)
    rows, others = ({table.key: len(table.rows) for table in one.tables} for one in (before, after))
    for key in {**rows, **others}:
        if rows.get(key, 0) != others.get(key, 0):
            name = {**read.now.all_names, **read.then.all_names}[key]
            yield Difference(read.id, read.file, name, f"{rows.get(key, 0)} rows", f"{others.get(key, 0)} rows")


def _shown(doc_type: DocumentType, key: str, value: str | None) -> str:
    return doc_type.field(key).kind.show(value) if value and key in doc_type.names else "nothing"
