"""Rows added to a spreadsheet that others write in too: CSV (RFC 4180), XLSX (ECMA-376) or ODS (OASIS OpenDocument).

The first row has the headings; what stands under other headings is left alone. One column, *Document*, holds the
document's reference: rows that have it already are written anew, so that a delivery sent twice leaves its rows once.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any, Literal, Protocol

from openpyxl import Workbook, load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from zestpail.core.writing.spreadsheets import harmless

ENDINGS = (".xlsx", ".ods", ".csv")
REFERENCE = "Document"
CellKind = Literal["text", "number", "date"]
Cell = str | int | float | bool | None


class _Sheet(Protocol):
    """A grid, counted from 0; row 0 has the headings."""

    def values(self) -> list[list[object]]: ...
    def write(self, row: int, column: int, value: object) -> None: ...
    def remove(self, row: int) -> None: ...
    def saved(self) -> bytes: ...


def headings_of(name: str, data: bytes) -> list[tuple[str, CellKind]]:
    """The headings of a spreadsheet, each with the kind of what stands under it; without that of the reference.

    Raises ValueError for a file that is none of those.
    """
    if not data:
        return []
    rows = _opened(name, data).values()
    kinds = {at: _kind(cell) for row in reversed(rows[1:]) for at, cell in enumerate(row) if cell not in (None, "")}
    headings = [(at, str(cell).strip()) for at, cell in enumerate(rows[0] if rows else []) if cell not in (None, "")]
    return [(text, kinds.get(at, "text")) for at, text in headings if text != REFERENCE]


def put_rows(
    name: str, before: bytes, headings: Sequence[tuple[str, CellKind]], reference: str, new: Sequence[Sequence[Cell]]
) -> bytes:  # fmt: skip
    """The file with these rows of one document instead of those that it had there; nothing else is changed.

    A heading that is not there yet is added at the end. Raises ValueError for a file that is none of those.
    """
    if not before and not new:
        return before
    sheet = _opened(name, before)
    rows = sheet.values()
    there = [str(cell or "").strip() for cell in (rows[0] if rows else [])]
    own = _place(sheet, there, REFERENCE)
    places = [_place(sheet, there, heading) for heading, _ in headings]
    known = [at for at, row in enumerate(rows) if at and len(row) > own and row[own] == reference]
    for at in reversed(known[len(new) :]):
        sheet.remove(at)
    last = max((at for at, row in enumerate(rows) if any(cell not in (None, "") for cell in row)), default=0)
    free = [*known[: len(new)], *range(last + 1, last + 1 + max(0, len(new) - len(known)))]
    for at, row in zip(free, new, strict=True):
        sheet.write(at, own, reference)
        for place, (_, kind), value in zip(places, headings, row, strict=True):
            sheet.write(at, place, _written(value, kind))
    return sheet.saved()


def _place(sheet: _Sheet, there: list[str], heading: str) -> int:
    if heading not in there:
        there.append(heading)
        sheet.write(0, len(there) - 1, heading)
    return there.index(heading)


def _kind(cell: object) -> CellKind:
    if isinstance(cell, date):
        return "date"
    return "number" if isinstance(cell, int | float | Decimal) and not isinstance(cell, bool) else "text"


def _written(value: Cell, kind: CellKind) -> object:
    if isinstance(value, str) and kind == "date":
        try:
            return date.fromisoformat(value)
        except ValueError:
            return value
    if isinstance(value, str):
        return "".join(c for c in value if c.isprintable() or c == "\n")
    return value


def _opened(name: str, data: bytes) -> _Sheet:
    """Raises ValueError."""
    kinds: dict[str, type[_Csv] | type[_Xlsx] | type[_Ods]] = {".csv": _Csv, ".xlsx": _Xlsx, ".ods": _Ods}
    ending = next((ending for ending in kinds if name.lower().endswith(ending)), "")
    if not ending:
        raise ValueError(f"{name} is no spreadsheet: its name ends with none of {', '.join(kinds)}.")
    try:
        return kinds[ending](data)
    except (InvalidFileException, UnicodeError, KeyError, OSError, csv.Error) as problem:
        raise ValueError(f"{name} is damaged, or no spreadsheet.") from problem
    except ValueError:
        raise
    except Exception as problem:  # whatever the libraries meet in a file that is none
        raise ValueError(f"{name} is damaged, or no spreadsheet.") from problem


class _Csv:
    """Keeps the separator that the file has, and what makes spreadsheet programs see UTF-8."""

    def __init__(self, data: bytes) -> None:
        text = data.decode("utf-8-sig")
        first = text.partition("\n")[0]
        self._mark = data.startswith(b"\xef\xbb\xbf")
        self._by = max(",;\t", key=first.count) if first else ","
        self._rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=self._by))

    def values(self) -> list[list[object]]:
        return [[_number(cell) for cell in row] for row in self._rows]

    def write(self, row: int, column: int, value: object) -> None:
        self._rows += [[] for _ in range(row + 1 - len(self._rows))]
        cells = self._rows[row]
        cells += [""] * (column + 1 - len(cells))
        cells[column] = harmless("" if value is None else str(value))

    def remove(self, row: int) -> None:
        del self._rows[row]

    def saved(self) -> bytes:
        width, out = max(map(len, self._rows), default=0), io.StringIO(newline="")
        writer = csv.writer(out, delimiter=self._by)
        writer.writerows([*row, *[""] * (width - len(row))] for row in self._rows)
        return out.getvalue().encode("utf-8-sig" if self._mark else "utf-8")


def _number(cell: str) -> object:
    try:
        return Decimal(cell) if cell and cell[-1].isdigit() else cell
    except InvalidOperation:
        return cell


class _Xlsx:
    def __init__(self, data: bytes) -> None:
        self._book = load_workbook(io.BytesIO(data)) if data else Workbook()
        self._sheet = self._book.worksheets[0]

    def values(self) -> list[list[object]]:
        return [list(row) for row in self._sheet.iter_rows(values_only=True)]

    def write(self, row: int, column: int, value: object) -> None:
        cell = self._sheet.cell(row + 1, column + 1)
        cell.value = value  # type: ignore[assignment]
        if isinstance(value, str):
            cell.data_type = "s"  # never a formula
        if isinstance(value, date):
            cell.number_format = "yyyy-mm-dd"

    def remove(self, row: int) -> None:
        self._sheet.delete_rows(row + 1)

    def saved(self) -> bytes:
        out = io.BytesIO()
        self._book.save(out)
        return out.getvalue()


class _Ods:
    def __init__(self, data: bytes) -> None:
        from odfdo import Document, Table  # noqa: PLC0415 - slow to load, and few lists are ODS

        self._document: Any = Document(io.BytesIO(data)) if data else Document("spreadsheet")
        if not data:
            self._document.body.clear()
            self._document.body.append(Table("List"))
        self._sheet: Any = self._document.body.get_table(0)
        if self._sheet is None:
            raise ValueError("The file has no sheet.")
        self._sheet.rstrip(aggressive=True)

    def values(self) -> list[list[object]]:
        return [list(row) for row in self._sheet.get_values()]

    def write(self, row: int, column: int, value: object) -> None:
        self._sheet.set_value((column, row), Decimal(str(value)) if isinstance(value, float) else value)

    def remove(self, row: int) -> None:
        self._sheet.delete_row(row)

    def saved(self) -> bytes:
        out = io.BytesIO()
        self._document.save(out)
        return out.getvalue()
