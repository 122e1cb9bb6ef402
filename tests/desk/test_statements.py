"""How many statements the pages that everybody opens all day ask of the database: as many for much as for little."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from sqlalchemy import event

from tests.desk.flow import drop, read_all
from zestpail.desk.batches.today import today
from zestpail.desk.delivery import deliveries
from zestpail.desk.documents.context import set_up_lane
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.lanes.first_lane import supplier_invoices
from zestpail.desk.review import desk
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import Document


@contextmanager
def counted(store: Store) -> Iterator[list[str]]:
    asked: list[str] = []

    def hear(_connection: object, _cursor: object, statement: str, *_: object) -> None:
        asked.append(statement)

    event.listen(store.engine, "before_cursor_execute", hear)
    try:
        yield asked
    finally:
        event.remove(store.engine, "before_cursor_execute", hear)


@pytest.fixture
def read(store: Store, ines: SignedIn) -> int:
    """One document; more are added by writing rows."""
    batch = drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    return batch


def many(store: Store, batch: int, state: DocumentState) -> None:
    with store.transaction() as session:
        first = session.get_one(Document, 1)
        for _ in range(40):
            session.add(Document(batch_id=batch, file_id=first.file_id, revision_id=first.revision_id, state=state))


@pytest.mark.parametrize(
    ("ask", "most"),
    [
        (lambda store, ines: today(store), 12),
        (lambda store, ines: desk.next_for_review(store, ines.id), 2),
        (lambda store, ines: desk.next_for_review(store, ines.id, after=5), 3),
    ],
    ids=["today", "next for review", "next for review after one"],
)
def test_pages_ask_the_same_however_much_there_is(
    store: Store, ines: SignedIn, read: int, ask: Callable[[Store, SignedIn], object], most: int
) -> None:
    with counted(store) as few:
        ask(store, ines)
    many(store, read, DocumentState.REVIEW)
    for number in range(6):
        set_up_lane(store, f"lane-{number}", f"Lane {number}", supplier_invoices())
        drop(store, ines, "bight-02.pdf")
    with counted(store) as lots:
        ask(store, ines)
    assert len(lots) == len(few) <= most, "\n".join(lots)


def test_a_delivery_asks_the_same_however_many_there_were(
    store: Store, ines: SignedIn, read: int, tmp_path: Path
) -> None:
    drop(store, ines, "bight-02.pdf", "norrhavn-01.pdf", "moewenbek-01.pdf")
    read_all(store)
    asked = []
    for document_id in (1, 2, 3, 4):
        with store.transaction() as session:
            session.get_one(Document, document_id).state = DocumentState.SETTLED
        with counted(store) as statements:
            assert deliveries.deliver(store, tmp_path, document_id)
        asked.append(len(statements))
    assert max(asked[1:]) <= asked[0] <= 50, "a scan is asked for no file that it came in"


def test_the_queue_goes_on_behind_the_one_at_hand_and_past_what_others_hold(
    store: Store, ines: SignedIn, tomas: SignedIn, read: int
) -> None:
    many(store, read, DocumentState.REVIEW)
    assert desk.next_for_review(store, ines.id) == 2
    assert desk.next_for_review(store, ines.id, after=7) == 8
    desk.hold(store, 8, tomas.id)
    assert desk.next_for_review(store, ines.id, after=7) == 9
    assert desk.next_for_review(store, tomas.id, after=7) == 8
    assert desk.next_for_review(store, ines.id, after=41) == 2, "from the front again"
    assert desk.next_for_review(store, ines.id, after=4711) == 2
