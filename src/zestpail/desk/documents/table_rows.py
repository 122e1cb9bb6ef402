"""Rows of tables as they are kept with a document: what is doubtful in them, and how they are put back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from sqlmodel import Session

from zestpail.core.document_type import DocumentType
from zestpail.core.tables import ExtractedTable, Row, Table
from zestpail.store.columns import put_back, saved
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.documents import rows_of
from zestpail.store.states import ValueState
from zestpail.store.tables import Document, TableRow

Plain = dict[str, list[dict[str, str | None]]]
_SAVED = ("table", "position", "page", "box", "cells", "state")


class TableRows:
    """The rows of one document while they are being changed: fetched once, and changed through this."""

    def __init__(self, session: Session, document_id: int) -> None:
        self._session, self.document_id = session, document_id
        self._rows: list[TableRow] | None = None

    def all(self) -> list[TableRow]:
        """Table by table, in their order."""
        if self._rows is None:
            self._rows = rows_of(self._session, self.document_id)
        return sorted(self._rows, key=lambda row: (row.table, row.position, row.id or 0))

    def of(self, table: str) -> list[TableRow]:
        """Those of one table."""
        return [row for row in self.all() if row.table == table]

    def add(self, *rows: TableRow) -> None:
        """Rows come; they have numbers at once."""
        self._rows = [*self.all(), *rows]
        self._session.add_all(rows)
        self._session.flush()

    def remove(self, *rows: TableRow) -> None:
        """Rows go."""
        self._rows = [row for row in self.all() if all(row is not gone for gone in rows)]
        for row in rows:
            self._session.delete(row)
        self._session.flush()


def plain(doc_type: DocumentType, rows: Iterable[TableRow]) -> Plain:
    """The rows as values by column, for the checks; every table of the type is there."""
    found: Plain = {table.key: [] for table in doc_type.tables}
    for row in rows:
        if row.table in found:
            found[row.table].append({key: cell["value"] for key, cell in row.cells.items()})
    return found


def keep_tables(
    session: Session,
    document: Document,
    doc_type: DocumentType,
    found: Iterable[ExtractedTable],
    lane_settings: LaneSettings,
) -> list[str]:
    """Keep what was found; returns what is doubtful, each as a few words."""
    doubts: list[str] = []
    about: dict[str, ExtractedTable] = {}
    for extracted in found:
        table = doc_type.table(extracted.key)
        about[table.key] = extracted.model_copy(update={"rows": ()})
        rows = _rows_for(document.id or 0, table, extracted, lane_settings)
        session.add_all(rows)
        doubts += _doubtful(table, rows)
    document.tables = about
    return doubts


def doubts_of_rows(doc_type: DocumentType, found: Iterable[ExtractedTable], lane_settings: LaneSettings) -> list[str]:
    """In which tables rows are doubtful, each as a few words; nothing is kept."""
    tables = [(doc_type.table(extracted.key), extracted) for extracted in found]
    return [doubt for table, one in tables for doubt in _doubtful(table, _rows_for(0, table, one, lane_settings))]


def _rows_for(document_id: int, table: Table, extracted: ExtractedTable, lane_settings: LaneSettings) -> list[TableRow]:
    least = lane_settings.review_others_below
    return [row_for(document_id, table, at, row, least) for at, row in enumerate(extracted.rows)]


def _doubtful(table: Table, rows: Sequence[TableRow]) -> list[str]:
    doubtful = sum(row.state == ValueState.DOUBTFUL for row in rows)
    return [f"{doubtful} of {len(rows)} rows of {table.name}"] if doubtful else []


def row_for(document_id: int, table: Table, at: int, row: Row, least: float) -> TableRow:
    """A row as it is kept; cells that a person must look at are said to be doubtful."""
    cells: dict[str, Any] = {}
    for column in table.columns:
        cell = row.cells.get(column.key)
        if cell is None:
            if column.needed:
                cells[column.key] = empty_cell(doubtful=True)
            continue
        unread = cell.value is None and any(c.isalnum() for c in cell.raw) and column.kind.narrow
        unsure = column.kind.narrow and row.proven is not True and cell.value is not None and cell.confidence < least
        lacking = column.needed and cell.value is None
        plain_cell = cell.model_dump(mode="json")
        plain_cell["raw"] = plain_cell["raw"].replace("\0", "")
        plain_cell["value"] = plain_cell["value"].replace("\0", "") if plain_cell["value"] else None
        cells[column.key] = {**plain_cell, "doubtful": unread or unsure or lacking}
    sure = row.proven is not False and not any(cell["doubtful"] for cell in cells.values())
    return TableRow(
        document_id=document_id,
        table=table.key,
        position=at,
        page=row.page,
        box=list(row.box),
        cells=cells,
        state=ValueState.SETTLED if sure else ValueState.DOUBTFUL,
    )


def empty_cell(doubtful: bool = False) -> dict[str, Any]:
    """A cell without anything in it."""
    return {"value": None, "raw": "", "confidence": 0.0, "page": None, "box": None, "reason": "", "doubtful": doubtful}


def snapshot_rows(rows: TableRows) -> dict[str, dict[str, Any]]:
    """All rows by their numbers, as they can be put back."""
    return {str(row.id): saved(row, _SAVED) for row in rows.all()}


def changed_rows(
    before: Mapping[str, dict[str, Any]], after: Mapping[str, dict[str, Any]]
) -> dict[str, dict[str, Any] | None]:
    """What has to be put back to have the rows before: a row, or None for one that was not there."""
    touched: dict[str, dict[str, Any] | None] = {
        number: row for number, row in before.items() if after.get(number) != row
    }
    return touched | {number: None for number in after if number not in before}


def put_back_rows(rows: TableRows, before: Mapping[str, dict[str, Any] | None]) -> None:
    """Undo what :func:`changed_rows` told."""
    there = {str(row.id): row for row in rows.all()}
    for number, values in before.items():
        row = there.get(number)
        if values is None:
            if row:
                rows.remove(row)
        elif row:
            put_back(row, values)
        else:
            rows.add(TableRow(id=int(number), document_id=rows.document_id, **values))
