"""Finding again: batches by lane, day, person and state; words of pages and numbers as they are shown; people."""

from __future__ import annotations

import io
from datetime import timedelta
from pathlib import Path

import pytest
from openpyxl import load_workbook
from sqlmodel import select

from tests.desk.flow import LANE, drop, read_all, seen
from zestpail.desk.archive.search import find_batch, find_documents
from zestpail.desk.batches.batch_rows import BatchSearch, find_batches
from zestpail.desk.batches.workbook import batch_workbook
from zestpail.desk.delivery import deliveries
from zestpail.desk.delivery.delivered_files import delivered_file
from zestpail.desk.documents.context import set_up_lane
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import keep_lacking_texts
from zestpail.desk.documents.signed_in import Role, SignedIn
from zestpail.desk.intake.arrivals import arrive_once
from zestpail.desk.lanes.first_lane import supplier_invoices
from zestpail.desk.people import people
from zestpail.desk.review import desk
from zestpail.store import Store
from zestpail.store.archive_tables import ArchiveDue
from zestpail.store.columns import now
from zestpail.store.tables import Batch, ReadingText


def found(store: Store, **wanted: str | int) -> list[int]:
    return [row.id for row in find_batches(store, BatchSearch.model_validate(wanted)).rows]


def numbers(store: Store, words: str) -> list[int]:
    return [one.document_id for one in find_documents(store, words)]


def test_batches_are_found_by_lane_day_person_and_state(
    store: Store, ines: SignedIn, tomas: SignedIn, demo: Path
) -> None:
    set_up_lane(store, "second", "Second lane", supplier_invoices())
    first = drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    second = drop(store, tomas, "bight-04.pdf")
    read_all(store)
    third = arrive_once(store, "second", "a.pdf", (demo / "moewenbek-01.pdf").read_bytes(), "folder").batch_id
    with store.transaction() as session:
        session.get_one(Batch, first).arrived_at = now() - timedelta(days=40)
    assert found(store) == [third, second, first], "older ones too"
    assert found(store, lane="second") == [third]
    assert (found(store, person="tomas"), found(store, person="nobody")) == ([second], [third])
    assert (found(store, state="review"), found(store, state="settled")) == ([second], [first])
    day = (now() - timedelta(days=30)).astimezone().date().isoformat()
    assert (found(store, since=day), found(store, until=day)) == ([third, second], [first])
    assert found(store, since="tomorrow", state="no such") == [third, second, first], "what is none is no condition"
    batches = [find_batch(store, words) for words in ("batch 2", "2", "#2", "D2", "batch 9")]
    assert [one.id if one else None for one in batches] == [2, 2, 2, None, None]


def test_any_word_of_any_page_and_numbers_as_they_are_shown(store: Store, ines: SignedIn) -> None:
    drop(store, ines, "dredgemoor-01.pdf", "bight-04.pdf", "brevanne-01.pdf")
    read_all(store)
    (hit,) = find_documents(store, "eyelets every 50 cm")
    assert (hit.document_id, hit.on_page.startswith("page 1: … ")) == (2, True)
    assert "eyelets every 50 cm" in hit.on_page
    assert numbers(store, "1,243.50") == numbers(store, "1243.50") == [2], "as it is shown, and as it is kept"
    (french,) = find_documents(store, "F2600178")
    total = next(value for name, value in french.values if name == "Total")
    printed = total.replace(",", "\u202f").replace(".", ",")
    assert numbers(store, total) == [3]
    assert 3 in numbers(store, printed.replace("\u202f", "")) or 3 in numbers(store, printed.replace("\u202f", " "))
    assert (numbers(store, "document 3"), numbers(store, "no such word anywhere")) == ([3], [])
    assert 1 in numbers(store, "Payable"), "a word that is no value"
    with store.transaction() as session:
        for text in session.exec(select(ReadingText)):
            session.delete(text)
        session.add(ArchiveDue(document_id=1))
        session.add(ArchiveDue(document_id=2))
    assert numbers(store, "Payable") == []
    assert keep_lacking_texts(store, most=100) > 0, "pages that were read by an older version"
    assert keep_lacking_texts(store, most=100) == 0
    assert 1 in numbers(store, "payable")


def test_people_are_added_renamed_and_disabled(store: Store, ines: SignedIn, tomas: SignedIn) -> None:
    for login, name, password in (("tomas", "Tom", "quillon-quillon"), ("a b", "A", "quillon-quillon"),
                                  ("lu", " ", "quillon-quillon"), ("lu", "Lu", "short")):  # fmt: skip
        with pytest.raises(NotDone):
            people.new_person(store, login, name, password, ines.id)
    people.new_person(store, "lu", " Lu  Marsh ", "harbour-board", ines.id)
    lu = people.sign_in(store, "lu", "harbour-board")
    assert lu
    assert lu.name == "Lu Marsh"
    people.rename(store, lu.id, "Lucy Marsh", ines.id)
    people.set_password(store, lu.id, "quay-and-crane", ines.id)
    assert people.sign_in(store, "lu", "harbour-board") is None
    people.disable(store, lu.id, ines.id)
    assert (people.sign_in(store, "lu", "quay-and-crane"), people.person(store, lu.id, lu.session)) == (None, None)
    people.disable(store, lu.id, ines.id, back=True)
    lucy = SignedIn(lu.id, "Lucy Marsh", lu.session + 3, (Role.OPERATOR,))
    assert people.sign_in(store, "lu", "quay-and-crane") == lucy
    with pytest.raises(NotDone, match="cannot disable yourself"):
        people.disable(store, ines.id, ines.id)
    with pytest.raises(Missing):
        people.rename(store, 99, "X", ines.id)


def test_delivered_files_are_opened_and_a_batch_is_one_workbook(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    batch = drop(store, ines, "brevanne-01.pdf", "moewenbek-01.pdf")
    read_all(store)
    assert all(deliveries.deliver(store, tmp_path, number) for number in (1, 2))
    desk.back_to_review(store, 1, ines.id)
    desk.enter(store, seen(store, 1, ines), "invoice_number", "F-2")
    desk.done(store, seen(store, 1, ines))
    assert deliveries.deliver(store, tmp_path, 1)
    names = [delivered_file(store, 1, number).name for number in (0, 1)]
    assert names[1] == "Ateliers Portuaires de Brévanne SARL F-2 version 2.pdf"
    for name, number in zip(names, (0, 1), strict=True):
        (written,) = tmp_path.rglob(name)
        assert delivered_file(store, 1, number).data == written.read_bytes()
    with pytest.raises(Missing):
        delivered_file(store, 1, 2)
    book = load_workbook(io.BytesIO(batch_workbook(store, batch)))
    assert book.sheetnames == ["Supplier invoice", "Supplier invoice Line items"]
    documents, lines = book.worksheets
    headings = [cell.value for cell in documents[1]]
    assert headings[:4] == ["Document", "File", "State", "Supplier"]
    assert documents.cell(2, headings.index("Invoice number") + 1).value == "F-2"
    assert isinstance(documents.cell(2, headings.index("Total") + 1).value, int | float)
    assert {row[0].value for row in lines.iter_rows(min_row=2)} == {"D1", "D2"}


def test_the_queue_of_one_lane(store: Store, ines: SignedIn, demo: Path) -> None:
    set_up_lane(store, "second", "Second lane", supplier_invoices())
    drop(store, ines, "bight-04.pdf")
    arrive_once(store, "second", "a.pdf", (demo / "bight-04.pdf").read_bytes(), "folder")
    read_all(store)
    assert [desk.next_for_review(store, ines.id, None, lane) for lane in ("", LANE, "second", "none")] == [
        1,
        1,
        2,
        None,
    ]
    assert desk.next_for_review(store, ines.id, 1, LANE) is None
    assert desk.next_for_review(store, ines.id, 1) == 2
