"""Batches as rows of a list: where each stands, and those that somebody looks for."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any

from pydantic import BaseModel
from sqlmodel import Session, col, or_, select

from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.queries import counts
from zestpail.store.queries.access import Closed, open_batch, open_lanes
from zestpail.store.states import DocumentState, FileState
from zestpail.store.tables import ArrivedFile, Batch, Document, Lane, Page, Person

RECENT = timedelta(hours=24)
PER_PAGE = 50


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
    documents: Counter[str]

    @property
    def finished(self) -> bool:
        return self.waiting == 0 and self.to_look_at == 0 and self.documents["delivered"] == self.documents.total()


class BatchSearch(BaseModel):
    """What batches are looked for by; empty for all."""

    lane: str = ""
    person: str = ""
    """A login, or ``nobody`` for what came by itself."""
    state: str = ""
    since: str = ""
    until: str = ""
    """Days, as YYYY-MM-DD."""
    start: int = 0


@dataclass(frozen=True)
class BatchList:
    rows: list[BatchRow]
    lanes: list[tuple[str, str]]
    people: list[tuple[str, str]]
    states: list[tuple[str, str]]
    more: bool


def find_batches(store: Store, wanted: BatchSearch, closed: Closed = ()) -> BatchList:
    """The batches that fit, newest first, a page of them from ``start`` on."""
    with store.transaction() as session:
        rows = batch_rows(session, [*_conditions(wanted), open_batch(closed)], PER_PAGE + 1, max(wanted.start, 0))
        return BatchList(
            rows=rows[:PER_PAGE],
            lanes=[(lane.key, lane.name) for lane in open_lanes(session, closed)],
            people=[(one.login, one.name) for one in session.exec(select(Person).order_by(col(Person.name)))],
            states=[(state.value, WORDS[state]) for state in DocumentState if state != DocumentState.DISSOLVED],
            more=len(rows) > PER_PAGE,
        )


def recent_or_open() -> list[Any]:
    """Of the last day, or still in work."""
    in_stack = select(ArrivedFile.batch_id).join(Page, col(Page.file_id) == col(ArrivedFile.id)).where(counts.UNDECIDED)
    unfinished = select(Document.batch_id).where(Document.state != DocumentState.DELIVERED).union(in_stack)
    return [or_(col(Batch.arrived_at) >= now() - RECENT, col(Batch.id).in_(unfinished))]


def _conditions(wanted: BatchSearch) -> list[Any]:
    conditions: list[Any] = []
    if wanted.lane:
        conditions.append(Lane.key == wanted.lane)
    if wanted.person:
        conditions.append(
            col(Batch.person_id).is_(None) if wanted.person == "nobody" else Person.login == wanted.person
        )
    if wanted.state in {state.value for state in DocumentState}:
        conditions.append(col(Batch.id).in_(select(Document.batch_id).where(Document.state == wanted.state)))
    since, until = _midnight(wanted.since), _midnight(wanted.until)
    if since:
        conditions.append(col(Batch.arrived_at) >= since)
    if until:
        conditions.append(col(Batch.arrived_at) < until + timedelta(days=1))
    return conditions


def _midnight(day: str) -> datetime | None:
    """The beginning of a day in the machine's own time zone; None for what is none."""
    try:
        return datetime.combine(date.fromisoformat(day), time()).astimezone()
    except ValueError:
        return None


def batch_rows(session: Session, conditions: list[Any], most: int, start: int = 0) -> list[BatchRow]:
    """The batches that fit all conditions, newest first."""
    found = session.exec(
        select(Batch, Lane.name, Person.name)
        .join(Lane, col(Batch.lane_id) == col(Lane.id))
        .join(Person, col(Batch.person_id) == col(Person.id), isouter=True)
        .where(*conditions)
        .order_by(col(Batch.id).desc())
        .offset(start)
        .limit(most)
    ).all()
    batches = [batch.id or 0 for batch, _, _ in found]
    files, undecided = counts.files_by_batch(session, batches), counts.undecided_pages_by_batch(session, batches)
    documents = counts.documents_by_batch(session, batches)

    def row(batch: Batch, number: int, lane: str, person: str | None) -> BatchRow:
        standing = {str(state): documents.get((number, state), 0) for state in DocumentState}
        return BatchRow(
            id=number,
            lane_name=lane,
            arrived_at=batch.arrived_at,
            person=person or batch.channel or None,
            files=sum(files.get((number, state), 0) for state in FileState),
            refused=files.get((number, FileState.REFUSED), 0),
            waiting=files.get((number, FileState.WAITING), 0) + undecided.get(number, 0),
            to_look_at=files.get((number, FileState.SPLIT), 0),
            documents=Counter(
                {state: count for state, count in standing.items() if count and state != DocumentState.DISSOLVED}
            ),
        )

    return [row(batch, batch.id or 0, lane, person) for batch, lane, person in found]
