"""Doing by hand what workers do, so that a test can stop anywhere in between."""

from __future__ import annotations

import csv
import io
from pathlib import Path

from sqlalchemy import text
from sqlmodel import select

from tests.conftest import DEMO
from zestpail.desk.delivery import deliveries
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake import arrivals
from zestpail.desk.pipeline import extract, reading
from zestpail.desk.review.desk import Seen
from zestpail.desk.review.view import Card, review_view
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Document, Page

LANE = "supplier-invoices"


def drop(store: Store, person: SignedIn, *names: str, lane: str = LANE) -> int:
    """Files of the demo arrive in one batch."""
    batch = None
    for name in names:
        batch = arrivals.arrive(store, lane, name, (DEMO / name).read_bytes(), person.id, batch)
    assert batch
    return batch


def read_all(store: Store) -> None:
    """Every step up to review or settled."""
    for file_id in ids(store, ArrivedFile):
        reading.open_file(store, file_id)
    for page_id in ids(store, Page):
        reading.read_page(store, page_id)
    for document_id in ids(store, Document):
        extract.extract_document(store, document_id)


def deliver_all(store: Store, root: Path) -> list[bool]:
    return [deliveries.deliver(store, root, document_id) for document_id in ids(store, Document)]


def ids(store: Store, table: type[ArrivedFile] | type[Page] | type[Document]) -> list[int]:
    with store.transaction() as session:
        return [number for number in session.exec(select(table.id).order_by(table.id)) if number]  # type: ignore[arg-type]


def state(store: Store, document_id: int) -> DocumentState:
    with store.transaction() as session:
        return session.get_one(Document, document_id).state


def jobs(store: Store) -> list[tuple[str, dict[str, int]]]:
    """What waits in the queue: task and arguments."""
    with store.engine.connect() as connection:
        rows = connection.execute(
            text("SELECT task_name, args FROM procrastinate_jobs WHERE status = 'todo' ORDER BY id")
        )
        return [(name, arguments) for name, arguments in rows]


def seen(store: Store, document_id: int, person: SignedIn) -> Seen:
    return Seen(document_id, review_view(store, document_id, person.id).version, person.id)


def card(store: Store, document_id: int, key: str, person: SignedIn) -> Card:
    return next(c for c in review_view(store, document_id, person.id).cards if c.key == key)


def rows_of(root: Path) -> list[dict[str, str]]:
    """What the lane's spreadsheet holds."""
    return list(csv.DictReader(io.StringIO((root / LANE / f"{LANE}.csv").read_bytes().decode())))
