"""Rows added to spreadsheets that others write in: theirs stay, ours are there once."""

from __future__ import annotations

import csv
import io
from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from odfdo import Document
from openpyxl import Workbook, load_workbook

from zestpail.core.writing.growing_sheets import Cell, CellKind, headings_of, put_rows

HEADINGS: list[tuple[str, CellKind]] = [("Account", "text"), ("Balance", "number"), ("On", "date")]
ROWS = st.lists(st.tuples(st.text(max_size=9), st.integers(0, 99)), max_size=3)
ROW = ("=cmd|calc", 1240.5, "2026-11-03")


def cells(name: str, data: bytes) -> list[list[object]]:
    """As other programs read them."""
    if name.endswith(".csv"):
        return [list(row) for row in csv.reader(io.StringIO(data.decode("utf-8-sig")))]
    if name.endswith(".xlsx"):
        return [list(row) for row in load_workbook(io.BytesIO(data)).worksheets[0].iter_rows(values_only=True)]
    return [list(row) for row in Document(io.BytesIO(data)).body.get_table(0).get_values()]


@pytest.mark.parametrize("name", ["list.csv", "list.xlsx", "list.ods"])
def test_a_list_is_begun_grows_and_shrinks(name: str) -> None:
    first = put_rows(name, b"", HEADINGS, "D1", [ROW])
    assert cells(name, first)[0] == ["Document", "Account", "Balance", "On"]
    both = put_rows(name, first, HEADINGS, "D2", [("A-2", 2, None), ("A-3", 3, None)])
    assert cells(name, put_rows(name, both, HEADINGS, "D2", [("A-2", 2, None), ("A-3", 3, None)])) == cells(name, both)
    assert headings_of(name, both) == HEADINGS if not name.endswith(".csv") else [*HEADINGS[:2], ("On", "text")]
    less = cells(name, put_rows(name, put_rows(name, both, HEADINGS, "D2", [("A-9", 9, None)]), HEADINGS, "D1", []))
    assert [row[:2] for row in less] == [["Document", "Account"], ["D2", "A-9"]]
    row = cells(name, first)[1]
    if name.endswith(".csv"):
        assert row == ["D1", "'=cmd|calc", "1240.5", "2026-11-03"]
    else:
        when = row[3] if isinstance(row[3], date) and not hasattr(row[3], "date") else row[3].date()  # type: ignore[union-attr]
        assert (row[1], Decimal(str(row[2])), when) == ("=cmd|calc", Decimal("1240.5"), date(2026, 11, 3))
    assert put_rows(name, b"", HEADINGS, "D1", []) == b""


def test_a_book_of_somebody_else_keeps_what_it_has() -> None:
    book = Workbook()
    sheet = book.worksheets[0]
    for row in (["On", "Remark", "Balance", "Twice"], [date(2026, 1, 2), "by hand", 10, "=C2*2"]):
        sheet.append(row)
    book.create_sheet("Notes")["A1"] = "keep"
    out = io.BytesIO()
    book.save(out)
    assert headings_of("b.xlsx", out.getvalue()) == [
        ("On", "date"), ("Remark", "text"), ("Balance", "number"), ("Twice", "text")
    ]  # fmt: skip
    after = put_rows("b.xlsx", out.getvalue(), [("Balance", "number"), ("Account", "text")], "D1", [(5, "A-1")])
    again = load_workbook(io.BytesIO(after))
    assert [cell.value for cell in again.worksheets[0][2]][1:4] == ["by hand", 10, "=C2*2"]
    assert [cell.value for cell in again.worksheets[0][3]] == [None, None, 5, None, "D1", "A-1"]
    assert again["Notes"]["A1"].value == "keep"


def test_separators_and_marks_of_a_csv_stay() -> None:
    before = "\ufeffOn;Balance\r\n02.01.2026;10\r\n".encode()
    after = put_rows("b.csv", before, [("Balance", "number")], "D1", [(5,)])
    assert after.decode() == "\ufeffOn;Balance;Document\r\n02.01.2026;10;\r\n;5;D1\r\n"


@pytest.mark.parametrize(("name", "data"), [("a.xlsx", b"PK\3\4junk"), ("a.ods", b"junk"), ("a.csv", b"\xff\xfe\0a"),
                                            ("a.txt", b"x")])  # fmt: skip
def test_what_is_no_spreadsheet_is_said_so(name: str, data: bytes) -> None:
    with pytest.raises(ValueError, match="no spreadsheet"):
        put_rows(name, data, HEADINGS, "D1", [ROW])


@settings(max_examples=25)
@given(st.lists(st.tuples(st.sampled_from(["D1", "D2", "D3"]), ROWS)))
def test_each_document_has_its_newest_rows(acts: list[tuple[str, list[tuple[Cell, ...]]]]) -> None:
    newest, data = dict[str, int](), b""
    for reference, rows in acts:
        data, newest[reference] = put_rows("a.csv", data, HEADINGS[:2], reference, rows), len(rows)
    counted = [row[0] for row in cells("a.csv", data)[1:]] if data else []
    assert {one: counted.count(one) for one in newest} == newest and len(counted) == sum(newest.values())
