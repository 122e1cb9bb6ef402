"""The batch sheet and the wall: many cells at once, two people on them, and what goes out of it."""

from __future__ import annotations

import io

import pytest
from openpyxl import load_workbook

from tests.desk.flow import card, drop, read_all, state
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.lanes.letter import change_letter
from zestpail.desk.lanes.letter_form import LetterForm
from zestpail.desk.quality.aims import aims_of, set_aim
from zestpail.desk.review import desk
from zestpail.desk.review.batch_sheet import (
    Scope,
    SheetRow,
    cell_view,
    exported,
    sheet_again,
    sheet_of,
)
from zestpail.desk.review.sheet_changes import CellChange, change_cells, settle_rows, undo_rows
from zestpail.desk.review.wall import wall_of
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import Document


@pytest.fixture
def batch(store: Store, ines: SignedIn) -> int:
    """Two that wait for review, and one that went through."""
    number = drop(store, ines, "bight-04.pdf", "norrhavn-03.tif", "brevanne-01.pdf")
    read_all(store)
    return number


def rows(store: Store, batch: int, person: SignedIn) -> dict[str, SheetRow]:
    return {row.file: row for row in sheet_of(store, Scope(batch=batch), person.id).rows}


def change(row: SheetRow, key: str, text: str | None) -> CellChange:
    return CellChange(document=row.id, version=row.version, key=key, text=text)


def test_cells_are_changed_together_and_each_document_is_one_step_back(
    store: Store, ines: SignedIn, batch: int
) -> None:
    seen = rows(store, batch, ines)
    swapped, faint, through = seen["bight-04.pdf"], seen["norrhavn-03.tif"], seen["brevanne-01.pdf"]
    assert (swapped.open, through.open, through.words) == (True, False, "settled")
    assert (swapped.cells["grand_total"].state, swapped.cells["grand_total"].shown) == ("f", "1,429.20")
    assert swapped.cells["grand_total"].kept == "1429.20" and swapped.cells["buyer_name"].kept == ""
    done = change_cells(store, [
        change(swapped, "grand_total", "1,492.20"), change(swapped, "order_reference", "QHB-1"),
        change(faint, "issue_date", "31.02.2026"), change(faint, "order_reference", ""),
        change(through, "order_reference", "QHB-2"), change(faint, "no_such", "x"),
    ], ines.id)  # fmt: skip
    assert [(one.document, one.key, one.problem.split(".")[0]) for one in done.refused] == [
        (faint.id, "issue_date", "“31"), (faint.id, "no_such", "This document type has no such field"),
        (through.id, "order_reference", "This document is settled; it cannot be changed now"),
    ]  # fmt: skip
    now = rows(store, batch, ines)
    assert now["bight-04.pdf"].cells["grand_total"].state == "s"
    assert now["norrhavn-03.tif"].cells["order_reference"].shown == ""
    with store.transaction() as session:
        assert session.get_one(Document, swapped.id).holder_id is None, "nobody holds what was changed in passing"

    undo_rows(store, {swapped.id: now["bight-04.pdf"].version}, ines.id)
    back = rows(store, batch, ines)["bight-04.pdf"]
    assert (back.cells["grand_total"].shown, back.cells["order_reference"].shown) == (
        "1,429.20", swapped.cells["order_reference"].shown,
    )  # fmt: skip


def test_whoever_came_first_has_won_and_the_other_sees_it(
    store: Store, ines: SignedIn, tomas: SignedIn, batch: int
) -> None:
    seen = rows(store, batch, ines)["bight-04.pdf"]
    change_cells(store, [change(seen, "order_reference", "QHB-1")], tomas.id)
    late = change_cells(store, [change(seen, "order_reference", "QHB-2")], ines.id)
    assert "changed in the meantime" in late.refused[0].problem
    assert late.rows[0].cells["order_reference"].shown == "QHB-1"
    whole = sheet_of(store, Scope(batch=batch), ines.id).rows
    versions = {row.id: row.version for row in whole}
    [fresh] = sheet_again(store, Scope(batch=batch), {**versions, seen.id: seen.version}, ines.id).rows
    assert fresh.id == seen.id and sheet_again(store, Scope(batch=batch), versions, ines.id).rows == []
    waiting = sheet_again(store, Scope(), {whole[2].id: 0}, ines.id).rows
    assert len(waiting) == 3, "new ones, and one that waits no more"
    desk.hold(store, seen.id, tomas.id)
    held = rows(store, batch, ines)["bight-04.pdf"]
    assert (held.open, held.holder) == (False, "Tomas Brandt")
    refused = change_cells(store, [change(held, "order_reference", "QHB-3")], ines.id).refused
    assert refused[0].problem == "Tomas Brandt is working on this document."
    with pytest.raises(NotDone, match="At most 400 cells"):
        change_cells(store, [change(held, "order_reference", "x")] * 401, ines.id)


def test_finished_rows_are_settled_and_others_say_what_is_left(store: Store, ines: SignedIn, batch: int) -> None:
    seen = rows(store, batch, ines)
    swapped, faint = seen["bight-04.pdf"], seen["norrhavn-03.tif"]
    fresh = change_cells(store, [change(swapped, "grand_total", "1,492.20")], ines.id).rows[0]
    doubtful = [key for key, one in fresh.cells.items() if one.state == "d"]
    fresh = change_cells(store, [change(fresh, key, None) for key in doubtful], ines.id).rows[0] if doubtful else fresh
    done = settle_rows(store, {fresh.id: fresh.version, faint.id: faint.version}, ines.id)
    assert state(store, swapped.id) == DocumentState.SETTLED
    assert [one.document for one in done.refused] == [faint.id] and "Still open: " in done.refused[0].problem
    assert [row.file for row in sheet_of(store, Scope(lane="supplier-invoices"), ines.id).rows] == ["norrhavn-03.tif"]


def test_a_cell_looked_at_closely_and_the_wall_of_its_field(store: Store, ines: SignedIn, batch: int) -> None:
    seen = rows(store, batch, ines)["bight-04.pdf"]
    close = cell_view(store, seen.id, "grand_total")
    assert (close.shown, close.page, bool(close.box)) == ("1,429.20", 1, True)
    assert close.failing[0].endswith("Two figures look swapped.")
    wall = wall_of(store, sheet_of(store, Scope(batch=batch), ines.id), "grand_total")
    assert [(brick.file, brick.shown, brick.fails, bool(brick.snippet)) for brick in wall.bricks] == [
        ("bight-04.pdf", "1,429.20", True, True)
    ]
    assert wall_of(store, sheet_of(store, Scope(batch=batch), ines.id), "").bricks, "the most doubtful field by itself"
    assert card(store, seen.id, "grand_total", ines).state == "fails"


def test_what_is_seen_goes_out_in_its_order(store: Store, ines: SignedIn, batch: int) -> None:
    seen = rows(store, batch, ines)
    ids = [seen["norrhavn-03.tif"].id, seen["bight-04.pdf"].id]
    book = load_workbook(io.BytesIO(exported(store, ids, ["grand_total", "seller_name", "gone"], "xlsx")))
    table = [[str(one.value) for one in row] for row in book.worksheets[0].iter_rows()]
    assert table[0] == ["Document", "File", "State", "Total", "Supplier"]
    assert [row[1] for row in table[1:]] == ["norrhavn-03.tif", "bight-04.pdf"] and table[2][3] == "1429.2"
    text = exported(store, ids[1:], ["grand_total"], "csv").decode("utf-8-sig")
    assert text.splitlines() == ["Document,File,State,Total", f"D{ids[1]},bight-04.pdf,in review,1429.20"]


def test_review_set_by_its_aim_from_what_people_changed(store: Store, ines: SignedIn, batch: int) -> None:
    assert aims_of(store, "supplier-invoices").reviewed == 0
    seen = rows(store, batch, ines)["bight-04.pdf"]
    fresh = change_cells(store, [change(seen, "grand_total", "1,492.20")], ines.id).rows[0]
    settle_rows(store, {fresh.id: fresh.version}, ines.id)
    view = aims_of(store, "supplier-invoices", 100)
    assert (view.reviewed, view.now) == (12, (0.9, 0.6)) and view.aims[0].guess
    assert [one.wrong_in_thousand for one in view.aims] == [1, 2, 5, 10, 20, 50, 100]
    set_aim(store, "supplier-invoices", 100, ines.id)
    now, expected = aims_of(store, "supplier-invoices").now, view.aims[-1].threshold
    assert now == (expected, expected), "it is in the draft, to be activated"
    assert aims_of(store, "supplier-invoices").aim == 100
    told = LetterForm(review_below=round(100 * expected), review_others_below=round(100 * expected))
    change_letter(store, "supplier-invoices", "review", told, ines)
    assert aims_of(store, "supplier-invoices").now == now, "the form says the same in whole per cents"
    change_letter(store, "supplier-invoices", "review", LetterForm(review_below=97), ines)
    assert (aims_of(store, "supplier-invoices").aim, aims_of(store, "supplier-invoices").now[0]) == (None, 0.97)
