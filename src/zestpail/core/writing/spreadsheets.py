"""Values as rows of a CSV file (RFC 4180) and of an XLSX workbook, among those of other documents.

The first column holds the document's own reference: its rows are written instead of those that have it already. So a
delivery that is sent twice leaves its rows once, and a corrected document has its corrected rows.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal, InvalidOperation

from openpyxl import Workbook, load_workbook
from openpyxl.cell import Cell, MergedCell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from zestpail.core.kinds.kind import SheetFormat

csv.field_size_limit(2**31 - 1)  # a cell that is long already must not keep others from their rows

MOST_IN_CELL = 32_767
"""Characters that a cell of a workbook takes (ECMA-376)."""
BOM = "\ufeff"
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True)
class Column:
    """One column: its heading, and whether its values are dates, amounts or text."""

    heading: str
    format: SheetFormat = "text"


Row = Sequence[str | None]
"""One document's values, or one row of its table, normalised."""


def put_in_csv(before: bytes, columns: Sequence[Column], reference: str, new: Sequence[Row]) -> bytes:
    """The CSV file with these rows of one document, instead of those that it had there.

    A column that the file does not have yet is added at its end; one that is not wanted any more stays, and is empty
    in these rows. Raises ValueError if it is another file.
    """
    columns = [replace(column, heading=harmless(column.heading)) for column in columns]
    text = before.decode("utf-8-sig")
    rows = list(csv.reader(io.StringIO(text, newline="")))
    headings, places = _merged(rows[0] if rows else [], columns)
    if rows and rows[0][:1] != ["Document"]:
        raise ValueError("The CSV file at the destination is another one; move it aside and deliver again.")
    written = [
        _placed([reference, *(harmless(cell or "") for cell in row)], [0, *places], len(headings)) for row in new
    ]
    known = [row for row in rows if row and row[0] == reference]
    wider = bool(rows) and len(headings) > len(rows[0])
    if known == written and not wider:
        return before
    if not known and rows and not wider:
        start = text if text.endswith("\n") else text + "\r\n"
        return (start + _as_csv(written)).encode("utf-8")
    at = next((at for at, row in enumerate(rows) if row and row[0] == reference), max(len(rows), 1))
    others = [[*row, *[""] * (len(headings) - len(row))] for row in rows[1:] if not row or row[0] != reference]
    return _as_csv([headings, *others[: at - 1], *written, *others[at - 1 :]]).encode("utf-8")


def _merged(headings: Sequence[str], columns: Sequence[Column]) -> tuple[list[str], list[int]]:
    """The headings of a sheet with those of the columns, and where each column stands among them."""
    merged, places = list(headings) or ["Document"], []
    for column in columns:
        free = [at for at, heading in enumerate(merged) if at and heading == column.heading and at not in places]
        if not free:
            merged.append(column.heading)
        places.append(free[0] if free else len(merged) - 1)
    return merged, places


def _placed(cells: Sequence[str], places: Sequence[int], width: int) -> list[str]:
    row = [""] * width
    for cell, place in zip(cells, places, strict=True):
        row[place] = cell
    return row


def csv_of(columns: Sequence[Column], rows: Sequence[Row]) -> bytes:
    """A CSV file of its own (UTF-8, with its mark for spreadsheet programs)."""
    written = [[harmless(cell or "") for cell in row] for row in rows]
    return (BOM + _as_csv([[harmless(column.heading) for column in columns], *written])).encode("utf-8")


def _as_csv(rows: Sequence[Sequence[str]]) -> str:
    out = io.StringIO(newline="")
    csv.writer(out).writerows(rows)
    return out.getvalue()


def harmless(cell: str) -> str:
    """The cell so that no spreadsheet program takes it for a formula; numbers stay numbers."""
    if not cell.startswith(_FORMULA):
        return cell
    try:
        Decimal(cell)
    except InvalidOperation:
        return "'" + cell
    return cell


def put_in_xlsx(
    before: bytes, columns: Sequence[Column], reference: str, new: Sequence[Row], title: str = "Documents"
) -> bytes:
    """The workbook with these rows of one document, instead of those that it had there.

    Numbers are written as numbers, dates as dates; columns are added, and errors raised, as by the CSV.
    """
    if before:
        book = load_workbook(io.BytesIO(before))
        sheet = book.worksheets[0]
        if sheet.cell(1, 1).value != "Document":
            raise ValueError("The workbook at the destination is another one; move it aside and deliver again.")
    else:
        book = Workbook()
        sheet = book.worksheets[0]
        _begin(sheet, columns, title)
    headings, places = _merged([str(cell.value or "") for cell in sheet[1]], columns)
    for at in range(sheet.max_column + 1, len(headings) + 1):
        _head(sheet, at, headings[at - 1])
    references = sheet.iter_rows(min_row=2, max_col=1, values_only=True)
    known = [at for at, (one,) in enumerate(references, start=2) if one == reference]
    if not known and not new:
        return before
    if len(known) != len(new):
        for at in reversed(known):
            sheet.delete_rows(at)
        known = list(range(sheet.max_row + 1, sheet.max_row + 1 + len(new)))
    for at, row in zip(known, new, strict=True):
        for number in range(1, len(headings) + 1):
            write_cell(sheet.cell(at, number), None, "text")
        write_cell(sheet.cell(at, 1), reference, "text")
        for place, column, value in zip(places, columns, row, strict=True):
            write_cell(sheet.cell(at, place + 1), value, column.format)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def fill_sheet(sheet: Worksheet, title: str, columns: Sequence[Column], rows: Sequence[Row]) -> None:
    """Fill an empty sheet of a workbook: headings, and rows with numbers as numbers and dates as dates."""
    sheet.title = sheet_title(title)
    sheet.freeze_panes = "A2"
    for at, column in enumerate(columns, start=1):
        _head(sheet, at, column.heading)
    for at, row in enumerate(rows, start=2):
        for number, (column, value) in enumerate(zip(columns, row, strict=True), start=1):
            write_cell(sheet.cell(at, number), value, column.format)


def sheet_title(text: str) -> str:
    """The text as the name of a sheet, which some characters cannot be in."""
    return "".join(c for c in text if c not in "[]:*?/\\")[:31] or "Rows"


def _begin(sheet: Worksheet, columns: Sequence[Column], title: str) -> None:
    sheet.title = sheet_title(title)
    sheet.freeze_panes = "A2"
    for at, heading in enumerate(["Document", *(column.heading for column in columns)], start=1):
        _head(sheet, at, heading)


def _head(sheet: Worksheet, at: int, heading: str) -> None:
    cell = sheet.cell(1, at)
    write_cell(cell, heading, "text")
    cell.font = Font(bold=True)
    sheet.column_dimensions[get_column_letter(at)].width = 18


def write_cell(cell: Cell | MergedCell, value: str | None, form: SheetFormat) -> None:
    """A value as a number, a date or a text; a text is never taken for a formula."""
    if isinstance(cell, MergedCell):
        return
    if not value:
        cell.value = None
    elif form == "money":
        cell.value, cell.number_format = Decimal(value), "#,##0.00"
    elif form == "number":
        cell.value = Decimal(value)
    elif form == "date":
        cell.value, cell.number_format = date.fromisoformat(value), "yyyy-mm-dd"
    else:
        cell.value = "".join(c for c in value if c.isprintable() or c == "\n")
        cell.data_type = "s"
