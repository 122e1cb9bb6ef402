"""Changing values on the review desk, so that every change can be undone.

A change is written into the journal with the state before of everything that it touched; undoing one puts that back.
The audit trail tells of both.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from sqlmodel import Session

from zestpail.core.checks import Verdict
from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extract import judge
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.entries import entries_kept, forget_told, told_at
from zestpail.desk.documents.journal import undo_last, write_down
from zestpail.desk.documents.judging import values_to_judge
from zestpail.desk.documents.remembered_dividers import dividers_by_layout, put_back_dividers
from zestpail.desk.documents.table_rows import (
    TableRows,
    changed_rows,
    plain,
    put_back_rows,
    snapshot_rows,
)
from zestpail.store.columns import put_back, saved
from zestpail.store.queries.documents import checks_of, values_of
from zestpail.store.states import ValueState
from zestpail.store.tables import CheckResult, Document, FieldValue

_SAVED = (
    "value", "raw", "page", "box", "state", "confidence", "finder", "reason", "doubt", "doubtful", "settled_by_id",
)  # fmt: skip

Snapshot = dict[str, Any]


def subject_of(document_id: int) -> str:
    """What the changes of a document are written down under."""
    return f"document {document_id}"


@dataclass
class Captured:
    """What a person can change of a document, fetched once for a change."""

    session: Session
    document: Document
    doc_type: DocumentType
    values: list[FieldValue]
    checks: list[CheckResult]
    rows: TableRows


def captured(session: Session, document: Document, doc_type: DocumentType) -> Captured:
    """The document's values, checks and rows."""
    number = document.id or 0
    values, checks = values_of(session, number), checks_of(session, number)
    return Captured(session, document, doc_type, values, checks, TableRows(session, number))


def snapshot(of: Captured) -> Snapshot:
    """Everything that a person can change."""
    return {
        "values": {value.key: saved(value, _SAVED) for value in of.values},
        "waived": {check.check: check.waived_by_id for check in of.checks},
        "entries": {one.list: [one.entry, one.person_id] for one in entries_kept(of.session, of.document.id or 0)},
        "told": told_at(of.session, of.document.id or 0),
        "rows": snapshot_rows(of.rows),
        "tables": saved(of.document, ("tables",))["tables"],
        "dividers": dividers_by_layout(of.session, of.doc_type.key),
    }


def record(of: Captured, person_id: int, before: Snapshot, message: str) -> None:
    """Judge the checks anew after a change, and write the change down."""
    session, document = of.session, of.document
    session.flush()
    rejudge(of)
    after = snapshot(of)
    touched = {
        "values": {key: value for key, value in before["values"].items() if after["values"].get(key) != value},
        "waived": before["waived"],
        "entries": before["entries"],
        "told": before["told"],
        "rows": changed_rows(before["rows"], after["rows"]),
        "tables": {key: about for key, about in before["tables"].items() if after["tables"].get(key) != about},
        "dividers": {
            layout: before["dividers"].get(layout)
            for layout, grid in after["dividers"].items()
            if before["dividers"].get(layout) != grid
        },
    }
    write_down(session, subject_of(document.id or 0), message, touched, person_id)
    changed_to = {"values": {key: after["values"][key] for key in touched["values"]}, "message": message}
    note(session, "values_changed", document=document, person_id=person_id,
         before={"values": touched["values"]}, after=changed_to)  # fmt: skip


def undo(session: Session, document: Document, doc_type: DocumentType, person_id: int) -> str:
    """Undo the last change that is not undone yet; returns what it was. Raises NotDone if there is none."""
    of = captured(session, document, doc_type)

    def put_it_back(before: Snapshot) -> None:
        _put_back(of, before)
        session.flush()
        rejudge(of, before["waived"])

    entry = undo_last(session, subject_of(document.id or 0), put_it_back)
    note(session, "change_undone", document=document, person_id=person_id, after={"message": entry.message})
    return entry.message


def rejudge(of: Captured, waived: Mapping[str, int | None] | None = None) -> None:
    """Apply the checks to the values as they stand.

    A waiver stays as long as the check says the same. Values that the machine's own checks now prove are settled.
    """
    session, doc_type = of.session, of.doc_type
    results = {result.check: result for result in of.checks}
    values = {value.key: value.value for value in of.values}
    verdicts = judge(
        doc_type.checks, values_to_judge(session, of.document, doc_type, values, plain(doc_type, of.rows.all()))
    )
    of.checks = []
    for verdict in verdicts:
        old = results.pop(verdict.check, None)
        result = old or CheckResult(document_id=of.document.id or 0, check=verdict.check, passed=True, message="")
        waiver = waived.get(verdict.check) if waived is not None else result.waived_by_id
        same = result.message == verdict.message or waived is not None
        result.waived_by_id = waiver if same and not verdict.passed else None
        result.passed, result.message, result.fields = verdict.passed, verdict.message, list(verdict.fields)
        result.offers = [offer.model_dump() for offer in verdict.offers]
        session.add(result)
        of.checks.append(result)
    for code, stale in results.items():
        if not stale.about_pages:
            session.delete(stale)
            continue
        of.checks.append(stale)
        if waived is not None:
            stale.waived_by_id = waived.get(code)
    if waived is None:
        _settle_proven(doc_type, verdicts, of.values)
    session.flush()


def _settle_proven(doc_type: DocumentType, verdicts: Iterable[Verdict], values: Iterable[FieldValue]) -> None:
    passed = {verdict.check for verdict in verdicts if verdict.passed}
    proven = {key for check in doc_type.checks if check.id in passed for key in check.proves}
    for value in values:
        if value.key in proven and value.state == ValueState.DOUBTFUL:
            value.state = ValueState.SETTLED


def _put_back(of: Captured, before: Snapshot) -> None:
    values = {value.key: value for value in of.values}
    for key, kept in before["values"].items():
        put_back(values[key], kept)
    if "told" in before:
        forget_told(of.session, of.document.id or 0, before["told"])
    for one in entries_kept(of.session, of.document.id or 0):
        if one.list in before.get("entries", {}):
            one.entry, one.person_id = before["entries"][one.list]
    put_back_rows(of.rows, before.get("rows", {}))
    if before.get("tables"):
        put_back(of.document, {"tables": {**saved(of.document, ("tables",))["tables"], **before["tables"]}})
    put_back_dividers(of.session, of.doc_type.key, before.get("dividers", {}))
