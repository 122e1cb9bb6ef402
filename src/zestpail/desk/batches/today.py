"""Today: what came in, where it stands, what needs a person; and the status line that is always true."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlmodel import Session, col, func, select

from zestpail.core.reading.read import Way
from zestpail.desk.batches.batch_deliveries import DestinationRow
from zestpail.desk.batches.batch_rows import RECENT, BatchRow, batch_rows, recent_or_open
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.standing import down_now
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.queries import counts
from zestpail.store.queries.access import Closed, open_batch, open_lanes, open_page, open_to_see
from zestpail.store.queries.deliveries import deliveries_by_lane
from zestpail.store.queries.review_queue import FOR_PERSON, count_in_state
from zestpail.store.states import DocumentState, FileState, PageState
from zestpail.store.tables import ArrivedFile, Lane, Page

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
    destinations: list[DestinationRow]
    """Those that took something lately, or did not take something yet."""

    @property
    def idle(self) -> bool:
        """Whether nothing of it is in work or asks for anybody."""
        waiting = self.files_waiting + self.pages_waiting + self.to_look_at + self.refused
        return not waiting and not any(one.count for one in (self.reading, self.review, self.settled, self.stuck))


@dataclass(frozen=True)
class Today:
    lanes: list[LaneRow]
    batches: list[BatchRow]
    scanner: bool = False
    """Whether there is a scanner."""
    down: Sequence[tuple[str, datetime | None]] = ()
    """What of the service itself is down, each as a sentence, and when it is started again."""


@dataclass(frozen=True)
class Status:
    """The status line."""

    reading: str | None
    pages_waiting: int
    review: int
    stuck: int


def today(store: Store, scanner: str = "", closed: Closed = ()) -> Today:
    """All lanes but the closed ones, and the batches of the last day or still in work."""
    with store.transaction() as session:
        wanted = [*recent_or_open(), open_batch(closed)]
        batches = batch_rows(session, wanted, MOST_BATCHES)
        return Today(_lane_rows(session, closed), batches, bool(scanner), down_now(session))


def status(store: Store, closed: Closed = ()) -> Status:
    """What is being read now, how much waits, and what is stuck, without what lies in the closed lanes."""
    with store.transaction() as session:
        waiting = select(func.count()).select_from(Page).where(Page.state == PageState.WAITING, open_page(closed))
        documents = count_in_state(session, closed, *FOR_PERSON, DocumentState.STUCK)
        unopened = select(func.count()).select_from(ArrivedFile).where(ArrivedFile.state == FileState.WAITING)
        unopened = unopened.where(open_to_see(col(ArrivedFile.batch_id), closed))
        return Status(
            reading=_being_read(session, closed),
            pages_waiting=session.exec(waiting).one() + session.exec(unopened).one(),
            review=sum(documents.get(state, 0) for state in FOR_PERSON),
            stuck=documents.get(DocumentState.STUCK, 0),
        )


def lane_name(store: Store, key: str) -> str:
    """Raises Missing."""
    with store.transaction() as session:
        lane = session.exec(select(Lane).where(Lane.key == key)).first()
        if lane is None:
            raise Missing("There is no such lane.")
        return lane.name


def _being_read(session: Session, closed: Closed) -> str | None:
    """The oldest document with pages to be read, as "invoice.tif, page 2 of 3"."""
    first = session.exec(
        select(Page, ArrivedFile)
        .join(ArrivedFile, col(Page.file_id) == col(ArrivedFile.id))
        .where(Page.state == PageState.WAITING, open_page(closed))
        .order_by(col(Page.id))
    ).first()
    if first is None:
        return None
    page, file = first
    pages = session.exec(select(func.count()).select_from(Page).where(Page.file_id == page.file_id)).one()
    return f"{file.name}, page {page.file_index + 1} of {pages}"


def _lane_rows(session: Session, closed: Closed) -> list[LaneRow]:
    recent = now() - RECENT
    files, pages = counts.files_by_lane(session, recent), counts.pages_in_reading_by_lane(session)
    documents = counts.documents_by_lane(session, recent)
    delivered = deliveries_by_lane(session, recent)

    def row(lane: Lane, number: int) -> LaneRow:
        def station(state: DocumentState) -> Station:
            return Station(*documents.get((number, state), (0, None)))

        def stations(*states: DocumentState) -> Station:
            several = [station(state) for state in states]
            since = [one.since for one in several if one.since]
            return Station(sum(one.count for one in several), min(since, default=None))

        return LaneRow(
            key=lane.key,
            name=lane.name,
            way=lane.settings.reading,
            files_waiting=files.get((number, FileState.WAITING), 0),
            pages_waiting=pages.get((number, PageState.WAITING), 0),
            pages_read=pages.get((number, PageState.READ), 0),
            reading=station(DocumentState.READING),
            review=stations(*FOR_PERSON),
            settled=station(DocumentState.SETTLED),
            stuck=station(DocumentState.STUCK),
            delivered=station(DocumentState.DELIVERED),
            refused=files.get((number, FileState.REFUSED), 0),
            to_look_at=files.get((number, FileState.SPLIT), 0),
            destinations=[
                DestinationRow(one.shown, told.get("sent", 0), told.get("later", 0), told.get("failed", 0), one.id)
                for one in lane.settings.destinations if (told := delivered.get((number, one.id)))
            ],
        )  # fmt: skip

    return [row(lane, lane.id or 0) for lane in open_lanes(session, closed)]
