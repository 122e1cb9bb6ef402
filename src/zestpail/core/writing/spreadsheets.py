"""Values as rows of a CSV file (RFC 4180) and of an XLSX workbook, among those of other documents.

The first column holds the document's own reference: its rows are written instead of those that have it already. So a
delivery that is sent twice leaves its rows once, and a corrected document has its corrected rows.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
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

    Raises ValueError if the file has other columns.
    """
    headings = ["Document", *(column.heading for column in columns)]
    text = before.decode("utf-8-sig")
    rows = list(csv.reader(io.StringIO(text, newline="")))
    if rows and rows[0] != headings:
        raise ValueError("The CSV file at the destination has other columns; move it aside and deliver again.")
    written = [[reference, *(harmless(cell or "") for cell in row)] for row in new]
    known = [row for row in rows if row and row[0] == reference]
    if known == written:
        return before
    if not known and rows:
        start = text if text.endswith("\n") else text + "\r\n"
        return (start + _as_csv(written)).encode("utf-8")
    at = next((at for at, row in enumerate(rows) if row and row[0] == reference), 1)
    others = [row for row in rows or [headings] if not row or row[0] != reference]
    return _as_csv([*others[:at], *written, *others[at:]]).encode("utf-8")


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

    Numbers are written as numbers, dates as dates. Raises ValueError as the CSV does.
    """
    if before:
        book = load_workbook(io.BytesIO(before))
        sheet = book.worksheets[0]
        if [cell.value for cell in sheet[1]] != ["Document", *(column.heading for column in columns)]:
            raise ValueError("The workbook at the destination has other columns; move it aside and deliver again.")
    else:
        book = Workbook()
        sheet = book.worksheets[0]
        _begin(sheet, columns, title)
    references = sheet.iter_rows(min_row=2, max_col=1, values_only=True)
    known = [at for at, (one,) in enumerate(references, start=2) if one == reference]
    if not known and not new:
        return before
    if len(known) != len(new):
        for at in reversed(known):
            sheet.delete_rows(at)
        known = list(range(sheet.max_row + 1, sheet.max_row + 1 + len(new)))
    for at, row in zip(known, new, strict=True):
        _write(sheet.cell(at, 1), reference, "text")
        for number, (column, value) in enumerate(zip(columns, row, strict=True), start=2):
            _write(sheet.cell(at, number), value, column.format)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _begin(sheet: Worksheet, columns: Sequence[Column], title: str) -> None:
    sheet.title = "".join(c for c in title if c not in "[]:*?/\\")[:31] or "Rows"
    sheet.append(["Document", *(column.heading for column in columns)])
    sheet.freeze_panes = "A2"
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for at in range(1, len(columns) + 2):
        sheet.column_dimensions[get_column_letter(at)].width = 18


def _write(cell: Cell | MergedCell, value: str | None, form: SheetFormat) -> None:
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
