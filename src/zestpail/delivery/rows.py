"""Rows in spreadsheets: one for each document, and those of its tables; planned with the document, added once."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import partial
from pathlib import PurePosixPath
from typing import Literal

from pydantic import BaseModel, ConfigDict

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.kinds.kind import SheetFormat
from zestpail.core.tables import Table
from zestpail.core.writing.spreadsheets import MOST_IN_CELL, Column, put_in_csv, put_in_xlsx
from zestpail.core.writing.value_formats import formatted
from zestpail.delivery.destination import Outgoing, Refused, SharedFiles, TableReceipt

Way = Literal["one_sheet", "own_sheet", "none"]
WAYS: dict[Way, str] = {
    "one_sheet": "added to one sheet",
    "own_sheet": "a sheet for each document",
    "none": "not at all",
}


class TableExport(BaseModel):
    """How the rows of one table are delivered; a table that is not spoken of goes as this says by itself."""

    model_config = ConfigDict(frozen=True)

    table: str
    way: Way = "one_sheet"
    repeat: tuple[str, ...] | None = None
    """Fields of the document that stand on each of its rows; None for those that the document must have."""
    leave_out: tuple[str, ...] = ()
    """Columns that a person said are not delivered."""


class PlannedColumn(BaseModel):
    model_config = ConfigDict(frozen=True)

    heading: str
    format: SheetFormat


class PlannedRows(BaseModel):
    """Rows with one reference for two files, a CSV and a workbook."""

    model_config = ConfigDict(frozen=True)

    title: str
    csv: str
    xlsx: str
    columns: tuple[PlannedColumn, ...]
    rows: tuple[tuple[str | None, ...], ...]


def document_row(document: Outgoing, csv: str, xlsx: str) -> PlannedRows:
    """The row of the document itself; documents of another type than the lane's own have files of their own."""
    fields = document.doc_type.fields
    given = {name: value for name, value in document.given.items() if name not in document.doc_type.names}
    return PlannedRows(
        title="Documents",
        csv=of_type(document, csv),
        xlsx=of_type(document, xlsx),
        columns=(
            *(_column(field) for field in fields),
            *(PlannedColumn(heading=said_name(name), format="text") for name in given),
        ),
        rows=((*(formatted(document.values.get(field.key), field.export_as) for field in fields), *given.values()),),
    )


def said_name(name: str) -> str:
    """The name of a value that a sheet or barcode gave, as a person reads it."""
    words = " ".join(name.replace("_", " ").split())
    return words[:1].upper() + words[1:]


def table_rows(
    document: Outgoing, exports: Sequence[TableExport], csv: str, path: PurePosixPath
) -> Iterator[PlannedRows]:
    """What is written of each of its tables that has rows and is not left out."""
    for table in document.doc_type.tables:
        export = export_of(exports, table.key)
        rows = document.rows.get(table.key, ())
        if export.way != "none" and rows:
            columns, cells = sheet_of(document.doc_type, table, export, rows, document.values)
            to_csv, to_xlsx = files_of(table.key, export, of_type(document, csv), path)
            yield PlannedRows(title=table.name, csv=to_csv, xlsx=to_xlsx, columns=columns, rows=cells)


def may_be_written(planned: Sequence[PlannedRows]) -> None:
    """Raises Refused where a value is longer than a spreadsheet takes."""
    for rows in planned:
        for cells in rows.rows:
            for column, cell in zip(rows.columns, cells, strict=True):
                if len(cell or "") > MOST_IN_CELL:
                    raise Refused(
                        f"“{column.heading}” has {len(cell or ''):,} characters, and a cell of a spreadsheet takes "
                        f"{MOST_IN_CELL:,}. Take the document back and shorten it."
                    )


def write_rows(files: SharedFiles, planned: PlannedRows, reference: str) -> TableReceipt:
    """Put them in both files, once however often it is done. Raises what the place raises."""
    _put_rows(files, planned, reference, planned.rows)
    return TableReceipt(table=planned.title, rows=len(planned.rows), files=(planned.csv, planned.xlsx))


def remove_rows(files: SharedFiles, planned: PlannedRows, reference: str) -> Iterator[str]:
    """Take the rows with that reference out of both files, where they are; yields the files that had them."""
    for name, removed in zip((planned.csv, planned.xlsx), _put_rows(files, planned, reference, ()), strict=True):
        if removed:
            yield name


def _put_rows(
    files: SharedFiles, planned: PlannedRows, reference: str, rows: Sequence[Sequence[str | None]]
) -> tuple[bool, bool]:
    """Whether the CSV and the workbook were changed by it."""
    columns = [Column(column.heading, column.format) for column in planned.columns]
    to_csv = partial(put_in_csv, columns=columns, reference=reference, new=rows)
    to_xlsx = partial(put_in_xlsx, columns=columns, reference=reference, new=rows, title=planned.title)
    return _rewrite(files, planned.csv, to_csv, bool(rows)), _rewrite(files, planned.xlsx, to_xlsx, bool(rows))


def _rewrite(files: SharedFiles, name: str, change: Callable[[bytes], bytes], begin: bool) -> bool:
    if not begin and not files.holds(PurePosixPath(name)):
        return False
    return files.rewrite(PurePosixPath(name), change)


def export_of(exports: Sequence[TableExport], table: str) -> TableExport:
    """How the rows of that table are delivered."""
    return next((export for export in exports if export.table == table), TableExport(table=table))


def repeated(doc_type: DocumentType, export: TableExport) -> list[str]:
    """The fields of the document that stand on each of its rows, in the type's order where the type says which."""
    if export.repeat is None:
        required = doc_type.required()
        return [field.key for field in doc_type.fields if field.key in required]
    return [key for key in export.repeat if key in doc_type.names]


def sheet_of(
    doc_type: DocumentType,
    table: Table,
    export: TableExport,
    rows: Sequence[Mapping[str, str | None]],
    values: Mapping[str, str | None],
) -> tuple[tuple[PlannedColumn, ...], tuple[tuple[str | None, ...], ...]]:
    """The columns, document fields first, and the rows."""
    fields = [doc_type.field(key) for key in repeated(doc_type, export)]
    wanted = [column for column in table.columns if column.key not in export.leave_out]
    ahead = [formatted(values.get(field.key), field.export_as) for field in fields]
    columns = (
        *(_column(field) for field in fields),
        *(PlannedColumn(heading=column.name, format=column.kind.sheet) for column in wanted),
    )
    return columns, tuple((*ahead, *(row.get(column.key) for column in wanted)) for row in rows)


def files_of(table: str, export: TableExport, csv: str, path: PurePosixPath) -> tuple[str, str]:
    """The CSV and the workbook that a table's rows go to; ``path`` is the document's own."""
    stem = f"{path.with_suffix('')} {table}" if export.way == "own_sheet" else f"{csv.removesuffix('.csv')}-{table}"
    return f"{stem}.csv", f"{stem}.xlsx"


def of_type(document: Outgoing, name: str) -> str:
    """The file that rows go to: those of another type than the lane's own have one of their own."""
    return name if document.own_type else with_type(name, document.doc_type.key)


def with_type(name: str, type_key: str) -> str:
    """The file's name with the type's key in it."""
    stem, dot, extension = name.rpartition(".")
    return f"{stem}-{type_key}{dot}{extension}"


def _column(field: FieldRule) -> PlannedColumn:
    """Real numbers and dates where they are delivered as kept, else text in the wanted form."""
    return PlannedColumn(heading=field.name, format=field.kind.sheet if field.export_as == "as_kept" else "text")
