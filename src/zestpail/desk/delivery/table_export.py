"""The rows of tables as they are delivered: planned with their document, shown before anything is."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import PurePosixPath

from sqlmodel import col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.tables import Table
from zestpail.delivery import FolderDestination
from zestpail.delivery.rows import TableExport, export_of, files_of, repeated, sheet_of
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import (
    amend,
    lane_of_key,
    revision_for,
)
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.table_rows import plain
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.documents import rows_of, values_of
from zestpail.store.tables import Batch, Document, TableRow

SHOWN = 6
"""Rows of a preview."""


@dataclass(frozen=True)
class RowsPreview:
    """What will be delivered of one table, on the rows of a document that was read already."""

    table: str
    name: str
    out: TableExport
    fields: list[tuple[str, str, bool]]
    """Key and name of each field of the document, and whether it is repeated on every row."""
    columns: list[tuple[str, str, bool]]
    """The same of the columns, and whether they are delivered."""
    headings: list[str]
    rows: list[list[str]]
    of: str
    """The document that the preview is of; empty where none was read yet."""
    total: int
    left_out: list[str]
    """What is not delivered, because a person said so."""
    files: list[str]


def lane_name(store: Store, lane_key: str) -> str:
    """Raises Missing."""
    with store.transaction() as session:
        return lane_of_key(session, lane_key).name


def rows_previews(store: Store, lane_key: str) -> list[RowsPreview]:
    """What the lane delivers of each table of its type. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        folder = _folder(lane.settings)
        doc_type = DocumentType.model_validate(revision_for(session, lane.settings).body)
        with_rows = select(Document).join(Batch, col(Batch.id) == col(Document.batch_id))
        with_rows = with_rows.where(Batch.lane_id == lane.id, col(Document.id).in_(select(TableRow.document_id)))
        last = session.exec(with_rows.order_by(col(Document.id).desc())).first()
        rows = rows_of(session, last.id or 0) if last else []
        values = {v.key: v.value for v in values_of(session, last.id or 0)} if last else {}
    worth = plain(doc_type, rows)
    return [
        _preview(doc_type, folder, table, worth[table.key], values, f"D{last.id}" if last else "")
        for table in doc_type.tables
    ]


def set_table_export(store: Store, lane_key: str, export: TableExport, person_id: int) -> None:
    """How the rows of a table are delivered to the lane's folder from now on. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        doc_type = DocumentType.model_validate(revision_for(session, lane.settings).body)
        if all(table.key != export.table for table in doc_type.tables):
            raise Missing("The lane's document type has no such table.")
        folder = _folder(lane.settings)
        before = export_of(folder.tables, export.table)
        tables = (*(one for one in folder.tables if one.table != export.table), export)
        changed = folder.model_copy(update={"tables": tables})
        amend(lane, destinations=tuple(changed if one is folder else one for one in lane.settings.destinations))
        note(session, "lane_changed", person_id=person_id, before={"lane": lane_key, **before.model_dump(mode="json")},
             after={"lane": lane_key, **export.model_dump(mode="json")})  # fmt: skip


def _folder(lane_settings: LaneSettings) -> FolderDestination:
    if lane_settings.folder is None:
        raise Missing("This lane delivers into no folder.")
    return lane_settings.folder


def _preview(
    doc_type: DocumentType, folder: FolderDestination, table: Table, rows: list[dict[str, str | None]],
    values: dict[str, str | None], of: str,
) -> RowsPreview:  # fmt: skip
    export = export_of(folder.tables, table.key)
    columns, cells = sheet_of(doc_type, table, export, rows, values)
    on_every_row = repeated(doc_type, export)
    path = PurePosixPath("the document's own name.pdf")
    return RowsPreview(
        table=table.key,
        name=table.name,
        out=export,
        fields=[(field.key, field.name, field.key in on_every_row) for field in doc_type.fields],
        columns=[(column.key, column.name, column.key not in export.leave_out) for column in table.columns],
        headings=["Document", *(column.heading for column in columns)],
        rows=[[of, *(cell or "" for cell in row)] for row in cells[:SHOWN]],
        of=of,
        total=len(rows),
        left_out=[table.names[key] for key in export.leave_out if key in table.names],
        files=list(files_of(table.key, export, folder.csv, path)) if export.way != "none" and folder.csv else [],
    )
