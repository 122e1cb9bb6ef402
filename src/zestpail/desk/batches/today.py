"""Today: what came in, where it stands, what needs a person; and the status line that is always true."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlmodel import Session, and_, col, func, or_, select

from zestpail.core.reading.read import Way
from zestpail.desk.documents.context import letter_of
from zestpail.desk.documents.messages import Missing
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.tables import (
    ArrivedFile,
    Batch,
    Document,
    DocumentState,
    FileState,
    Lane,
    Page,
    PageState,
    Person,
)

_undecided = or_(
    col(Page.state) == PageState.WAITING, and_(col(Page.document_id).is_(None), col(Page.left_out).is_(None))
)
"""Pages that wait to be read, or to be cut into documents with the others of their pile."""
RECENT = timedelta(hours=24)
MOST_BATCHES = 30


@dataclass(frozen=True)
class Station:
    """Where documents of a lane stand: how many, and since when the oldest."""

    count: int
    since: datetime | None = None


@dataclass(frozen=True)
class LaneRow:
    key: str
    name: str
    way: Way
    files_waiting: int
    pages_waiting: int
    pages_read: int
    """Pages read of batches that still have pages to be read."""
    reading: Station
    review: Station
    settled: Station
    stuck: Station
    delivered: Station
    refused: int
    to_look_at: int
    """Piles whose cuts wait for a person."""


@dataclass(frozen=True)
class BatchRow:
    id: int
    lane_name: str
    arrived_at: datetime
    person: str | None
    files: int
    refused: int
    waiting: int
    """Files to be opened and pages to be read or cut."""
    to_look_at: int
    """Piles whose cuts wait for a person."""
    documents: dict[str, int]

    @property
    def finished(self) -> bool:
        return (
            self.waiting == 0
            and self.to_look_at == 0
            and self.documents.get("delivered", 0) == sum(self.documents.values())
        )


@dataclass(frozen=True)
class Today:
    lanes: list[LaneRow]
    batches: list[BatchRow]
    scanner: bool = False
    """Whether there is a scanner."""


@dataclass(frozen=True)
class Status:
    """The status line."""

    reading: str | None
    pages_waiting: int
    review: int
    stuck: int


def today(store: Store, scanner: str = "") -> Today:
    """All lanes, and the batches of the last day or still in work."""
    with store.transaction() as session:
        lanes = session.exec(select(Lane).order_by(col(Lane.id))).all()
        return Today([_lane_row(session, lane) for lane in lanes], _batch_rows(session), bool(scanner))


def status(store: Store) -> Status:
    """What is being read now, how much waits, and what is stuck."""
    with store.transaction() as session:
        waiting = select(func.count()).select_from(Page).where(Page.state == PageState.WAITING)
        unopened = select(func.count()).select_from(ArrivedFile).where(ArrivedFile.state == FileState.WAITING)
        return Status(
            reading=_being_read(session),
            pages_waiting=session.exec(waiting).one() + session.exec(unopened).one(),
            review=_count(session, DocumentState.REVIEW),
            stuck=_count(session, DocumentState.STUCK),
        )


def lane_name(store: Store, key: str) -> str:
    """Raises Missing."""
    with store.transaction() as session:
        lane = session.exec(select(Lane).where(Lane.key == key)).first()
        if lane is None:
            raise Missing("There is no such lane.")
        return lane.name


def _being_read(session: Session) -> str | None:
    """The oldest document with pages to be read, as "invoice.tif, page 2 of 3"."""
    first = session.exec(
        select(Page, ArrivedFile)
        .join(ArrivedFile, col(Page.file_id) == col(ArrivedFile.id))
        .where(Page.state == PageState.WAITING)
        .order_by(col(Page.id))
    ).first()
    if first is None:
        return None
    page, file = first
    pages = session.exec(select(func.count()).select_from(Page).where(Page.file_id == page.file_id)).one()
    return f"{file.name}, page {page.file_index + 1} of {pages}"


def _lane_row(session: Session, lane: Lane) -> LaneRow:
    def files(state: FileState, since: datetime | None = None) -> int:
        wanted = (
            select(func.count())
            .select_from(ArrivedFile)
            .join(Batch, col(ArrivedFile.batch_id) == col(Batch.id))
            .where(Batch.lane_id == lane.id, ArrivedFile.state == state)
        )
        return session.exec(wanted.where(Batch.arrived_at >= since) if since else wanted).one()

    in_reading = select(ArrivedFile.batch_id).join(Page, col(Page.file_id) == col(ArrivedFile.id)).where(_undecided)

    def pages(state: PageState) -> int:
        """Pages of batches that are still being read."""
        return session.exec(
            select(func.count())
            .select_from(Page)
            .join(ArrivedFile, col(Page.file_id) == col(ArrivedFile.id))
            .join(Batch, col(ArrivedFile.batch_id) == col(Batch.id))
            .where(Batch.lane_id == lane.id, Page.state == state, col(Batch.id).in_(in_reading))
        ).one()

    def station(state: DocumentState, since: datetime | None = None) -> Station:
        wanted = (
            select(func.count(), func.min(Document.arrived_at))
            .select_from(Document)
            .join(Batch, col(Document.batch_id) == col(Batch.id))
            .where(Batch.lane_id == lane.id, Document.state == state)
        )
        if state == DocumentState.READING:
            looked_at = select(ArrivedFile.id).where(ArrivedFile.state == FileState.CUT)
            wanted = wanted.where(col(Document.file_id).not_in(looked_at))
        if since:
            wanted = wanted.where(col(Document.delivered_at) >= since)
        count, oldest = session.exec(wanted).one()
        return Station(count, oldest)

    recent = now() - RECENT
    return LaneRow(
        key=lane.key,
        name=lane.name,
        way=letter_of(lane).reading,
        files_waiting=files(FileState.WAITING),
        pages_waiting=pages(PageState.WAITING),
        pages_read=pages(PageState.READ),
        reading=station(DocumentState.READING),
        review=station(DocumentState.REVIEW),
        settled=station(DocumentState.SETTLED),
        stuck=station(DocumentState.STUCK),
        delivered=station(DocumentState.DELIVERED, recent),
        refused=files(FileState.REFUSED, recent),
        to_look_at=files(FileState.CUT),
    )


def _batch_rows(session: Session) -> list[BatchRow]:
    in_pile = select(ArrivedFile.batch_id).join(Page, col(Page.file_id) == col(ArrivedFile.id)).where(_undecided)
    unfinished = select(Document.batch_id).where(Document.state != DocumentState.DELIVERED).union(in_pile)
    found = session.exec(
        select(Batch, Lane, Person)
        .join(Lane, col(Batch.lane_id) == col(Lane.id))
        .join(Person, col(Batch.person_id) == col(Person.id), isouter=True)
        .where((col(Batch.arrived_at) >= now() - RECENT) | col(Batch.id).in_(unfinished))
        .order_by(col(Batch.id).desc())
        .limit(MOST_BATCHES)
    ).all()
    return [_batch_row(session, batch, lane, person) for batch, lane, person in found]


def _batch_row(session: Session, batch: Batch, lane: Lane, person: Person | None) -> BatchRow:
    files = session.exec(select(ArrivedFile.state).where(ArrivedFile.batch_id == batch.id)).all()
    undecided = (
        select(func.count()).select_from(Page).join(ArrivedFile, col(Page.file_id) == col(ArrivedFile.id))
        .where(ArrivedFile.batch_id == batch.id, _undecided)
    )  # fmt: skip
    counted = select(Document.state, func.count()).where(
        Document.batch_id == batch.id, Document.state != DocumentState.DISSOLVED
    )
    states = session.exec(counted.group_by(col(Document.state))).all()
    return BatchRow(
        id=batch.id or 0,
        lane_name=lane.name,
        arrived_at=batch.arrived_at,
        person=person.name if person else batch.channel or None,
        files=len(files),
        refused=sum(state == FileState.REFUSED for state in files),
        waiting=sum(state == FileState.WAITING for state in files) + session.exec(undecided).one(),
        to_look_at=sum(state == FileState.CUT for state in files),
        documents={str(state): count for state, count in states},
    )


def _count(session: Session, state: DocumentState) -> int:
    return session.exec(select(func.count()).select_from(Document).where(Document.state == state)).one()
