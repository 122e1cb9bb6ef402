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
from zestpail.core.writing.spreadsheets import Column, Row, add_to_csv, add_to_xlsx, harmless

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
    first = add_to_csv(b"", COLUMNS, Row("D1", ('Rope, "8-strand"\nand twine', "2026-09-03", "-12.50")))
    second = add_to_csv(first, COLUMNS, Row("D2", ("=HYPERLINK(1)", None, "1.00")))
    assert second == add_to_csv(second, COLUMNS, Row("D2", ("another", None, "2.00")))
    rows = list(csv.reader(io.StringIO(second.decode(), newline="")))
    assert rows == [
        ["Document", "Supplier", "Date", "Total"],
        ["D1", 'Rope, "8-strand"\nand twine', "2026-09-03", "-12.50"],
        ["D2", "'=HYPERLINK(1)", "", "1.00"],
    ]
    assert second.count(b"\r\n") == 3
    with pytest.raises(ValueError, match="other columns"):
        add_to_csv(second, COLUMNS[:2], Row("D3", ("x", None)))


@given(st.text(min_size=1))
def test_no_cell_is_a_formula(cell: str) -> None:
    safe = harmless(cell)
    assert safe[0] not in "=@\t\r"
    assert safe[0] not in "+-" or float(safe) is not None
    assert safe.removeprefix("'") == cell.removeprefix("'")


def test_xlsx_has_real_numbers_and_dates() -> None:
    data = add_to_xlsx(b"", COLUMNS, Row("D1", ("=1+1", "2026-09-03", "1597.68")))
    data = add_to_xlsx(data, COLUMNS, Row("D2", ("Bight", None, None)))
    assert data == add_to_xlsx(data, COLUMNS, Row("D2", ("Bight", None, None)))
    sheet = load_workbook(io.BytesIO(data)).worksheets[0]
    assert [cell.value for cell in sheet[2]] == ["D1", "=1+1", datetime(2026, 9, 3), 1597.68]
    assert sheet["B2"].data_type == "s"
    assert (sheet["C2"].is_date, sheet["D2"].number_format) == (True, "#,##0.00")
    assert sheet.max_row == 3
