"""The rows of tables as they are delivered: planned with their document, shown before anything is."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import PurePosixPath
from typing import Any

from sqlmodel import col, select

from zestpail.core.checks import Needed
from zestpail.core.document_type import DocumentType
from zestpail.core.tables import Table
from zestpail.core.writing.sheets import Column, Row, add_to_csv, add_to_xlsx
from zestpail.core.writing.value_formats import delivered as delivered_value
from zestpail.delivery import Destination
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import (
    amend,
    lane_of_key,
    letter_of,
    revision_for,
)
from zestpail.desk.documents.lane_settings import Letter, RowsOut
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.table_rows import plain, rows_of
from zestpail.store import Store
from zestpail.store.queries.documents import values_of
from zestpail.store.tables import Batch, Document, TableRow

SHOWN = 6
"""Rows of a preview."""


@dataclass(frozen=True)
class RowsPreview:
    """What will be delivered of one table, on the rows of a document that was read already."""

    table: str
    name: str
    out: RowsOut
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


def planned_rows(
    kind: DocumentType, letter: Letter, rows: Iterable[TableRow], values: dict[str, str | None], path: PurePosixPath
) -> list[dict[str, Any]]:
    """What will be written of the document's tables, and into which files; kept with the delivery."""
    worth = plain(kind, rows)
    plans = []
    for table in kind.tables:
        out = letter.rows_out(table.key)
        if out.way == "not at all" or not worth[table.key]:
            continue
        columns, cells = _sheet(kind, table, out, worth[table.key], values)
        plans.append({
            "title": table.name,
            "files": _files(letter, kind, table, out, path),
            "columns": [[column.heading, column.kind] for column in columns],
            "rows": cells,
        })  # fmt: skip
    return plans


def send_rows(folder: Destination, plans: Iterable[dict[str, Any]], reference: str) -> list[dict[str, Any]]:
    """Write planned rows; returns what the receipt says of them. Raises what the destination raises."""
    said = []
    for plan in plans:
        columns = [Column(heading, kind) for heading, kind in plan["columns"]]
        rows = [Row(reference, tuple(cells)) for cells in plan["rows"]]
        csv, xlsx = (PurePosixPath(name) for name in plan["files"])
        folder.rewrite(csv, partial(_to_csv, columns, rows))
        folder.rewrite(xlsx, partial(_to_xlsx, plan["title"], columns, rows))
        said.append({"table": plan["title"], "rows": len(rows), "files": plan["files"]})
    return said


def _to_csv(columns: list[Column], rows: list[Row], before: bytes) -> bytes:
    return add_to_csv(before, columns, *rows)


def _to_xlsx(title: str, columns: list[Column], rows: list[Row], before: bytes) -> bytes:
    return add_to_xlsx(before, columns, *rows, title=title)


def lane_name(store: Store, lane_key: str) -> str:
    """Raises Missing."""
    with store.transaction() as session:
        return lane_of_key(session, lane_key).name


def rows_previews(store: Store, lane_key: str) -> list[RowsPreview]:
    """What the lane delivers of each table of its type. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        letter = letter_of(lane)
        kind = DocumentType.model_validate(revision_for(session, letter).body)
        with_rows = select(Document).join(Batch, col(Batch.id) == col(Document.batch_id))
        with_rows = with_rows.where(Batch.lane_id == lane.id, col(Document.id).in_(select(TableRow.document_id)))
        last = session.exec(with_rows.order_by(col(Document.id).desc())).first()
        rows = rows_of(session, last.id or 0) if last else []
        values = {v.key: v.value for v in values_of(session, last.id or 0)} if last else {}
    worth = plain(kind, rows)
    return [
        _preview(kind, letter, table, worth[table.key], values, f"D{last.id}" if last else "") for table in kind.tables
    ]


def set_rows_out(store: Store, lane_key: str, out: RowsOut, person_id: int) -> None:
    """How the rows of a table are delivered from now on. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        letter = letter_of(lane)
        kind = DocumentType.model_validate(revision_for(session, letter).body)
        if all(table.key != out.table for table in kind.tables):
            raise Missing("The lane's document type has no such table.")
        before = letter.rows_out(out.table)
        rows = (*(one for one in letter.rows if one.table != out.table), out)
        amend(lane, rows=rows)
        note(session, "lane changed", person_id=person_id, before={"lane": lane_key, **before.model_dump(mode="json")},
             after={"lane": lane_key, **out.model_dump(mode="json")})  # fmt: skip


def _preview(
    kind: DocumentType, letter: Letter, table: Table, rows: list[dict[str, str | None]],
    values: dict[str, str | None], of: str,
) -> RowsPreview:  # fmt: skip
    out = letter.rows_out(table.key)
    columns, cells = _sheet(kind, table, out, rows, values)
    repeated = _repeated(kind, out)
    path = PurePosixPath("the document's own name.pdf")
    return RowsPreview(
        table=table.key,
        name=table.name,
        out=out,
        fields=[(field.key, field.name, field.key in repeated) for field in kind.fields],
        columns=[(column.key, column.name, column.key not in out.leave_out) for column in table.columns],
        headings=["Document", *(column.heading for column in columns)],
        rows=[[of, *(cell or "" for cell in row)] for row in cells[:SHOWN]],
        of=of,
        total=len(rows),
        left_out=[table.names[key] for key in out.leave_out if key in table.names],
        files=_files(letter, kind, table, out, path) if out.way != "not at all" else [],
    )


def _sheet(
    kind: DocumentType, table: Table, out: RowsOut, rows: Sequence[dict[str, str | None]],
    values: dict[str, str | None],
) -> tuple[list[Column], list[list[str | None]]]:  # fmt: skip
    """The columns, document fields first, and the rows."""
    fields = [kind.field(key) for key in _repeated(kind, out)]
    wanted = [column for column in table.columns if column.key not in out.leave_out]
    columns = [Column(f.name, f.kind.kind if f.delivered_as == "as it is kept" else "text") for f in fields]
    columns += [Column(column.name, column.kind.kind) for column in wanted]
    ahead = [delivered_value(values.get(field.key), field.delivered_as) for field in fields]
    return columns, [[*ahead, *(row.get(column.key) for column in wanted)] for row in rows]


def _repeated(kind: DocumentType, out: RowsOut) -> list[str]:
    if out.repeat is None:
        return [check.field for check in kind.checks if isinstance(check, Needed)]
    return [key for key in out.repeat if key in kind.names]


def _files(letter: Letter, kind: DocumentType, table: Table, out: RowsOut, path: PurePosixPath) -> list[str]:
    if out.way == "a sheet for each document":
        stem = str(path.with_suffix(""))
        return [f"{stem} {table.key}.csv", f"{stem} {table.key}.xlsx"]
    stem = letter.sheet_of(letter.csv, kind.key).removesuffix(".csv")
    return [f"{stem}-{table.key}.csv", f"{stem}-{table.key}.xlsx"]
