"""Lists of documents for programs: searched and narrowed as the archive is, a page at a time."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import NamedTuple

from pydantic import BaseModel, ConfigDict
from sqlmodel import select

from zestpail.desk.archive.entering import enter_due
from zestpail.desk.archive.search import DUE_AT_ONCE, Wanted, found_entries
from zestpail.desk.people.tokens import Holder
from zestpail.desk.programs.openness import STANDS, closed_to
from zestpail.store import Store
from zestpail.store.archive_tables import ArchiveEntry
from zestpail.store.states import Scope
from zestpail.store.tables import Lane


class DocumentLine(BaseModel):
    """A document in a list."""

    id: int
    batch: int
    lane: str
    type: str
    state: str
    party: str
    """Whom it is from or to."""
    day: date | None
    amount: Decimal | None


class DocumentList(BaseModel):
    """A page of documents, the newest first."""

    model_config = ConfigDict(json_schema_extra={"examples": [{
        "documents": [{"id": 37, "batch": 12, "lane": "supplier-invoices", "type": "supplier-invoice",
                       "state": "settled", "party": "Ateliers de Brevanne", "day": "2026-08-31", "amount": "12125.82"}],
        "next": 37, "alike": {},
    }]})  # fmt: skip

    documents: list[DocumentLine]
    next: int | None
    """What ``before`` is set to for the page after this one."""
    alike: dict[str, list[str]]
    """By word that hardly anything has, words that were looked for too."""


class Listed(NamedTuple):
    """What documents are asked for."""

    wanted: Wanted
    most: int
    settled: bool = False
    """Only those whose values stand, whether they are delivered or not."""
    untaken: bool = False
    """Only those that the program did not take."""


def documents_listed(store: Store, holder: Holder, asked: Listed) -> DocumentList:
    """The documents that are wanted, of the lanes that the token is for. Raises NotAllowed."""
    holder.must_have(Scope.READ, asked.wanted.lane)
    enter_due(store, DUE_AT_ONCE)
    with store.transaction() as session:
        lanes = {lane.id: lane.key for lane in session.exec(select(Lane))}
        by = holder.id if asked.untaken else None
        states = STANDS if asked.settled else ()
        closed = closed_to(session, holder)
        there = found_entries(session, asked.wanted, closed, asked.most, states=states, untaken_by=by)
        lines = [_line(entry, lanes[entry.lane_id]) for entry in there.entries]
        return DocumentList(documents=lines, next=there.next, alike=there.alike)


def _line(entry: ArchiveEntry, lane: str) -> DocumentLine:
    return DocumentLine(
        id=entry.document_id, batch=entry.batch_id, lane=lane, type=entry.type_key, state=entry.state,
        party=entry.party, day=entry.day, amount=entry.amount,
    )  # fmt: skip
