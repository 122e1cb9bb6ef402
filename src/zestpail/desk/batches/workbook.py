"""All documents of a batch in one workbook: a sheet for each document type, and one for the rows of each table."""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass, field

from openpyxl import Workbook
from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.writing.spreadsheets import Column, fill_sheet
from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.table_rows import plain
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.queries.documents import rows_of, values_of
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Batch, Document

ALWAYS = (Column("Document"), Column("File"), Column("State"))


@dataclass
class _Sheet:
    """One sheet while it is gathered."""

    title: str
    columns: list[Column]
    rows: list[list[str | None]] = field(default_factory=list)


def batch_workbook(store: Store, batch_id: int) -> bytes:
    """The workbook as an XLSX file. Raises Missing."""
    with store.transaction() as session:
        if session.get(Batch, batch_id) is None:
            raise Missing("There is no such batch.")
        sheets = list(_sheets(session, batch_id))
    book = Workbook()
    first = book.worksheets[0]
    for one in sheets:
        fill_sheet(book.create_sheet(), one.title, one.columns, one.rows)
    if sheets:
        book.remove(first)
    else:
        fill_sheet(first, "Documents", ALWAYS, [])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _sheets(session: Session, batch_id: int) -> Iterator[_Sheet]:
    wanted = select(Document, ArrivedFile.name).join(ArrivedFile, col(Document.file_id) == col(ArrivedFile.id))
    found = wanted.where(Document.batch_id == batch_id, Document.state != DocumentState.DISSOLVED)
    sheets: dict[tuple[str, int, str], _Sheet] = {}
    for document, file in session.exec(found.order_by(col(Document.id))):
        doc_type = type_of(session, document)
        ahead = [f"D{document.id}", file, WORDS[document.state]]
        _add_values(session, document, doc_type, ahead, sheets)
        _add_rows(session, document, doc_type, ahead, sheets)
    yield from sheets.values()


def _add_values(
    session: Session, document: Document, doc_type: DocumentType, ahead: list[str],
    sheets: dict[tuple[str, int, str], _Sheet],
) -> None:  # fmt: skip
    columns = [*ALWAYS, *(Column(one.name, one.kind.sheet) for one in doc_type.fields)]
    sheet = sheets.setdefault((doc_type.key, doc_type.revision, ""), _Sheet(doc_type.name, columns))
    values = {value.key: value.value for value in values_of(session, document.id or 0)}
    sheet.rows.append([*ahead, *(values.get(one.key) for one in doc_type.fields)])


def _add_rows(
    session: Session, document: Document, doc_type: DocumentType, ahead: list[str],
    sheets: dict[tuple[str, int, str], _Sheet],
) -> None:  # fmt: skip
    rows = plain(doc_type, rows_of(session, document.id or 0))
    for table in doc_type.tables:
        columns = [*ALWAYS, *(Column(one.name, one.kind.sheet) for one in table.columns)]
        title = f"{doc_type.name} {table.name}"
        sheet = sheets.setdefault((doc_type.key, doc_type.revision, table.key), _Sheet(title, columns))
        sheet.rows += [[*ahead, *(row.get(one.key) for one in table.columns)] for row in rows[table.key]]
