"""The batch sheet: documents as rows, their fields as columns, of one type or of several beside each other."""

from __future__ import annotations

import io
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from openpyxl import Workbook
from pydantic import BaseModel
from sqlmodel import Session

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.reading.geometry import Box
from zestpail.core.writing.spreadsheets import Column, csv_of, fill_sheet
from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.holding import holder_name
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.queries.access import Closed
from zestpail.store.queries.documents import pages_of, values_of
from zestpail.store.queries.sheet import (
    SheetDocument,
    documents_by_id,
    documents_of_batch,
    documents_of_queue,
    failing_of_many,
    values_of_many,
)
from zestpail.store.states import DocumentState, ValueState
from zestpail.store.tables import Batch, Document

MOST_ROWS = 5_000
SETTLED, DOUBTFUL, FAILS = "s", "d", "f"


class SheetColumn(BaseModel):
    """A field, of one type or of several that have it."""

    key: str
    name: str
    types: list[str]
    sheet: str
    """How its values are sorted and added up: text, money, number or date."""


class SheetCell(BaseModel):
    """A value as it is shown, its state, how sure it is in hundredths, and as it is kept if otherwise."""

    shown: str
    state: str
    sure: int
    kept: str = ""


class SheetRow(BaseModel):
    """One document."""

    id: int
    version: int
    type: str
    file: str
    words: str
    open: bool
    """Whether it can be changed now."""
    holder: str = ""
    """Who else works on it."""
    problem: str = ""
    """The first check that fails over no field of its own."""
    cells: dict[str, SheetCell]


class Sheet(BaseModel):
    """All rows with their columns."""

    columns: list[SheetColumn]
    types: dict[str, str]
    rows: list[SheetRow]
    more: int = 0
    """How many documents more there are than are shown."""


@dataclass(frozen=True)
class CellView:
    """A cell looked at closely."""

    name: str
    shown: str
    page_id: int | None
    page: int
    width: float
    height: float
    box: Box | None
    why: str
    failing: list[str]


@dataclass(frozen=True)
class Scope:
    """Which documents a sheet shows: those of a batch, or those that wait for review, of one lane if one is named."""

    batch: int = 0
    lane: str = ""
    closed: Closed = ()
    """Lanes that the person does not see."""


def sheet_of(store: Store, scope: Scope, person_id: int) -> Sheet:
    """All documents of the scope. Raises Missing."""
    with store.transaction() as session:
        return _sheet(session, _found(session, scope), person_id)


def sheet_again(store: Store, scope: Scope, versions: Mapping[int, int], person_id: int) -> Sheet:
    """The same with those rows alone that are not as the person saw them: changed, new, or no more in the scope."""
    with store.transaction() as session:
        found = _found(session, scope)
        here = {one.document.id for one in found}
        left = documents_by_id(session, [number for number in versions if number not in here])
        newer = [one for one in (*found, *left) if one.document.version != versions.get(one.document.id or 0)]
        whole = _sheet(session, found, person_id, rows=False)
        return whole.model_copy(update={"rows": _rows(session, newer[:MOST_ROWS], person_id)})


def _found(session: Session, scope: Scope) -> list[SheetDocument]:
    if not scope.batch:
        return documents_of_queue(session, scope.lane, scope.closed, MOST_ROWS + 1)
    if session.get(Batch, scope.batch) is None:
        raise Missing("There is no such batch.")
    return documents_of_batch(session, scope.batch)


def cell_view(store: Store, document_id: int, key: str) -> CellView:
    """A cell looked at closely: where it stands on the page, why it is doubtful. Raises Missing."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        value = next((one for one in values_of(session, document_id) if one.key == key), None) if document else None
        if document is None:
            raise Missing("There is no such document.")
        pages = pages_of(session, document_id)
        at = value.page if value and value.page is not None and value.page < len(pages) else 0
        page = pages[at] if pages else None
        rule = next((rule for rule in type_of(session, document).fields if rule.key == key), None)
        failing = [message for _, fields, message in failing_of_many(session, [document_id]) if key in fields]
        return CellView(
            rule.name if rule else key,
            rule.kind.show(value.value) if rule and value and value.value else "",
            page.id if page else None,
            at + 1,
            (page.width if page else 0) or 595,
            (page.height if page else 0) or 842,
            Box(*value.box) if value and value.box else None,
            "" if value is None else value.doubt if value.state == ValueState.DOUBTFUL else value.reason,
            failing,
        )


def exported(store: Store, ids: Sequence[int], keys: Sequence[str], form: str) -> bytes:
    """What is seen, in its order, as an XLSX or CSV file."""
    with store.transaction() as session:
        found = {one.document.id or 0: one for one in documents_by_id(session, ids)}
        values = {(one.document_id, one.key): one.value for one in values_of_many(session, ids)}
        types = _types(session, list(found.values())).values()
        known = {rule.key: rule for doc_type in types for rule in doc_type.fields}
    shown = [known[key] for key in keys if key in known]
    columns = [Column("Document"), Column("File"), Column("State")]
    columns += [Column(rule.name, rule.kind.sheet) for rule in shown]
    rows: list[list[str | None]] = [
        [f"D{number}", one.file, WORDS[one.document.state], *(values.get((number, rule.key)) for rule in shown)]
        for number in ids
        if (one := found.get(number))
    ]
    if form == "csv":
        return csv_of(columns, rows)
    book = Workbook()
    fill_sheet(book.worksheets[0], "Batch sheet", columns, rows)
    book.save(out := io.BytesIO())
    return out.getvalue()


def rows_now(store: Store, ids: Sequence[int], person_id: int) -> list[SheetRow]:
    """These documents as they stand now."""
    with store.transaction() as session:
        return _rows(session, documents_by_id(session, list(dict.fromkeys(ids))), person_id)


def _sheet(session: Session, found: Sequence[SheetDocument], person_id: int, rows: bool = True) -> Sheet:
    shown = found[:MOST_ROWS]
    types = {doc_type.key: doc_type for doc_type in _types(session, shown).values()}
    return Sheet(
        columns=_columns(list(types.values())),
        types={key: doc_type.name for key, doc_type in types.items()},
        rows=_rows(session, shown, person_id) if rows else [],
        more=len(found) - len(shown),
    )


def _types(session: Session, found: Sequence[SheetDocument]) -> dict[int, DocumentType]:
    """The revisions that the documents are read with, each once."""
    some = {one.document.revision_id: one.document for one in found}
    return {revision: type_of(session, document) for revision, document in some.items()}


def _columns(types: Sequence[DocumentType]) -> list[SheetColumn]:
    """The fields of all types, each once, those that most types have in the place of the first."""
    columns: dict[str, SheetColumn] = {}
    for doc_type in types:
        for rule in doc_type.fields:
            known = columns.get(rule.key)
            if known:
                known.types.append(doc_type.key)
            else:
                columns[rule.key] = SheetColumn(
                    key=rule.key, name=rule.name, types=[doc_type.key], sheet=rule.kind.sheet
                )
    return list(columns.values())


def _rows(session: Session, found: Sequence[SheetDocument], person_id: int) -> list[SheetRow]:
    ids = [one.document.id or 0 for one in found]
    by_revision = _types(session, found)
    types = {one.document.id or 0: by_revision[one.document.revision_id] for one in found}
    rules = {t.key: {rule.key: rule for rule in t.fields} for t in types.values()}
    failing: dict[int, set[str]] = defaultdict(set)
    problems: dict[int, str] = {}
    for number, fields, message in failing_of_many(session, ids):
        failing[number] |= set(fields[-1:])
        if not fields:
            problems.setdefault(number, message)
    cells: dict[int, dict[str, SheetCell]] = defaultdict(dict)
    for value in values_of_many(session, ids):
        rule = rules[types[value.document_id].key].get(value.key)
        if rule:
            fails = value.key in failing[value.document_id]
            cells[value.document_id][value.key] = _cell(rule, value.value, value.state, fails, value.confidence)
    return [_row(session, one, types[one.document.id or 0], cells, problems, person_id) for one in found]


def _cell(rule: FieldRule, value: str | None, state: ValueState, fails: bool, confidence: float) -> SheetCell:
    shown = rule.kind.show(value) if value else ""
    told = FAILS if fails else DOUBTFUL if state == ValueState.DOUBTFUL else SETTLED
    return SheetCell(
        shown=shown, state=told, sure=round(100 * confidence), kept=(value or "") if value != shown else ""
    )


def _row(
    session: Session, one: SheetDocument, doc_type: DocumentType, cells: Mapping[int, dict[str, SheetCell]],
    problems: Mapping[int, str], person_id: int,
) -> SheetRow:  # fmt: skip
    document = one.document
    holder = holder_name(session, document, person_id) or ""
    return SheetRow(
        id=document.id or 0, version=document.version, type=doc_type.key, file=one.file, words=WORDS[document.state],
        open=document.state == DocumentState.REVIEW and not holder, holder=holder,
        problem=problems.get(document.id or 0, ""), cells=cells[document.id or 0],
    )  # fmt: skip
