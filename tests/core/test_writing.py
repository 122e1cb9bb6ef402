"""What is handed on: PDFs whose words stand exactly where they were read, and rows that stay rows."""

from __future__ import annotations

import csv
import io
from datetime import datetime
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from zestpail.core.reading.opening import open_page
from zestpail.core.reading.read import read_page
from zestpail.core.writing.searchable_pdf import PageToWrite, searchable_pdf
from zestpail.core.writing.spreadsheets import Column, harmless, put_in_csv, put_in_xlsx

COLUMNS = (Column("Supplier"), Column("Date", "date"), Column("Total", "money"))


@pytest.mark.parametrize(("name", "packed"), [("bight-01.tif", "/CCITTFaxDecode"), ("bight-03.jpg", "/DCTDecode")])
def test_a_searchable_pdf(demo: Path, name: str, packed: str) -> None:
    read = read_page(open_page((demo / name).read_bytes(), 0))
    data = searchable_pdf([PageToWrite(read.pixels, read.reading)], "BB-1")  # validates PDF/A-2b, or raises
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert pdf.pages[0].Resources.XObject.Scan.Filter == packed
        assert b"pdfaid" in pdf.Root.Metadata.read_bytes()
    again = open_page(data, 0)
    wanted = [(w.text, *w.box) for w in read.reading.words]
    for (text, *box), word in zip(wanted, again.layer, strict=True):
        assert word.text == text
        assert tuple(word.box) == pytest.approx(box, abs=0.15)
    if packed == "/CCITTFaxDecode":
        assert np.array_equal(again.pixels > 127, read.pixels > 127)


def test_csv_rows() -> None:
    first = put_in_csv(b"", COLUMNS, "D1", [('Rope, "8-strand"\nand twine', "2026-09-03", "-12.50")])
    second = put_in_csv(first, COLUMNS, "D2", [("=HYPERLINK(1)", None, "1.00")])
    assert second == put_in_csv(second, COLUMNS, "D2", [("=HYPERLINK(1)", None, "1.00")])
    rows = list(csv.reader(io.StringIO(second.decode(), newline="")))
    assert rows == [
        ["Document", "Supplier", "Date", "Total"],
        ["D1", 'Rope, "8-strand"\nand twine', "2026-09-03", "-12.50"],
        ["D2", "'=HYPERLINK(1)", "", "1.00"],
    ]
    assert second.count(b"\r\n") == 3
    with pytest.raises(ValueError, match="other columns"):
        put_in_csv(second, COLUMNS[:2], "D3", [("x", None)])


@given(st.lists(st.tuples(st.sampled_from("abc"), st.lists(st.text(max_size=3), max_size=3)), max_size=6))
def test_a_document_has_its_newest_rows_and_no_others(written: list[tuple[str, list[str]]]) -> None:
    columns, data, books, newest = [Column("Text")], b"", b"", dict[str, list[str]]()
    for reference, cells in written:
        data = put_in_csv(data, columns, reference, [[cell] for cell in cells])
        books = put_in_xlsx(books, columns, reference, [[cell] for cell in cells])
        newest[reference] = [harmless(cell) for cell in cells]
    rows = list(csv.reader(io.StringIO(data.decode("utf-8"), newline="")))[1:]
    assert {name: [row[1] for row in rows if row[0] == name] for name in newest} == newest
    sheet = load_workbook(io.BytesIO(books)).worksheets[0] if books else None
    references = [row[0] for row in sheet.iter_rows(min_row=2, values_only=True)] if sheet else []
    assert sorted(filter(None, references)) == sorted(name for name, cells in newest.items() for _ in cells)


@given(st.text(min_size=1))
def test_no_cell_is_a_formula(cell: str) -> None:
    safe = harmless(cell)
    assert safe[0] not in "=@\t\r"
    assert safe[0] not in "+-" or float(safe) is not None
    assert safe.removeprefix("'") == cell.removeprefix("'")


def test_xlsx_has_real_numbers_and_dates() -> None:
    data = put_in_xlsx(b"", COLUMNS, "D1", [("=1+1", "2026-09-03", "1597.68")])
    data = put_in_xlsx(data, COLUMNS, "D2", [("Heron", "2026-09-04", "2.00")])
    data = put_in_xlsx(data, COLUMNS, "D2", [("Bight", None, None)])
    sheet = load_workbook(io.BytesIO(data)).worksheets[0]
    assert [cell.value for cell in sheet[2]] == ["D1", "=1+1", datetime(2026, 9, 3), 1597.68]
    assert sheet["B2"].data_type == "s"
    assert (sheet["C2"].is_date, sheet["D2"].number_format) == (True, "#,##0.00")
    assert sheet.max_row == 3
