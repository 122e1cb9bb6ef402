"""What is new since a program asked last, and what it took."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import NamedTuple

from pydantic import BaseModel, ConfigDict
from sqlmodel import col, delete, select

from zestpail.desk.documents.messages import NotDone
from zestpail.desk.people.tokens import Holder
from zestpail.desk.programs.openness import STANDS, closed_to, document_for
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.feed_tables import News, Taken
from zestpail.store.queries.news import last_news, news_after, number_news
from zestpail.store.states import Scope
from zestpail.store.tables import Lane


class NewsTold(BaseModel):
    """One thing that happened."""

    model_config = ConfigDict(json_schema_extra={"examples": [{
        "cursor": 4711, "kind": "document.settled", "at": "2026-11-30T09:15:00Z", "lane": "supplier-invoices",
        "batch": 12, "document": 37, "job": None,
    }]})  # fmt: skip

    cursor: int
    """Its place in the order of all news."""
    kind: str
    at: datetime
    lane: str | None
    batch: int | None
    document: int | None
    job: int | None = None


class Asked(NamedTuple):
    """What news are asked for."""

    after: int
    """The place after which they begin."""
    most: int = 100
    kinds: Sequence[str] = ()
    lane: str = ""


def news(store: Store, holder: Holder, asked: Asked) -> list[NewsTold]:
    """What is new after that place, in order, of the lanes that the token is for, and of its own jobs."""
    with store.transaction() as session:
        number_news(session)
    with store.transaction() as session:
        lanes = {lane.id: lane.key for lane in session.exec(select(Lane))}
        closed = closed_to(session, holder)
        if asked.lane:
            holder.must_have(Scope.READ, asked.lane)
            closed = frozenset(closed) | {number for number, key in lanes.items() if key != asked.lane and number}
        own = None if asked.lane else holder.id
        found = news_after(session, asked.after, asked.most, closed=closed, kinds=asked.kinds, jobs_of=own)
        return [told(one, lanes.get(one.lane_id)) for one in found]


def newest(store: Store) -> int:
    """The place of the last news: a program that begins today asks for what comes after it."""
    with store.transaction() as session:
        number_news(session)
        return last_news(session)


def told(one: News, lane: str | None) -> NewsTold:
    """A piece of news as programs get it."""
    return NewsTold(
        cursor=one.seq or 0, kind=one.kind, at=one.at, lane=lane, batch=one.batch_id, document=one.document_id,
        job=one.job_id,
    )  # fmt: skip


def take(store: Store, holder: Holder, document_id: int, reference: str) -> None:
    """The program has the document, and calls it so. Raises Missing, NotAllowed, NotDone where it is not settled."""
    with store.transaction() as session:
        document, _ = document_for(session, holder, document_id)
        if document.state not in STANDS:
            raise NotDone("This document is not settled: its values may still change.")
        session.merge(Taken(token_id=holder.id, document_id=document_id, reference=reference, at=now()))


def give_back(store: Store, holder: Holder, document_id: int) -> None:
    """The program has not got it any more: it is told of it again. Raises Missing, NotAllowed."""
    with store.transaction() as session:
        document_for(session, holder, document_id)
        session.exec(delete(Taken).where(col(Taken.token_id) == holder.id, col(Taken.document_id) == document_id))
