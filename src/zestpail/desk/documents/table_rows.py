"""Rows of tables as they are kept with a document: what is doubtful in them, and how they are put back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.tables import CapturedTable, Row, Table
from zestpail.core.tables.body import narrow
from zestpail.desk.documents.lane_settings import Letter
from zestpail.store.tables import Document, TableRow, ValueState

Plain = dict[str, list[dict[str, str | None]]]
_KEPT = ("table", "position", "page", "box", "cells", "state")


def rows_of(session: Session, document_id: int) -> list[TableRow]:
    """All rows of the document, table by table, in their order; fetched once in a transaction, they may be many."""
    kept: dict[int, list[TableRow]] = session.info.setdefault("rows of tables", {})
    if document_id not in kept:
        wanted = select(TableRow).where(TableRow.document_id == document_id)
        kept[document_id] = list(
            session.exec(wanted.order_by(TableRow.table, col(TableRow.position), col(TableRow.id)))
        )
    return list(kept[document_id])


def forget_rows(session: Session) -> None:
    """Rows came, went or changed their places: fetch them anew when they are asked for."""
    session.flush()
    session.info.pop("rows of tables", None)


def plain(kind: DocumentType, rows: Iterable[TableRow]) -> Plain:
    """The rows as values by column, for the checks; every table of the type is there."""
    found: Plain = {table.key: [] for table in kind.tables}
    for row in rows:
        if row.table in found:
            found[row.table].append({key: cell["value"] for key, cell in row.cells.items()})
    return found


def keep_tables(
    session: Session, document: Document, kind: DocumentType, found: Iterable[CapturedTable], letter: Letter
) -> list[str]:
    """Keep what was found; returns what is doubtful, each as a few words."""
    doubts: list[str] = []
    about: dict[str, Any] = {}
    for captured in found:
        table = kind.table(captured.key)
        about[table.key] = captured.model_dump(mode="json", include={"strips", "left_out", "rows_begin"})
        rows = _rows_for(document.id or 0, table, captured, letter)
        session.add_all(rows)
        session.info.pop("rows of tables", None)
        doubts += _doubtful(table, rows)
    document.tables = about
    return doubts


def doubts_of_rows(kind: DocumentType, found: Iterable[CapturedTable], letter: Letter) -> list[str]:
    """In which tables rows are doubtful, each as a few words; nothing is kept."""
    tables = [(kind.table(captured.key), captured) for captured in found]
    return [doubt for table, one in tables for doubt in _doubtful(table, _rows_for(0, table, one, letter))]


def _rows_for(document_id: int, table: Table, captured: CapturedTable, letter: Letter) -> list[TableRow]:
    least = letter.review_others_below
    return [row_for(document_id, table, at, row, least) for at, row in enumerate(captured.rows)]


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
        unread = cell.value is None and any(c.isalnum() for c in cell.raw) and narrow(column.kind)
        unsure = narrow(column.kind) and row.proven is not True and cell.value is not None and cell.confidence < least
        lacking = column.needed and cell.value is None
        kept = cell.model_dump(mode="json")
        kept["raw"] = kept["raw"].replace("\0", "")
        kept["value"] = kept["value"].replace("\0", "") if kept["value"] else None
        cells[column.key] = {**kept, "doubtful": unread or unsure or lacking}
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


def snapshot_rows(session: Session, document_id: int) -> dict[str, dict[str, Any]]:
    """All rows by their numbers, as they can be put back."""
    return {str(row.id): {name: getattr(row, name) for name in _KEPT} for row in rows_of(session, document_id)}


def changed_rows(
    before: Mapping[str, dict[str, Any]], after: Mapping[str, dict[str, Any]]
) -> dict[str, dict[str, Any] | None]:
    """What has to be put back to have the rows before: a row, or None for one that was not there."""
    touched: dict[str, dict[str, Any] | None] = {
        number: row for number, row in before.items() if after.get(number) != row
    }
    return touched | {number: None for number in after if number not in before}


def put_back_rows(session: Session, document_id: int, before: Mapping[str, dict[str, Any] | None]) -> None:
    """Undo what :func:`changed_rows` told."""
    there = {str(row.id): row for row in rows_of(session, document_id)}
    for number, kept in before.items():
        row = there.get(number)
        if kept is None:
            if row:
                session.delete(row)
        elif row:
            row.sqlmodel_update(kept)
        else:
            session.add(TableRow(id=int(number), document_id=document_id, **kept))
    forget_rows(session)
