"""A document of the archive as it is read: its pages, its values at their places, and all that befell it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.reading.geometry import Box
from zestpail.delivery import Receipt
from zestpail.desk.archive.asked import Term, terms_of
from zestpail.desk.archive.entering import enter_due
from zestpail.desk.archive.hits import first_hit, may_stand, without_separators
from zestpail.desk.archive.marked import marks
from zestpail.desk.archive.search import DUE_AT_ONCE, Wanted, found_entries
from zestpail.desk.documents.audit import ACT_WORDS
from zestpail.desk.documents.context import lane_of, type_of
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.page_images import PageView
from zestpail.desk.documents.table_rows import plain
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.queries.access import Closed
from zestpail.store.queries.archive import page_texts
from zestpail.store.queries.deliveries import deliveries_of
from zestpail.store.queries.documents import pages_of, rows_of, values_of
from zestpail.store.retention_tables import Held
from zestpail.store.states import DocumentState, ValueState
from zestpail.store.tables import ArrivedFile, Document, FieldValue, Person
from zestpail.store.trail_tables import Event

MOST_ROWS, MOST_HISTORY, MOST_MARKED = 200, 300, 40
"""Rows of a table, entries of the trail, and pages with marks that are shown."""


@dataclass(frozen=True)
class ValueCard:
    """A value in the margin, tied to its place."""

    key: str
    name: str
    shown: str
    state: Literal["settled", "doubtful"]
    confidence: float
    page: int | None
    box: Box | None
    side: Literal["left", "right"]


@dataclass(frozen=True)
class RowsShown:
    name: str
    columns: list[str]
    rows: list[list[str]]
    more: int
    """Rows that are not shown here."""


@dataclass(frozen=True)
class Hit:
    """A place at which words of the search stand."""

    page: int
    box: Box


@dataclass(frozen=True)
class Happened:
    at: datetime
    person: str
    words: str
    more: str


@dataclass(frozen=True)
class Handed:
    """A hand-over, and by which number its file is looked at again."""

    destination: str
    version: int
    state: str
    sent_at: datetime | None
    problem: str
    receipt: Receipt | None
    number: int | None


@dataclass(frozen=True)
class RoomView:
    """Everything that is shown of one document."""

    id: int
    batch_id: int
    type_key: str
    type_name: str
    lane_key: str
    lane_name: str
    file_name: str
    arrived_at: datetime
    state: str
    in_review: bool
    delivered: bool
    settled_by: str
    pages: list[PageView]
    cards: list[ValueCard]
    tables: list[RowsShown]
    hits: list[Hit]
    history: list[Happened]
    deliveries: list[Handed]
    held: str
    """Why it is held back from erasure; "" where it is not."""


@dataclass(frozen=True)
class Neighbours:
    """The documents found before and after this one, the newest first."""

    newer: int | None
    older: int | None


def reading_room(store: Store, document_id: int, words: str = "", also: Sequence[str] = ()) -> RoomView:
    """The document, with the places at which the words of a search stand marked. Raises Missing."""
    hits = _hits(store, document_id, words, list(also)) if words.strip() else []
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None or document.state is DocumentState.DISSOLVED:
            raise Missing("There is no such document.")
        doc_type, lane = type_of(session, document), lane_of(session, document)
        pages = [PageView(p.id or 0, p.position + 1, p.width or 595, p.height or 842, p.problem)
                 for p in pages_of(session, document_id)]  # fmt: skip
        person = session.get(Person, document.settled_by_id) if document.settled_by_id else None
        held = session.get(Held, document_id)
        return RoomView(
            id=document_id, batch_id=document.batch_id, type_key=doc_type.key, type_name=doc_type.name,
            lane_key=lane.key, lane_name=lane.name, file_name=session.get_one(ArrivedFile, document.file_id).name,
            arrived_at=document.arrived_at, state=WORDS[document.state],
            in_review=document.state is DocumentState.REVIEW, delivered=document.state is DocumentState.DELIVERED,
            settled_by=person.name if person else "", pages=pages,
            cards=[_card(doc_type, value, pages) for value in values_of(session, document_id)
                   if value.value and value.key in doc_type.names],
            tables=list(_tables(session, document_id, doc_type)), hits=hits,
            history=_history(session, document_id, doc_type), deliveries=_handed(session, document_id),
            held=held.why if held else "",
        )  # fmt: skip


def neighbours(store: Store, document_id: int, wanted: Wanted, closed: Closed = ()) -> Neighbours:
    """The documents that the same search finds before and after this one."""
    enter_due(store, DUE_AT_ONCE)
    with store.transaction() as session:
        older = found_entries(session, wanted.model_copy(update={"before": document_id}), closed, 1).entries
        newer = found_entries(session, wanted.model_copy(update={"after": document_id}), closed, 1).entries
    return Neighbours(
        newer[0].document_id if newer else None, older[0].document_id if older else None,
    )  # fmt: skip


def _hits(store: Store, document_id: int, words: str, also: list[str]) -> list[Hit]:
    terms = terms_of(words)
    others = {term.whole: also for term in terms}
    with store.transaction() as session:
        texts = page_texts(session, document_id)
    with_some = [number for number, text in enumerate(texts, start=1) if _any_hit(text, terms, others)]
    return [Hit(number, box) for number in with_some[:MOST_MARKED]
            for box in marks(store, document_id, number, words, also)]  # fmt: skip


def _any_hit(text: str, terms: Sequence[Term], others: dict[str, list[str]]) -> bool:
    joined, words = without_separators(text), text.split()
    return any(may_stand(joined, term, others) and first_hit(words, term, others) is not None for term in terms)


def _card(doc_type: DocumentType, value: FieldValue, pages: Sequence[PageView]) -> ValueCard:
    box = Box(*value.box) if value.box else None
    there = box is not None and value.page is not None and value.page < len(pages)
    left = there and box is not None and box.cx < 0.45 * pages[value.page or 0].width
    return ValueCard(
        value.key, doc_type.names[value.key], doc_type.field(value.key).kind.show(value.value or ""),
        "settled" if value.state is ValueState.SETTLED else "doubtful", value.confidence,
        (value.page or 0) + 1 if there else None, box if there else None, "left" if left else "right",
    )  # fmt: skip


def _tables(session: Session, document_id: int, doc_type: DocumentType) -> Iterator[RowsShown]:
    found = plain(doc_type, rows_of(session, document_id))
    for table in doc_type.tables:
        rows = [
            [column.kind.show(value) if (value := row.get(column.key)) else "" for column in table.columns]
            for row in found[table.key]
        ]
        if rows:
            names = [column.name for column in table.columns]
            yield RowsShown(table.name, names, rows[:MOST_ROWS], max(len(rows) - MOST_ROWS, 0))


def _history(session: Session, document_id: int, doc_type: DocumentType) -> list[Happened]:
    wanted = select(Event, Person.name).join(Person, col(Event.person_id) == col(Person.id), isouter=True)
    found = session.exec(wanted.where(Event.document_id == document_id).order_by(col(Event.id)).limit(MOST_HISTORY))
    return [
        Happened(event.at, name or "", ACT_WORDS.get(event.what, event.what), _more(event, doc_type))
        for event, name in found
    ]


def _more(event: Event, doc_type: DocumentType) -> str:
    after, was = event.after, event.before.get("values", {})
    changed = [
        f"{doc_type.names.get(key, key)}: {was.get(key, {}).get('value') or 'nothing'} → {now['value'] or 'nothing'}"
        for key, now in after.get("values", {}).items()
        if was.get(key, {}).get("value") != now["value"]
    ]
    page = [f"page {after['page']}"] if after.get("page") else []
    said = [str(after[name]) for name in ("message", "file", "why", "problem") if after.get(name)]
    return " · ".join([*page, *said, *changed])


def _handed(session: Session, document_id: int) -> list[Handed]:
    found, number = [], 0
    for one in deliveries_of(session, document_id):
        of_receipt = number if one.receipt else None
        number += 1 if one.receipt else 0
        found.append(Handed(one.destination, one.version, one.state.value, one.sent_at, one.problem or "", one.receipt,
                            of_receipt))  # fmt: skip
    return found
