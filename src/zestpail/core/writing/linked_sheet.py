"""A workbook that is written once, row by row, whatever its length: each row begins with a link."""

from __future__ import annotations

import io
from collections.abc import Sequence

from openpyxl import Workbook
from openpyxl.cell import Cell, WriteOnlyCell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter

from zestpail.core.writing.spreadsheets import Column, Row, sheet_title, write_cell


class LinkedSheet:
    """One sheet, written as it grows; no row of it is kept in memory (``openpyxl`` write-only)."""

    def __init__(self, title: str, columns: Sequence[Column]) -> None:
        self._book, self._columns = Workbook(write_only=True), columns
        self._sheet = self._book.create_sheet(sheet_title(title))
        self._sheet.freeze_panes = "A2"
        for at, column in enumerate(columns, start=1):
            self._sheet.column_dimensions[get_column_letter(at)].width = max(12, min(40, len(column.heading) + 4))
        self._sheet.append([self._cell(column.heading, Column("")) for column in columns])

    def add(self, address: str, shown: str, row: Row) -> None:
        """A row: the link in the first column, the values in the others."""
        link = WriteOnlyCell(self._sheet, f'=HYPERLINK("{_quoted(address)}", "{_quoted(shown)}")')
        link.font = Font(underline="single")
        values = zip(self._columns[1:], row, strict=True)
        self._sheet.append([link, *(self._cell(value, column) for column, value in values)])

    def saved(self) -> bytes:
        """The workbook as a file; nothing can be added any more."""
        out = io.BytesIO()
        self._book.save(out)
        return out.getvalue()

    def _cell(self, value: str | None, column: Column) -> Cell:
        cell = WriteOnlyCell(self._sheet)
        write_cell(cell, value, column.format)
        return cell


def _quoted(text: str) -> str:
    return text.replace('"', '""')
