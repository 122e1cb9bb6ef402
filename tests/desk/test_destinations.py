"""Several destinations of one lane: each has what is in force once, in whatever order things happen."""

from __future__ import annotations

import contextlib
import csv
import io
import json
import random
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import httpx
import pytest
from openpyxl import load_workbook
from sqlmodel import select

from tests.core.test_mapping import THERE
from tests.delivery.servers import served
from tests.desk.flow import LANE, drop, read_all, state
from tests.desk.test_corrected_deliveries import black_out, words_in
from zestpail.delivery import Parcel, RecordDestination, Refused, SheetDestination, Web
from zestpail.delivery.columns import Column, Columns
from zestpail.delivery.mapping import Tie, Ties
from zestpail.delivery.repository import RepositoryDestination
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.delivery import deliveries
from zestpail.desk.delivery.outlets import outlets_of
from zestpail.desk.delivery.withdrawal import withdraw_batch, withdrawal_of
from zestpail.desk.documents.context import amend, lane_of_key
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.secrets import keep_secret, web_of
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.documents.transitions import correct, settle, take_back
from zestpail.desk.lanes.destinations import edits, ties
from zestpail.desk.lanes.destinations.view import destination_view, try_destination
from zestpail.desk.lanes.letter import put_in_force
from zestpail.standins import ledger, repository
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import Document, FieldValue, Page, TableRow

KEY = "a key of all systems"
EACH = 8
"""After every so manieth call it is killed; 1 takes a minute, and was as well."""


def tied(**by_column: str) -> Ties:
    told = [{"column": column, "value": {"source": "field", "key": key}} for column, key in by_column.items()]
    return Ties.model_validate({"ties": told})


@dataclass
class Places:
    """Where the lane delivers, and what lies there."""

    root: Path
    ledger: str
    repository: str
    web: Web

    def totals(self) -> dict[str, list[str]]:
        """The total of each thing that lies in each place."""
        head = {"authorization": f"Bearer {KEY}"}
        vouchers = httpx.get(f"{self.ledger}/api/vouchers", headers=head).json()
        page = httpx.get(f"{self.repository}/").text
        rows = list(csv.reader(io.StringIO((self.root / "lists" / "totals.csv").read_text())))
        return {
            "ledger": [f"{one['total']:.2f}" for one in vouchers if one["text"] == "whole"],
            "rows": sorted({f"{one['total']:.2f}" for one in vouchers if one["text"] != "whole"}),
            "repository": [cell for cell in page.replace("</td>", "<td>").split("<td>") if cell.endswith(".25")],
            "list": [row[-1] for row in rows[1:]],
        }

    def misbehave(self, where: str, *coming: str) -> None:
        httpx.post(f"{where}/misbehave", json=list(coming))


@pytest.fixture
def places(store: Store, ines: SignedIn, tmp_path: Path) -> Iterator[Places]:
    with (
        served(ledger.create_app(tmp_path / "ledger", KEY)) as books,
        served(repository.create_app(tmp_path / "repository", "harbour", KEY)) as files,
    ):
        keep_secret(store, tmp_path, "key", KEY, ines.id)
        voucher = {"supplier": "seller_name", "number": "invoice_number", "date": "issue_date", "total": "grand_total"}
        whole = {"column": "text", "value": {"source": "fixed", "always": "whole"}}
        common = {"address": f"{books}/api/vouchers", "secret": "key", "columns": THERE}
        one = tied(**voucher)
        each = tied(**voucher, text="lines/description")
        there = (
            RecordDestination(id="ledger", ties=Ties(ties=(*one.ties, Tie.model_validate(whole))), **common),
            RecordDestination(id="rows", each_row_of="lines", ties=each, **common),
            RepositoryDestination(
                id="repository", address=f"{files}/files/bills", user="harbour", secret="key",
                columns=Columns(plain=(Column(key="total", name="Total"),)), ties=tied(total="grand_total"),
                files=("searchable_pdf", "values_json"),
            ),
            SheetDestination(id="list", folder="lists", file="totals.csv", ties=tied(Total="grand_total"),
                             columns=Columns(plain=(Column(key="Total", name="Total", kind="number"),))),
        )  # fmt: skip
        with store.transaction() as session:
            lane = lane_of_key(session, LANE)
            amend(lane, destinations=(*lane.settings.destinations, *there))
        allowed = [f"{books}/api", f"{files}/files"]
        yield Places(tmp_path / "out", books, files, web_of(store, tmp_path, allowed))


def change(store: Store, ines: SignedIn, key: str, to: str) -> None:
    with store.transaction() as session:
        document = session.get_one(Document, 1)
        value = session.exec(select(FieldValue).where(FieldValue.document_id == 1, FieldValue.key == key)).one()
        value.value = to
        settle(session, document, ines.id)


def killed(*_args: object, **_more: object) -> None:
    raise KeyboardInterrupt


@pytest.mark.parametrize("seed", range(3))
def test_in_whatever_order_things_happen_it_is_everywhere_once(
    store: Store, ines: SignedIn, places: Places, monkeypatch: pytest.MonkeyPatch, seed: int
) -> None:
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    lot, total, hidden = random.Random(seed), "0", set[str]()
    with store.transaction() as session:
        sure = {one.key: one.value for one in session.exec(select(FieldValue).where(FieldValue.document_id == 1))}

    def sends() -> None:
        deliveries.deliver(store, places.root, 1, web=places.web)

    def breaks_off() -> None:
        with monkeypatch.context() as patched, contextlib.suppress(KeyboardInterrupt):
            patched.setattr(deliveries, "note", killed)
            sends()

    def takes_back_or_corrects() -> None:
        nonlocal total
        total = f"{lot.randint(1, 999)}.25"
        with store.transaction() as session:
            document = session.get_one(Document, 1)
            (correct if document.state == DocumentState.DELIVERED else take_back)(session, document, ines.id)
        if lot.random() < 0.5:
            with contextlib.suppress(Refused):
                deliveries.take_out(store, places.root, 1, web=places.web)
        if lot.random() < 0.3:
            word = lot.choice(("Brévanne", "Portuaires", "Facture"))
            black_out(store, ines, word)
            hidden.add(word)
            with store.transaction() as session:  # what reading it anew made doubtful is entered by hand
                for one in session.exec(select(FieldValue).where(FieldValue.document_id == 1)):
                    one.value = sure.get(one.key) or one.value
        change(store, ines, "grand_total", total)

    def changes_the_settings() -> None:
        ties.tie(store, LANE, "ledger", "cost_centre", {"source": "fixed", "always": f"{lot.randint(1, 99)}"}, ines.id)
        put_in_force(store, LANE, ines.id)

    takes_back_or_corrects()
    for _ in range(8):
        for where in (places.ledger, places.repository):
            faults = ["error", "error after storing", "full"] if where == places.repository else [
                "error", "error after storing", "refuse it"]  # fmt: skip
            places.misbehave(where, *(lot.choice(faults) for _ in range(lot.randrange(2))))
        lot.choice((sends, breaks_off, takes_back_or_corrects, changes_the_settings))()
    for where in (places.ledger, places.repository):
        places.misbehave(where)
    if state(store, 1) == DocumentState.STUCK:
        deliveries.deliver_again(store, 1, ines.id)
    assert deliveries.deliver(store, places.root, 1, web=places.web) or state(store, 1) == DocumentState.DELIVERED
    lying = places.totals()
    versions = [one for one in batch_view(store, 1).documents[0].receipts if one.at.endswith("/bills")]
    assert (lying["ledger"], lying["rows"], lying["list"]) == (
        [f"{float(total):.2f}"],
        [f"{float(total):.2f}"],
        [total],
    )
    assert lying["repository"].count(total) == 2, "the PDF and its values, in their newest version"
    assert len(lying["repository"]) == 2 * len(versions)
    for where in (places.root, places.root.parent / "repository"):
        newest = max(where.rglob("*.pdf"), key=lambda path: int(path.stem.partition(" version ")[2] or 1))
        assert not hidden & words_in(newest), "what is blacked out is nowhere in what is in force"


def test_each_destination_goes_its_own_way_and_says_by_which_settings(
    store: Store, ines: SignedIn, places: Places
) -> None:
    batch = drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    places.misbehave(places.ledger, "error")
    assert not deliveries.deliver(store, places.root, 1, web=places.web)
    sent = {row.id: (row.sent, row.later) for row in batch_view(store, batch).destinations}
    assert sent["repository"] == sent["list"] == sent["folder"] == (1, 0) and sent["ledger"] == (0, 1)

    ties.tie(store, LANE, "ledger", "cost_centre", {"source": "fixed", "always": "4100"}, ines.id)
    put_in_force(store, LANE, ines.id)
    assert deliveries.deliver(store, places.root, 1, web=places.web)
    receipts = batch_view(store, batch).documents[0].receipts
    assert sorted(one.settings for one in receipts) == [1, 1, 1, 1, 2], "only what was changed is by other settings"
    head = {"authorization": f"Bearer {KEY}"}
    vouchers = httpx.get(f"{places.ledger}/api/vouchers", headers=head).json()
    assert [one.get("cost_centre") for one in vouchers if one["text"] == "whole"] == ["4100"]
    (pdf,) = (places.root.parent / "repository" / "files").rglob("*.pdf")
    assert json.loads(pdf.with_suffix(".json").read_text())["document"] == "D1"

    seen = withdrawal_of(store, batch)
    assert (seen.documents, len(seen.taken_out), seen.stays) == (1, 5, [])
    assert withdraw_batch(store, batch, ines.id) == 1
    deliveries.take_out(store, places.root, 1, web=places.web)
    lying = places.totals()
    assert lying == {"ledger": [], "rows": [], "repository": [], "list": []} and state(store, 1) == DocumentState.REVIEW
    assert not list(places.root.rglob("*.pdf"))
    with pytest.raises(NotDone, match="Nothing of this batch is delivered"):
        withdraw_batch(store, batch, ines.id)


def test_every_kind_is_set_up_by_what_it_asks(store: Store, ines: SignedIn, places: Places, tmp_path: Path) -> None:
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    outlets = outlets_of(store, places.root, Post(), (), places.web)
    told = {
        "folder": {"folder": "second/one"}, "mail": {"to": "books@example.org", "subject": "Bill {invoice_number}"},
        "hook": {"address": f"{places.ledger}/api/vouchers", "secret": "sealed"},
        "sheet": {"folder": "lists", "file": "lines.xlsx", "each_row_of": "lines"},
    }  # fmt: skip
    for kind, entered in told.items():
        made = edits.add(store, outlets, tmp_path, LANE, kind, entered, ines.id)
        seen = destination_view(store, LANE, made)
        shown = {one.asked.key: one.value for one in seen.entries}
        assert {**shown, **entered} == {**shown, **({"secret": "sealed"} if kind == "hook" else {})}
        assert "sealed" not in shown.values()
        assert (seen.files is not None, seen.mapping is not None) == (kind in ("folder", "mail"), kind == "sheet")
    for kind, entered, why in (
        ("folder", {"folder": "../../elsewhere"}, "lies outside the folder for deliveries"),
        ("folder", {"folder": "/etc"}, "not among the folders"), ("folder", {}, "“Folder” is needed"),
        ("sheet", {"folder": "lists", "file": "lines.txt"}, "“File” cannot be that"),
        ("hook", {"address": "http://10.0.0.1/x"}, "not among the addresses"),
    ):  # fmt: skip
        with pytest.raises(NotDone, match=why):
            edits.add(store, outlets, tmp_path, LANE, kind, entered, ines.id)
    with pytest.raises(Missing, match="no such kind"):
        edits.add(store, outlets, tmp_path, LANE, "lane", {}, ines.id)

    edits.set_files(
        store, LANE, "folder-2", ["alto", "original", "searchable_pdf"], "{Supplier}/{Invoice number}", ines.id
    )
    files = destination_view(store, LANE, "folder-2").files
    assert files and [name.rpartition(".")[2] for name in files.names] == ["pdf", "pdf", "xml"]
    assert files.names[1].endswith("F2600178 original.pdf") and files.naming == "{Supplier}/{Invoice number}"
    with pytest.raises(NotDone, match="at least one form"):
        edits.set_files(store, LANE, "folder-2", ["no such form"], "", ines.id)
    ties.add_column(store, LANE, "sheet", "Net/Line", "number", ines.id)
    ties.tie(store, LANE, "sheet", "Net|Line", {"source": "field", "key": "lines/line_total"}, ines.id)
    tried = try_destination(store, outlets, LANE, "sheet", 1)
    assert tried.sent.count("Net/Line: ") == 5 and tried.removed == ("lists/lines.xlsx",)
    put_in_force(store, LANE, ines.id)
    assert deliveries.deliver(store, places.root, 1, outlets.post, web=places.web) is False, "the ledger takes no calls"
    (parcel,) = outlets.post.sent  # type: ignore[attr-defined]
    assert (parcel.subject, parcel.files[0][0][-4:]) == ("Bill F2600178", ".pdf")
    assert len(list((places.root / "second").rglob("*.*"))) == 3
    book = load_workbook(places.root / "lists" / "lines.xlsx").worksheets[0]
    assert [cell.value for cell in book["A"]] == ["Document", *["D1"] * 5]


class Post:
    """Keeps what it is given."""

    def __init__(self) -> None:
        self.sent: list[Parcel] = []

    def send(self, parcel: Parcel) -> None:
        self.sent.append(parcel)


class Dying:
    """Speaks to other machines, and is killed right after its so-and-so-manieth call, before anybody hears of it."""

    def __init__(self, web: Web, after: int) -> None:
        self._web, self._left, self.house = web, after, web.house

    def call(self, *given: object, **named: object) -> object:
        answer = self._web.call(*given, **named)  # type: ignore[arg-type]
        self._left -= 1
        if not self._left:
            raise KeyboardInterrupt
        return answer

    def permit(self, address: str) -> None:
        self._web.permit(address)

    def secret(self, name: str) -> str:
        return self._web.secret(name)


def alike(store: Store, many: int) -> list[int]:
    """Documents as the first one, but for their totals; their numbers."""
    made = []
    with store.transaction() as session:
        first, page = session.get_one(Document, 1), session.exec(select(Page)).one()
        values = list(session.exec(select(FieldValue).where(FieldValue.document_id == 1)))
        rows = list(session.exec(select(TableRow).where(TableRow.document_id == 1)))
        for at in range(many):
            document = Document(batch_id=first.batch_id, file_id=1, revision_id=first.revision_id, state=first.state)
            session.add(document)
            session.flush()
            of = {"document_id": document.id}
            session.add(Page(**{**page.model_dump(exclude={"id", "edits", "notes"}), **of}))
            for value in values:
                own = {"value": f"{1000 + at}.25"} if value.key == "grand_total" else {}
                session.add(FieldValue(**{**value.model_dump(exclude={"id"}), **of, **own}))
            for row in rows:
                session.add(TableRow(**{**row.model_dump(exclude={"id"}), **of}))
            made.append(document.id or 0)
    return made


def test_killed_after_any_call_it_is_everywhere_once(store: Store, ines: SignedIn, places: Places) -> None:
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    finished, made = 0, alike(store, 60)
    for at, number in enumerate(made):
        after = 1 + EACH * at
        try:
            deliveries.deliver(store, places.root, number, web=Dying(places.web, after))  # type: ignore[arg-type]
            finished += 1
        except KeyboardInterrupt:
            assert state(store, number) == DocumentState.SETTLED
            assert deliveries.deliver(store, places.root, number, web=places.web)
        if finished:
            break
    assert after > 20, "so many calls were made"
    wanted = [f"{1000 + one}.25" for one in range(at + 1)]
    lying = places.totals()
    assert sorted(lying["ledger"]) == sorted(lying["list"]) == sorted(lying["rows"]) == wanted
    assert sorted(lying["repository"]) == sorted(wanted * 2), "a PDF and its values of each"
    files = [path for path in (places.root.parent / "repository" / "files").rglob("*") if path.is_file()]
    assert len(files) == 2 * len(wanted) and not [path for path in files if path.name.startswith("arriving")]
