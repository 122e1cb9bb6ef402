"""Values as rows of a CSV file (RFC 4180) and of an XLSX workbook, added to what is there.

Adding is idempotent: the first column holds the document's own reference, and rows whose reference is in the sheet
already are not added again. So a delivery that is sent twice leaves its rows once.
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

from zestpail.core.kinds.kind import SheetFormat

_FORMULA = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True)
class Column:
    """One column: its heading, and whether its values are dates, amounts or text."""

    heading: str
    format: SheetFormat = "text"


@dataclass(frozen=True)
class Row:
    """One document's values, or one row of its table, normalised; the reference names the document for good."""

    reference: str
    cells: tuple[str | None, ...]


def add_to_csv(before: bytes, columns: Sequence[Column], *new: Row) -> bytes:
    """The CSV file with the rows of one document added. Raises ValueError if the file has other columns."""
    headings = ["Document", *(column.heading for column in columns)]
    text = before.decode("utf-8-sig")
    rows = list(csv.reader(io.StringIO(text, newline="")))
    if rows and rows[0] != headings:
        raise ValueError("The CSV file at the destination has other columns; move it aside and deliver again.")
    if not new or any(known and known[0] == new[0].reference for known in rows):
        return before
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    if not rows:
        writer.writerow(headings)
    for row in new:
        writer.writerow([row.reference, *(harmless(cell or "") for cell in row.cells)])
    start = text if not text or text.endswith("\n") else text + "\r\n"
    return (start + out.getvalue()).encode("utf-8")


def harmless(cell: str) -> str:
    """The cell so that no spreadsheet program takes it for a formula; numbers stay numbers."""
    if not cell.startswith(_FORMULA):
        return cell
    try:
        Decimal(cell)
    except InvalidOperation:
        return "'" + cell
    return cell


def add_to_xlsx(before: bytes, columns: Sequence[Column], *new: Row, title: str = "Documents") -> bytes:
    """The workbook with the rows of one document added, numbers as numbers and dates as dates.

    Raises ValueError as the CSV does.
    """
    if before:
        book = load_workbook(io.BytesIO(before))
        sheet = book.worksheets[0]
        if [cell.value for cell in sheet[1]] != ["Document", *(column.heading for column in columns)]:
            raise ValueError("The workbook at the destination has other columns; move it aside and deliver again.")
    else:
        book = Workbook()
        sheet = book.worksheets[0]
        sheet.title = "".join(c for c in title if c not in "[]:*?/\\")[:31] or "Rows"
        sheet.append(["Document", *(column.heading for column in columns)])
        sheet.freeze_panes = "A2"
        for cell in sheet[1]:
            cell.font = Font(bold=True)
        for at in range(1, len(columns) + 2):
            sheet.column_dimensions[get_column_letter(at)].width = 18
    known = {reference for (reference,) in sheet.iter_rows(min_row=2, max_col=1, values_only=True)}
    if not new or new[0].reference in known:
        return before
    for at, row in enumerate(new, start=sheet.max_row + 1):
        _write(sheet.cell(at, 1), row.reference, "text")
        for number, (column, value) in enumerate(zip(columns, row.cells, strict=True), start=2):
            _write(sheet.cell(at, number), value, column.format)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _write(cell: Cell | MergedCell, value: str | None, form: SheetFormat) -> None:
    if not value or isinstance(cell, MergedCell):
        return
    if form == "money":
        cell.value, cell.number_format = Decimal(value), "#,##0.00"
    elif form == "number":
        cell.value = Decimal(value)
    elif form == "date":
        cell.value, cell.number_format = date.fromisoformat(value), "yyyy-mm-dd"
    else:
        cell.value = "".join(c for c in value if c.isprintable() or c == "\n")
        cell.data_type = "s"
