"""A database and document types of November 2026, made by the program as it then was: nothing of them is lost."""

from __future__ import annotations

import subprocess
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any, get_args

import psycopg
import pytest
from sqlmodel import select

from tests.desk.flow import card, jobs, seen, state
from zestpail.core.checks import CheckDigits, IfThen, Length, OneOf, Required
from zestpail.core.document_type import DocumentType, load_type
from zestpail.core.finders import BesideLabel, Expression, FixedPlace, InBarcode, Section
from zestpail.core.reading.preparation.cleaning import Cleaning
from zestpail.core.separation import EveryPages
from zestpail.core.tables import Grid
from zestpail.delivery import FolderPlan
from zestpail.desk.batches import page_moves
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.batches.ribbon import ribbon_view
from zestpail.desk.documents.audit import ACT_WORDS, Act
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.remembered_dividers import remembered_grids
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.review import desk
from zestpail.desk.review.view import review_view
from zestpail.desk.types import drafts
from zestpail.desk.types.bench.view import bench_view
from zestpail.store import Store, open_store
from zestpail.store.migrate import migrate
from zestpail.store.states import DeliveryState
from zestpail.store.tables import Delivery, Document, Lane

INES = SignedIn(1, "Ines Okafor")
KEY = "fuel-delivery-note"
SAVED = Path(__file__).parent / "files" / "before-0009.zip"


@pytest.fixture
def old(database: str, tmp_path: Path) -> Iterator[Store]:
    """That database, brought up to date, with the readings of its pages."""
    address = database.rsplit("/", 1)[0]
    with psycopg.connect(database, autocommit=True) as connection:
        connection.execute("DROP DATABASE IF EXISTS of_before")
        connection.execute("CREATE DATABASE of_before")
    with zipfile.ZipFile(SAVED) as saved:
        saved.extractall(tmp_path)
    dump = tmp_path / "db.sql"  # newer clients alone know these two commands
    lines = [line for line in dump.read_text().splitlines() if not line.startswith((r"\restrict", r"\unrestrict"))]
    dump.write_text("\n".join(lines))
    command = ["psql", "-q", "-v", "ON_ERROR_STOP=1", "-f", str(dump), f"{address}/of_before"]
    subprocess.run(command, check=True, capture_output=True)
    migrate(f"{address}/of_before")
    opened = open_store(f"{address}/of_before", str(tmp_path / "blobs"))
    yield opened
    opened.engine.dispose()


def test_lanes_keep_their_letters(old: Store) -> None:
    with old.transaction() as session:
        lanes = {lane.key: lane for lane in session.exec(select(Lane))}
        invoices, statements, piles = (
            lanes[key].settings for key in ("supplier-invoices", "supplier-statements", "piles")
        )
        draft = lanes["piles"].draft
    assert [one.id for one in invoices.destinations] == ["folder", "mail"]
    assert invoices.folder and statements.next_lane and draft
    (lines,) = invoices.folder.tables
    assert (invoices.folder.folder, lines.table, lines.way, lines.leave_out) == (
        "supplier-invoices", "lines", "own_sheet", ("unit",),
    )  # fmt: skip
    assert (invoices.may_mail("a@quillon.example"), invoices.may_mail("a@heron.example")) == (True, False)
    assert statements.next_lane.lane == "supplier-invoices"
    assert (piles.separation.documents, piles.separation.goes_on) == (EveryPages(pages=1), "after_look")
    assert (piles.cleaning, piles.notes) == (Cleaning(borders="cut_off", holes="filled"), "burnt_in")
    assert (piles.review_below, draft.review_below) == (0.9, 0.7)


def test_a_document_in_review_is_gone_on_with_and_all_of_it_undone(old: Store) -> None:
    desk.hold(old, 1, INES.id)
    assert card(old, 1, "invoice_number", INES).value == "BB-99"
    assert card(old, 1, "seller_name", INES).value == "Bight & Bollard Ltd", "what was undone stays undone"
    assert card(old, 1, "grand_total", INES).failed == [], "what was kept as printed is not asked again"
    cell = review_view(old, 1, INES.id).tables[0].lines[0].cells[1]
    assert cell.shown == "A typed description"
    for _ in range(3):
        desk.undo_last(old, seen(old, 1, INES))
    assert card(old, 1, "invoice_number", INES).value == "BB-20983"
    assert [one.check for one in card(old, 1, "grand_total", INES).failed] == ["sum:net_total+tax_total=grand_total"]
    assert review_view(old, 1, INES.id).tables[0].lines[0].cells[1].shown.startswith("Tarpaulin")
    with pytest.raises(NotDone, match="nothing to undo"):
        desk.undo_last(old, seen(old, 1, INES))


def test_deliveries_keep_their_receipts_and_go_on_with_what_was_planned(old: Store) -> None:
    view = batch_view(old, 1)
    assert ACT_WORDS.keys() == set(get_args(Act))
    assert view.trail and {row.what for row in view.trail} <= ACT_WORDS.keys()
    assert any(row.words == "page read" and row.more.startswith("page ") for row in view.trail)
    receipts = {document.id: document.receipts for document in view.documents}
    assert [one.file for number in (2, 3) for one in receipts[number]] == [
        "supplier-invoices/2026-08/Ateliers Portuaires de Brévanne SARL F2600178.pdf",
        "supplier-invoices/2026-01/Ostersiel Elektro AG 771671.pdf",
    ]
    assert receipts[2][0].tables[0].rows == 5
    assert view.control.message == "4 of 3 documents; Total makes 46,017.46, 45,017.46 more than 1,000.00"
    assert [state(old, number) for number in (1, 2, 3, 4)] == ["review", "delivered", "delivered", "stuck"]
    with old.transaction() as session:
        stuck = session.exec(select(Delivery).where(Delivery.document_id == 4)).one()
        assert (stuck.destination, stuck.state, stuck.attempts) == ("folder", DeliveryState.FAILED, 1)
        assert isinstance(stuck.plan, FolderPlan)
        assert stuck.plan.rows[0].rows[0][-1] == "11872.63"
        style = session.get_one(Document, 4).style
        assert style and style.decimal_mark == ","
    assert {"extract", "split"} <= {name for name, _ in jobs(old)}, "what waited to be done is done"
    assert not {"capture", "separate"} & {name for name, _ in jobs(old)}


def test_pages_lie_as_they_were_laid_and_go_back(old: Store) -> None:
    def lie() -> list[list[int]]:
        (stack,) = ribbon_view(old, 2).stacks
        return [[tile.id for tile in stretch.tiles] for stretch in stack.stretches]

    assert lie() == [[5, 6]]
    assert [page_moves.undo(old, 2, INES.id) for _ in range(4)] == [
        "changed “holes filled” on page 1", "turned page 2", "pinned a note on page 1", "joined at page 2",
    ]  # fmt: skip
    assert lie() == [[5], [6]]


def test_a_type_being_set_up(old: Store) -> None:
    doc_type = drafts.draft_type(old, KEY)
    _as_it_was_set(doc_type)
    assert bench_view(old, KEY, 1, "ticket_no").strip[0].wanted == "T-1"
    assert [row.number for row in drafts.revisions(old, KEY)] == [1]
    assert drafts.undo(old, KEY) == "Ticket is T-1"
    assert drafts.undo(old, KEY).startswith("added the check “If ticket is there")
    assert len(drafts.draft_type(old, KEY).checks) == 4
    with old.transaction() as session:
        grids = remembered_grids(session, "supplier-invoice")
    assert grids == {
        "lines": [Grid(header="Pos Description Amount", left=40.0, dividers=(50.0,), columns=("", "description"))]
    }


def test_type_files_of_then_are_read(tmp_path: Path) -> None:
    with zipfile.ZipFile(SAVED) as saved:
        saved.extractall(tmp_path)
    _as_it_was_set(load_type(str(tmp_path / "fuel-note.type.json")))
    then = load_type(str(tmp_path / "supplier-statement.type.json"))
    assert _without_what_came_later(load_type("supplier-statement")) == _without_what_came_later(then)
    assert then.revision == 1


def _without_what_came_later(doc_type: DocumentType) -> dict[str, Any]:
    """The type as data, without its revision, usual words and address blocks, which it did not know then."""
    body = doc_type.model_dump(mode="json", exclude={"revision"})
    for field in body["fields"]:
        field["finders"] = [
            {name: value for name, value in finder.items() if name != "meanings"}
            for finder in field["finders"]
            if finder["finder"] != "party"
        ]
    for column in (column for table in body["tables"] for column in table["columns"]):
        del column["meanings"]
    return body


def _as_it_was_set(doc_type: DocumentType) -> None:
    ticket, zone = doc_type.fields
    assert [type(finder) for finder in ticket.finders] == [BesideLabel, Expression, InBarcode, Section]
    beside = ticket.finders[0]
    assert isinstance(beside, BesideLabel)
    assert (beside.directions, beside.up_to) == (("right", "below"), ("ruled_line",))
    assert (ticket.tries, ticket.export_as, ticket.within and ticket.within.pages) == ("in_order", "upper", "first")
    assert isinstance(zone.finders[0], FixedPlace)
    assert zone.finders[0].held_to == ("L1",)
    assert [type(check) for check in doc_type.checks] == [Required, Length, OneOf, CheckDigits, IfThen]
    assert doc_type.checks[4].sentence(doc_type.all_names) == "If ticket is there, then ticket no is x."
    assert (doc_type.landmarks[0].landmark, doc_type.landmarks[0].alike) == ("printed_words", 0.78)
