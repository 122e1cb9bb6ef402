"""Rows of tables kept with a document: gestures, all taken back; dividers remembered; what is delivered."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.desk.flow import deliver_all, drop, read_all, seen
from zestpail.delivery import TableExport
from zestpail.desk.delivery.table_export import rows_previews, set_table_export
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.remembered_dividers import remembered_grids
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.quality.rows import cells_kept
from zestpail.desk.review import desk, table_edits
from zestpail.desk.review.table_dividers import move_divider
from zestpail.desk.review.table_view import LineView, TableView
from zestpail.desk.review.view import review_view
from zestpail.store import Store


@pytest.fixture
def swapped(store: Store, ines: SignedIn) -> int:
    """An invoice with three line items that waits in Ines's hands."""
    drop(store, ines, "bight-04.pdf")
    read_all(store)
    desk.hold(store, 1, ines.id)
    return 1


def table(store: Store, person: SignedIn, document: int = 1) -> TableView:
    return review_view(store, document, person.id).tables[0]


def shown(store: Store, person: SignedIn, column: str) -> list[str]:
    return [next(c.shown for c in line.cells if c.key == column) for line in table(store, person).lines]


def line(store: Store, person: SignedIn, number: int) -> LineView:
    return table(store, person).lines[number - 1]


def test_gestures_on_rows_and_all_of_them_taken_back(store: Store, ines: SignedIn, swapped: int) -> None:
    def at() -> desk.Seen:
        return seen(store, swapped, ines)

    before = [[(c.key, c.shown) for c in one.cells] for one in table(store, ines).lines]
    assert shown(store, ines, "line_total") == ["441.00", "384.00", "418.50"]
    second = line(store, ines, 2).id
    with pytest.raises(NotDone, match="“a lot” is not an amount"):
        table_edits.enter_cell(store, at(), second, "line_total", "a lot")
    table_edits.enter_cell(store, at(), second, "line_total", "390")
    assert line(store, ines, 2).why == "quantity × unit price ≠ line total"
    with pytest.raises(NotDone, match="row 2 of Line items"):
        desk.done(store, at())
    table_edits.accept_row(store, at(), second)
    table_edits.enter_cell(store, at(), second, "unit", "pcs")
    table_edits.fill_down(store, at(), second, "unit")
    assert shown(store, ines, "unit") == ["", "pcs", "pcs"]
    table_edits.split_row(store, at(), line(store, ines, 1).id)
    assert shown(store, ines, "description")[:2] == ["Tarpaulin 6 x 8 m", "eyelets every 50 cm"]
    assert line(store, ines, 2).state == "doubtful", "an amount is lacking that must be there"
    table_edits.join_rows(store, at(), line(store, ines, 1).id)
    table_edits.move_cell(store, at(), second, "quantity", 1)
    assert line(store, ines, 2).cells[3].shown == "6"
    table_edits.delete_row(store, at(), line(store, ines, 3).id)
    table_edits.add_row(store, at(), "lines", line(store, ines, 2).id)
    assert table(store, ines).total == 3
    with pytest.raises(NotDone, match="no row after this one"):
        table_edits.join_rows(store, at(), line(store, ines, 3).id)
    with pytest.raises(Missing, match="no such row"):
        table_edits.accept_row(store, at(), 4711)
    for _ in range(9):
        desk.undo_last(store, at())
    assert [[(c.key, c.shown) for c in one.cells] for one in table(store, ines).lines] == before


def test_cells_that_reviewers_changed_are_counted(store: Store, ines: SignedIn, swapped: int) -> None:
    with store.transaction() as session:
        before = cells_kept(session, [swapped])["lines"]
    assert before.right == before.found == before.there > 9
    second = line(store, ines, 2).id
    table_edits.enter_cell(store, seen(store, swapped, ines), second, "line_total", "390")
    table_edits.enter_cell(store, seen(store, swapped, ines), second, "line_total", "391")
    table_edits.delete_row(store, seen(store, swapped, ines), line(store, ines, 3).id)
    with store.transaction() as session:
        after = cells_kept(session, [swapped])["lines"]
    lost = before.there - after.there
    assert lost >= 3
    assert (after.found, after.right) == (before.found, after.there - 1), "one cell was typed, twice"
    for _ in range(3):
        desk.undo_last(store, seen(store, swapped, ines))
    with store.transaction() as session:
        assert cells_kept(session, [swapped])["lines"] == before, "what was taken back was no change"


def test_dividers_moved_once_hold_for_the_next_document_of_the_layout(
    store: Store, ines: SignedIn, swapped: int
) -> None:
    divider = next(d for d in table(store, ines).dividers if d.between == "Item code and Description")
    at = seen(store, swapped, ines)
    message = move_divider(store, at, "lines", divider.page, divider.at, divider.x + 30)
    assert message.startswith("3 rows were read anew")
    moved = next(d.x for d in table(store, ines).dividers if d.between == "Item code and Description")
    assert moved == pytest.approx(divider.x + 30, abs=0.2)
    drop(store, ines, "bight-01.tif")
    read_all(store)
    places = {d.between: d.x for d in table(store, ines, 2).dividers}
    assert places["Item code and Description"] == pytest.approx(moved, abs=3), "scans lie a little apart"
    with store.transaction() as session:
        assert remembered_grids(session, "supplier-invoice")["lines"][0].columns[0] == "item_code"
    desk.undo_last(store, seen(store, swapped, ines))
    assert shown(store, ines, "line_total") == ["441.00", "384.00", "418.50"]
    assert next(d.x for d in table(store, ines).dividers if d.between == "Item code and Description") == divider.x
    with store.transaction() as session:
        assert remembered_grids(session, "supplier-invoice") == {}, "what is taken back is not remembered either"


def test_what_is_kept_as_printed_is_not_asked_row_by_row(store: Store, ines: SignedIn, swapped: int) -> None:
    def at() -> desk.Seen:
        return seen(store, swapped, ines)

    for number, total in ((1, "441.10"), (2, "384.20")):
        table_edits.enter_cell(store, at(), line(store, ines, number).id, "line_total", total)
    assert [one.state for one in table(store, ines).lines] == ["fails", "fails", "settled"]
    view = review_view(store, swapped, ines.id)
    check = next(one.check for one in view.table_checks if "row" in one.message)
    desk.waive(store, at(), check)
    assert [one.state for one in table(store, ines).lines] == ["settled"] * 3


def test_what_was_corrected_stays_where_a_divider_is_moved(store: Store, ines: SignedIn, swapped: int) -> None:
    def at() -> desk.Seen:
        return seen(store, swapped, ines)

    table_edits.enter_cell(store, at(), line(store, ines, 2).id, "line_total", "384.25")
    table_edits.add_row(store, at(), "lines", line(store, ines, 2).id)
    table_edits.enter_cell(store, at(), line(store, ines, 3).id, "description", "Carriage")
    divider = next(d for d in table(store, ines).dividers if d.between == "Item code and Description")
    move_divider(store, at(), "lines", divider.page, divider.at, divider.x + 30)
    assert shown(store, ines, "line_total") == ["441.00", "384.25", "", "418.50"]
    assert shown(store, ines, "description")[2] == "Carriage"
    desk.undo_last(store, at())
    assert shown(store, ines, "line_total") == ["441.00", "384.25", "", "418.50"]


def test_rows_are_delivered_whole_unless_somebody_says_otherwise(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    drop(store, ines, "moewenbek-01.pdf")
    read_all(store)
    (preview,) = rows_previews(store, "supplier-invoices")
    assert preview.headings[-6:] == ["Item code", "Description", "Quantity", "Unit", "Unit price", "Line total"]
    assert (preview.left_out, preview.total, preview.of) == ([], 4, "D1")
    out = TableExport(table="lines", way="own_sheet", repeat=("invoice_number",), leave_out=("unit",))
    set_table_export(store, "supplier-invoices", out, ines.id)
    (preview,) = rows_previews(store, "supplier-invoices")
    assert preview.left_out == ["Unit"], "and the preview says so"
    assert deliver_all(store, tmp_path) == [True]
    assert deliver_all(store, tmp_path) == [False]
    (sheet,) = (tmp_path / "supplier-invoices").glob("*/* lines.csv")
    rows = sheet.read_text("utf-8").splitlines()
    assert rows[0] == "Document,Invoice number,Item code,Description,Quantity,Unit price,Line total"
    assert sum(row.startswith("D1,") for row in rows) == 4
    with pytest.raises(Missing, match="no such table"):
        set_table_export(store, "supplier-invoices", TableExport(table="none"), ines.id)
