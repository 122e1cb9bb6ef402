"""Reference lists kept: revisions, what is held back, addresses that are asked, and documents looked up in them."""

from __future__ import annotations

import asyncio
import json
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any

import pytest
from sqlmodel import select

from tests.conftest import DEMO
from tests.delivery.servers import served
from tests.desk.flow import card, drop, read_all, seen
from zestpail.delivery import web as web_client
from zestpail.desk.documents.context import lane_of_key, type_of
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.secrets import web_of
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.documents.stored_lists import StoredLists
from zestpail.desk.intake import arrivals
from zestpail.desk.reference import asking, lists
from zestpail.desk.reference.taking import read_list
from zestpail.desk.reference.view import Wanted, all_lists, changed_by, list_view
from zestpail.desk.review import desk as review
from zestpail.desk.review import entries
from zestpail.desk.review.view import ReviewView, review_view
from zestpail.desk.types import drafts
from zestpail.desk.types.bench.edits import At
from zestpail.desk.types.from_list import list_use, use_list
from zestpail.standins import ledger
from zestpail.store import Store
from zestpail.store.queries.reference import LEAST_MEANT
from zestpail.store.tables import Document

HEAD = "Number;Name;VAT;IBAN;Terms"
ROWS = {
    at: f"7000{at};{name};{vat};{iban};{terms}"
    for at, name, vat, iban, terms in (
        (1, "Bight & Bollard Ltd", "XQ20488103", "XQ880000111122223333", 30),
        (2, "Bight & Bollard AG", "XQ20488104", "", 14),
        (3, "Norrhavn Bunkers Ltd", "XQ660120515", "XQ000000000000000000", 21),
        (4, "Möwenbek Schiffsbedarf GmbH", "XQ815550021", "", 14),
        (5, "Tarnwick Rope Works Ltd", "", "", 14),
        (6, "Tarnwick Ropes Ltd", "", "", 7),
        (7, "Dredgemoor Contractors LLP", "", "", 7),
        (8, "Corrie Lamps", "", "", 7),
    )
}


def csv(*without: int, **instead: str) -> bytes:
    rows = [instead.get(f"row_{at}", row) for at, row in ROWS.items() if at not in without]
    return "\n".join((HEAD, *rows)).encode()


def take(store: Store, person: SignedIn, content: bytes, name: str = "suppliers.csv") -> None:
    lists.give_file(store, "suppliers", name, content, person.id)
    read_list(store, 1)


@pytest.fixture
def suppliers(store: Store, ines: SignedIn) -> Store:
    lists.add_list(store, "Suppliers", ines.id)
    take(store, ines, csv())
    return store


def test_a_newer_file_is_a_revision_and_what_would_drop_much_waits_for_a_person(
    suppliers: Store, ines: SignedIn
) -> None:
    take(suppliers, ines, csv())
    [line] = all_lists(suppliers)
    assert (line.revision, line.rows, line.state) == (1, 8, "ready"), "the same again is no revision"

    take(suppliers, ines, csv(8, row_1="70001;Bight and Bollard Ltd;XQ20488103;;30") + b"\n70009;New one;;;1")
    view, changed = changed_by(suppliers, "suppliers", 2)
    [last, _] = view.revisions
    assert (last.revision.added, last.revision.changed, last.revision.gone) == (1, 1, 1)
    assert [(one.key, sorted(one.cells), bool(one.before), bool(one.after)) for one in changed] == [
        ("70008", [], True, False), ("70001", ["iban", "name"], True, True), ("70009", [], False, True),
    ]  # fmt: skip
    assert list_view(suppliers, "suppliers", Wanted(revision=1, find="corrie")).many == 1
    assert list_view(suppliers, "suppliers", Wanted(find="100%_")).many == 0

    take(suppliers, ines, csv(2, 3, 4, 5, 6, 7, 8), "short.csv")
    [line] = all_lists(suppliers)
    assert (line.state, line.rows) == ("held", 8)
    assert line.problem == "“short.csv” lacks 7 of the 8 entries that are here. It was not taken yet."
    lists.refuse(suppliers, "suppliers", ines.id)
    with pytest.raises(NotDone, match="No file of this list waits"):
        lists.accept(suppliers, "suppliers", ines.id)

    take(suppliers, ines, b"Number;Name\n70001;Bight", "narrow.csv")
    assert "has no column “VAT”, “IBAN”, “Terms” any more" in all_lists(suppliers)[0].problem
    lists.accept(suppliers, "suppliers", ines.id)
    read_list(suppliers, 1)
    assert all_lists(suppliers)[0].rows == 1
    lists.bring_back(suppliers, "suppliers", 1, ines.id)
    read_list(suppliers, 1)
    back = list_view(suppliers, "suppliers", Wanted())
    assert (back.line.revision, back.many, [column.says for column in back.columns][2:4]) == (
        4, 8, ["vat_number", "iban"],
    )  # fmt: skip
    with pytest.raises(Missing):
        lists.bring_back(suppliers, "suppliers", 9, ines.id)


def test_a_file_that_is_no_list_leaves_the_one_before_and_rows_of_one_number_are_told(
    suppliers: Store, ines: SignedIn
) -> None:
    take(suppliers, ines, b"%PDF-1.7" + bytes(40), "invoice.pdf")
    [line] = all_lists(suppliers)
    assert (line.state, line.problem, line.rows) == (
        "failed",
        "invoice.pdf is no table: neither CSV nor XLSX nor JSON.",
        8,
    )
    take(suppliers, ines, csv() + b"\n70001;Twice;;;1\n;Without;;;1\n70010;More;;;1")
    faults = list_view(suppliers, "suppliers", Wanted()).revisions[0].revision.faults
    assert faults == [
        "1 row without “Number” was not taken.",
        "1 row has the “Number” of an earlier row and was not taken: 70001.",
    ]
    with pytest.raises(NotDone, match="does not tell the 9 entries apart: it has"):
        lists.say_columns(suppliers, "suppliers", {"number": "", "terms": "identifier"}, ines.id)
    lists.say_columns(suppliers, "suppliers", {"vat": ""}, ines.id)
    read_list(suppliers, 1)
    assert not StoredLists(suppliers.transaction).traced("suppliers", ["vat_number:XQ20488103"])


def test_the_database_finds_entries_by_tokens_and_by_names_that_are_alike(suppliers: Store) -> None:
    found = StoredLists(suppliers.transaction)
    assert [one.key for one in found.traced("suppliers", ["vat_number:XQ660120515", "name:corrielamps"])] == [
        "70003",
        "70008",
    ]
    written = ["Tarnwik Rope Work Ltd"]
    assert [one.key for one in found.named_like("suppliers", written, 2)] == ["70005"]
    assert [one.key for one in found.named_like("suppliers", written, 2, LEAST_MEANT)] == ["70005", "70006"]
    assert [one.key for one in found.having("suppliers", "vat", "xq 815 550 021")] == ["70004"]
    assert found.entry("suppliers", "70009") is None and found.model("others") is None
    assert found.traced("others", ["x"]) == found.named_like("others", ["x"], 3) == ()


def put_to_use(store: Store, person: SignedIn) -> None:
    """The invoice type looks suppliers up, and the lane reads with it."""
    at = At("supplier-invoice", 0, person.id)
    use_list(store, at, "suppliers", "seller_name", ("number", "terms"), ("seller_iban:iban",), needed=True)
    number = drafts.publish(store, "supplier-invoice", "looks suppliers up", person.id)
    with store.transaction() as session:
        lane = lane_of_key(session, "supplier-invoices")
        lane.settings = lane.settings.model_copy(update={"revision": number})


def entry(view: ReviewView) -> entries.EntryView:
    [shown] = view.entries
    return shown


def test_a_document_is_looked_up_and_a_person_says_otherwise_so_that_it_is_known_next_time(
    suppliers: Store, ines: SignedIn
) -> None:
    put_to_use(suppliers, ines)
    with pytest.raises(NotDone, match="is asked by Supplier invoice"):
        lists.remove_list(suppliers, "suppliers", ines.id)
    assert [one.field for one in list_use(suppliers, "supplier-invoice", "suppliers").columns if one.field] == [
        "Supplier number", "Supplier terms",
    ]  # fmt: skip
    drop(suppliers, ines, "bight-01.tif", "ostersiel-01.pdf")
    read_all(suppliers)
    shown = entry(review_view(suppliers, 1, ines.id))
    assert (shown.label, shown.state, shown.others[0].key) == ("70001 Bight & Bollard Ltd", "settled", "70002")
    assert shown.why.startswith("its VAT number, its bank account, its name")
    assert (card(suppliers, 1, "supplier_terms", ines).value, card(suppliers, 1, "supplier_number", ines).value) == (
        "30", "70001",
    )  # fmt: skip

    review.hold(suppliers, 2, ines.id)
    unknown = entry(review_view(suppliers, 2, ines.id))
    assert (unknown.state, unknown.label) == ("fails", "")
    assert unknown.problem == "Supplier is not known: no entry of “Suppliers” fits."
    with pytest.raises(NotDone, match="Say which entry it is"):
        entries.accept(suppliers, seen(suppliers, 2, ines), "suppliers")
    with pytest.raises(NotDone, match="Several may be meant: 70006 Tarnwick Ropes Ltd; 70005"):
        entries.find(suppliers, seen(suppliers, 2, ines), "suppliers", "Tarnwick")
    with pytest.raises(NotDone, match="No entry is called “Ww”"):
        entries.find(suppliers, seen(suppliers, 2, ines), "suppliers", "Ww")
    entries.choose(suppliers, seen(suppliers, 2, ines), "suppliers", "70008", remember=True)
    chosen = entry(review_view(suppliers, 2, ines.id))
    assert (chosen.label, chosen.state, chosen.why) == ("70008 Corrie Lamps", "settled", "said by a person")
    assert card(suppliers, 2, "supplier_terms", ines).value == "7"
    review.undo_last(suppliers, seen(suppliers, 2, ines))
    assert entry(review_view(suppliers, 2, ines.id)).label == ""
    assert not list_view(suppliers, "suppliers", Wanted()).aliases, "what was undone is not remembered"
    entries.choose(suppliers, seen(suppliers, 2, ines), "suppliers", "70008", remember=True)
    drop(suppliers, ines, "ostersiel-03.tif")
    read_all(suppliers)
    known = entry(review_view(suppliers, 3, ines.id))
    assert (known.label, known.why) == ("70008 Corrie Lamps", "its name")
    [alias] = list_view(suppliers, "suppliers", Wanted()).aliases
    lists.forget_alias(suppliers, "suppliers", alias.id or 0, ines.id)
    assert not list_view(suppliers, "suppliers", Wanted()).aliases


@pytest.fixture
def asked(store: Store, ines: SignedIn, tmp_path: Path) -> Iterator[Desk]:
    """A list that is asked of the ledger."""
    books = ledger.Books(suppliers=[{"number": "1", "name": "Corrie Lamps", "vat": ""}])
    with served(ledger.create_app(tmp_path / "ledger", "the key", books)) as address:
        web = web_of(store, tmp_path, (f"{address}/api",))
        desk = Desk(store, tmp_path / "out", data=tmp_path, web=web)
        lists.add_list(store, "Suppliers", ines.id)
        asking.connect(store, web, tmp_path, "suppliers", f"{address}/api/suppliers", "the key", "hour", ines.id)
        yield desk


def test_an_address_is_asked_and_a_supplier_created_over_there(asked: Desk, ines: SignedIn) -> None:
    store = asked.store
    asking.ask(store, asked.web, 1)
    read_list(store, 1)
    put_to_use(store, ines)
    drop(store, ines, "bight-01.tif")
    read_all(store)
    review.hold(store, 1, ines.id)
    assert entries.create(asked, seen(store, 1, ines), "suppliers") == "Created as 79001."
    made = entry(review_view(store, 1, ines.id))
    assert made.label == "79001 Bight & Bollard Ltd"
    [line] = all_lists(store)
    assert (line.revision, line.rows) == (2, 2)


def test_an_address_that_refuses_or_says_nothing_sensible_leaves_the_list_as_it_is(asked: Desk, ines: SignedIn) -> None:
    store, web = asked.store, asked.web
    asking.ask(store, web, 1)
    read_list(store, 1)
    with pytest.raises(NotDone, match="not among the addresses"):
        asking.connect(store, web, asked.data, "suppliers", "https://elsewhere.example/x", "", "hour", ines.id)
    with store.transaction() as session:
        known = lists.list_of(session, "suppliers")
        assert known.asked and known.next_at
        place = known.asked.address
    asking.connect(store, web, asked.data, "suppliers", place, "no key", "by_hand", ines.id)
    asking.ask(store, web, 1)
    [line] = all_lists(store)
    assert (line.state, line.rows) == ("failed", 1)
    assert line.problem.endswith("answers 401. The revision before holds.")
    asking.connect(
        store, web, asked.data, "suppliers", place.replace("suppliers", "vouchers/columns"), "the key", "day", ines.id
    )
    asking.ask(store, web, 1)
    read_list(store, 1)
    assert "The JSON is no list of records." in all_lists(store)[0].problem


@pytest.mark.parametrize("pause", [0.05, 5.0], ids=["drips", "hangs"])
def test_an_address_that_never_comes_to_an_end_is_left_in_time(
    asked: Desk, ines: SignedIn, monkeypatch: pytest.MonkeyPatch, pause: float
) -> None:
    monkeypatch.setattr(web_client, "WAIT", 0.3)
    monkeypatch.setattr(web_client, "LONGEST", 0.4)

    async def dripping(_: object, __: object, send: Any) -> None:
        await send({"type": "http.response.start", "status": 200, "headers": [(b"content-type", b"application/json")]})
        with suppress(OSError):
            for _ in range(200):
                await send({"type": "http.response.body", "body": b" ", "more_body": True})
                await asyncio.sleep(pause)

    with served(dripping, lifespan="off", timeout_graceful_shutdown=1) as served_at:
        address = served_at.replace("https:", "http:")
        web = web_of(asked.store, asked.data, (address,))
        asking.connect(asked.store, web, asked.data, "suppliers", f"{address}/suppliers", "", "hour", ines.id)
        asking.ask(asked.store, web, 1)
    assert "did not answer in time" in all_lists(asked.store)[0].problem


def test_the_lists_that_a_type_asks_are_told_by_the_document_as_it_was_read(suppliers: Store, ines: SignedIn) -> None:
    put_to_use(suppliers, ines)
    drop(suppliers, ines, "norrhavn-01.pdf")
    read_all(suppliers)
    account = card(suppliers, 1, "seller_iban", ines)
    assert account.state == "fails"
    assert "is not the IBAN of 70003 Norrhavn Bunkers Ltd in “Suppliers”" in account.failed[0].message
    with suppliers.transaction() as session:
        [document] = session.exec(select(Document)).all()
        checks = [check.id for check in type_of(session, document).checks]
    assert json.dumps(checks).count("suppliers") == 2


def test_what_came_before_catches_a_second_number_another_account_and_ten_times_the_usual(
    store: Store, ines: SignedIn
) -> None:
    drop(store, ines, "bight-01.tif", "bight-02.pdf", "bight-03.jpg")
    read_all(store)
    drop(store, ines, "bight-01.tif")
    read_all(store)

    def said(key: str) -> list[str]:
        return [one.message for one in card(store, 4, key, ines).failed]

    assert said("grand_total")[0].startswith("bight-01.tif, which came on")
    review.hold(store, 4, ines.id)
    review.enter(store, seen(store, 4, ines), "invoice_number", "BB-99999")
    [again] = said("invoice_number")
    assert again.startswith("bight-01.tif, which came on") and again.endswith("under the invoice number BB-20320.")
    review.enter(store, seen(store, 4, ines), "seller_iban", "DE89370400440532013000")
    [account] = said("seller_iban")
    assert account == (
        "Supplier IBAN DE89370400440532013000 is new: 3 of 3 earlier documents of Bight & Bollard Ltd had "
        "XQ880000111122223333."
    )
    total = card(store, 1, "grand_total", ines).value
    review.enter(store, seen(store, 4, ines), "grand_total", f"{float(total) * 10:.2f}")
    assert any("is 10 times" in message and "Is the point right?" in message for message in said("grand_total"))


def test_a_paper_that_is_scanned_again_is_named_whatever_was_read_off_it(store: Store, ines: SignedIn) -> None:
    piles = DEMO.parent / "caught-invoices"
    for name in ("as-it-should-be-1.pdf", "as-it-should-be-2.pdf", "same-number.pdf", "scanned-again.tif"):
        arrivals.arrive(store, "supplier-invoices", name, (piles / name).read_bytes(), ines.id, None)
        read_all(store)

    def said(document_id: int) -> list[str]:
        return [one.message for one in review_view(store, document_id, ines.id).page_checks]

    assert [said(number) for number in (1, 2, 3)] == [[], [], []], "other papers of the same supplier are others"
    [again] = said(4)
    assert again.startswith("as-it-should-be-2.pdf, which came on ") and again.endswith(" shows the same paper.")
    review.hold(store, 4, ines.id)
    review.enter(store, seen(store, 4, ines), "invoice_number", "RE-00-0001")
    assert said(4) == [again], "it is the paper that is the same"
    review.waive(store, seen(store, 4, ines), "not_scanned_again")
    assert said(4) == []
