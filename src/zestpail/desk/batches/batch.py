"""One batch: where every file and every page of it went, with receipts and history."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from sqlmodel import Session, col, select

from zestpail.delivery import Receipt
from zestpail.desk.batches.batch_deliveries import DestinationRow, by_destination
from zestpail.desk.batches.control_totals import ControlView, control_of
from zestpail.desk.documents.audit import ACT_WORDS
from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.queries.deliveries import deliveries_of
from zestpail.store.queries.documents import pages_of, values_of
from zestpail.store.queries.pages import pages_of_stack
from zestpail.store.states import DocumentState, FileState, PageState
from zestpail.store.tables import ArrivedFile, Batch, Delivery, Document, Lane, Page, Person
from zestpail.store.trail_tables import Event


@dataclass(frozen=True)
class PageTile:
    id: int
    number: int
    state: str
    problem: str | None


@dataclass(frozen=True)
class DocumentRow:
    id: int
    type_name: str
    state: str
    words: str
    why: str
    """Why it begins where it does, if it was cut out of a pile."""
    title: str
    values: list[tuple[str, str]]
    pages: list[PageTile]
    receipts: list[Receipt]
    problem: str | None


@dataclass(frozen=True)
class FileRow:
    name: str
    size: int
    problem: str | None
    documents: list[DocumentRow]
    left_out: list[tuple[str, int]]
    """Why pages belong to no document, and how many."""
    unpacked: bool
    """Whether it was a package, whose files are listed for themselves."""
    laid_elsewhere: bool
    """Whether a person laid its pages into other piles."""
    undecided: int
    """Pages that wait to be cut into documents."""


@dataclass(frozen=True)
class TrailRow:
    at: datetime
    person: str | None
    document_id: int | None
    what: str
    words: str
    more: str


@dataclass(frozen=True)
class BatchView:
    id: int
    lane_key: str
    lane_name: str
    arrived_at: datetime
    person: str | None
    channel: str
    files: list[FileRow]
    trail: list[TrailRow]
    control: ControlView
    destinations: list[DestinationRow]
    undelivered: int
    """Documents that a destination did not take yet, which can be tried again."""

    @property
    def pages(self) -> int:
        return sum(len(document.pages) for file in self.files for document in file.documents)

    @property
    def documents(self) -> list[DocumentRow]:
        return [document for file in self.files for document in file.documents]


def batch_view(store: Store, batch_id: int) -> BatchView:
    """Everything about one batch. Raises Missing."""
    with store.transaction() as session:
        batch = session.get(Batch, batch_id)
        if batch is None:
            raise Missing("There is no such batch.")
        person = session.get(Person, batch.person_id) if batch.person_id else None
        wanted = select(ArrivedFile).where(ArrivedFile.batch_id == batch_id).order_by(col(ArrivedFile.id))
        destinations, undelivered = by_destination(session, batch)
        lane = session.get_one(Lane, batch.lane_id)
        return BatchView(
            id=batch_id,
            lane_key=lane.key,
            lane_name=lane.name,
            arrived_at=batch.arrived_at,
            person=person.name if person else None,
            channel=batch.channel,
            files=[_file_row(session, file) for file in session.exec(wanted)],
            trail=_trail(session, batch_id),
            control=control_of(session, batch),
            destinations=destinations,
            undelivered=undelivered,
        )


def _file_row(session: Session, file: ArrivedFile) -> FileRow:
    pages = pages_of_stack(session, file.id or 0)
    first = {page.document_id: page.place for page in reversed(pages)}
    documents = [d for d in session.exec(select(Document).where(Document.file_id == file.id)) if d.id in first]
    documents.sort(key=lambda document: first[document.id])
    left_out = Counter(page.left_out for page in pages if page.left_out)
    undecided = sum(page.document_id is None and page.left_out is None for page in pages)
    rows = [_document_row(session, document) for document in documents]
    emptied = file.state in (FileState.OPENED, FileState.SPLIT) and not pages
    moved = emptied and session.exec(select(Page.id).where(Page.file_id == file.id)).first() is not None
    return FileRow(
        name=file.name, size=file.size, problem=file.problem, documents=rows, left_out=left_out.most_common(),
        unpacked=emptied and not moved, laid_elsewhere=moved, undecided=undecided,
    )  # fmt: skip


def _waits(delivery: Delivery) -> str:
    """Why a delivery was not made, and when it is tried next."""
    again = f" It is tried again at {delivery.next_at.astimezone():%H:%M}." if delivery.next_at else ""
    return f"{delivery.problem}{again}"


def _document_row(session: Session, document: Document) -> DocumentRow:
    doc_type = type_of(session, document)
    rows = values_of(session, document.id or 0)
    values = [(doc_type.names[r.key], doc_type.field(r.key).kind.show(r.value) if r.value else "") for r in rows]
    deliveries = deliveries_of(session, document.id or 0)
    stuck = [
        _waits(one) for one in deliveries if one.problem and (one.next_at or document.state == DocumentState.STUCK)
    ]
    names = [r.value for r in rows if r.key in ("seller_name", "invoice_number") and r.value]
    return DocumentRow(
        id=document.id or 0,
        type_name=doc_type.name,
        state=document.state.value,
        words=WORDS[document.state],
        why=document.origin.why,
        title=" ".join(names) or f"Document {document.id}",
        values=values,
        pages=[
            PageTile(p.id or 0, p.position + 1, p.state.value if p.state != PageState.READ else p.source, p.problem)
            for p in pages_of(session, document.id or 0)
        ],
        receipts=[one.receipt for one in deliveries if one.receipt],
        problem=" ".join(stuck) or None,
    )


def _trail(session: Session, batch_id: int) -> list[TrailRow]:
    found = session.exec(
        select(Event, Person)
        .join(Person, col(Event.person_id) == col(Person.id), isouter=True)
        .where(Event.batch_id == batch_id)
        .order_by(col(Event.id).desc())
        .limit(200)
    )
    names: dict[int, Mapping[str, str]] = {}
    return [
        TrailRow(
            event.at,
            person.name if person else None,
            event.document_id,
            event.what,
            ACT_WORDS.get(event.what, event.what),
            _more(event, _names_for(session, event, names)),
        )
        for event, person in found
    ]


def _names_for(session: Session, event: Event, known: dict[int, Mapping[str, str]]) -> Mapping[str, str]:
    """The names of the fields of the event's document; each document is asked for once."""
    number = event.document_id
    if not number or not event.after.get("values"):
        return {}
    if number not in known:
        known[number] = type_of(session, session.get_one(Document, number)).names
    return known[number]


def _more(event: Event, names: Mapping[str, str]) -> str:
    """What else the event says, in a few words."""
    after = event.after
    was = event.before.get("values", {})
    changed = ", ".join(
        f"{names.get(key, key)}: {was[key]['value'] or 'nothing'} → {now['value'] or 'nothing'}"
        for key, now in after.get("values", {}).items()
        if was[key]["value"] != now["value"]
    )
    message = [str(after[name]) for name in ("message", "file", "why", "problem") if after.get(name)]
    if after.get("page"):
        message.insert(0, f"page {after['page']}")
    return " · ".join([*message, changed] if changed else message)
