"""What is handed on: PDFs whose words stand exactly where they were read, and rows that stay rows."""

from __future__ import annotations

import csv
import io
from dataclasses import replace
from datetime import datetime
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook
from pikepdf import Dictionary, Name

from tests.core.filled_form import form
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.read import read_page
from zestpail.core.writing.original_pages import OriginalPage
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
    more = put_in_csv(second, (COLUMNS[0], Column("Vessel"), Column("Vessel")), "D3", [("x", "Grey Heron", "Tern")])
    assert list(csv.reader(io.StringIO(more.decode(), newline="")))[::3] == [
        ["Document", "Supplier", "Date", "Total", "Vessel", "Vessel"], ["D3", "x", "", "", "Grey Heron", "Tern"],
    ], "columns come at the end, and those that are gone stay"  # fmt: skip
    with pytest.raises(ValueError, match="is another one"):
        put_in_csv(b"Date,Text\r\n1,2\r\n", COLUMNS, "D3", [("x", None, None)])


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
    wider = load_workbook(io.BytesIO(put_in_xlsx(data, [Column("Vessel")], "D3", [["Tern"]]))).worksheets[0]
    assert [cell.value for cell in wider[4]] == ["D3", None, None, None, "Tern"]
    sheet = load_workbook(io.BytesIO(data)).worksheets[0]
    assert [cell.value for cell in sheet[2]] == ["D1", "=1+1", datetime(2026, 9, 3), 1597.68]
    assert sheet["B2"].data_type == "s"
    assert (sheet["C2"].is_date, sheet["D2"].number_format) == (True, "#,##0.00")
    assert sheet.max_row == 3


def hostile() -> bytes:
    """A page of text with a link, a script, an action, an embedded file and a filled field, and a layered one."""
    pdf = pikepdf.open(io.BytesIO(form()))
    page = pdf.pages[0].obj
    script = Dictionary(S=Name.JavaScript, JS=pikepdf.String("app.alert(1)"))
    address = Dictionary(S=Name.URI, URI=pikepdf.String("https://quillon.example/berths"))
    run = Dictionary(S=Name.Launch, F=pikepdf.String("calc.exe"))
    for at, action in enumerate((address, script, run)):
        rect = pikepdf.Array([50, 100 + 20 * at, 90, 112 + 20 * at])
        page.Annots.append(pdf.make_indirect(Dictionary(Type=Name.Annot, Subtype=Name.Link, Rect=rect, A=action)))
    page.AA, pdf.Root.OpenAction = Dictionary(O=script), script
    pdf.attachments["secret.txt"] = b"embedded"
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()


def test_pages_that_were_never_scanned_stay_as_they_came(demo: Path) -> None:
    data, scan = hostile(), (demo / "bight-01.tif").read_bytes()
    born, scanned = (read_page(open_page(one, 0)) for one in (data, scan))
    pages = [
        PageToWrite(born.pixels, born.reading, original=OriginalPage(data, 0)),
        PageToWrite(scanned.pixels, scanned.reading),
    ]
    written = searchable_pdf(pages, "Mixed")
    with pikepdf.open(io.BytesIO(written)) as pdf:
        first, second = (page.obj for page in pdf.pages)
        assert "/XObject" not in first.Resources or "/Scan" not in first.Resources.XObject, "no picture of text"
        assert "/Scan" in second.Resources.XObject
        assert [str(one.A.URI) for one in first.Annots] == ["https://quillon.example/berths"]
        assert not {"/AA", "/OpenAction", "/AcroForm", "/Names"} & {*first.keys(), *pdf.Root.keys()}
    for hidden in (b"JavaScript", b"Launch", b"EmbeddedFile", b"app.alert"):
        assert hidden not in written
    again = open_page(written, 0)
    assert [word.text for word in again.layer] == [word.text for word in born.reading.words], "what was filled in too"
    assert float(np.abs(again.pixels.astype(int) - born.pixels.astype(int)).mean()) < 0.5
    assert len(searchable_pdf(pages[:1], "Text")) < 0.3 * len(searchable_pdf([replace(pages[0], original=None)], "Pic"))


def test_a_page_whose_layers_may_be_hidden_is_a_picture() -> None:
    with pikepdf.open(io.BytesIO(form())) as pdf:
        pdf.Root.OCProperties = Dictionary(OCGs=pikepdf.Array([]), D=Dictionary())
        out = io.BytesIO()
        pdf.save(out)
    read = read_page(open_page(out.getvalue(), 0))
    page = PageToWrite(read.pixels, read.reading, original=OriginalPage(out.getvalue(), 0))
    with pikepdf.open(io.BytesIO(searchable_pdf([page], "Layers"))) as written:
        assert "/Scan" in written.pages[0].obj.Resources.XObject
