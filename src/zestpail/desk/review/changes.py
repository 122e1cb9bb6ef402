"""Changing values on the review desk, so that every change can be undone.

A change is kept in the audit trail with the state before and after of everything that it touched; undoing one puts
the state before back, and is itself kept in the trail.
"""

from __future__ import annotations

from typing import Any

from sqlmodel import Session, col, select

from zestpail.core.checks import Arithmetic, ColumnSum
from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extract import judge
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.remembered_dividers import dividers_by_layout, put_back_dividers
from zestpail.desk.documents.table_rows import (
    changed_rows,
    plain,
    put_back_rows,
    rows_of,
    snapshot_rows,
)
from zestpail.store.queries.documents import checks_of, values_of
from zestpail.store.queries.duplicates import before_of
from zestpail.store.tables import CheckResult, Document, Event, ValueState

CHANGED, UNDONE = "changed", "undone"
_KEPT = (
    "value",
    "raw",
    "page",
    "box",
    "state",
    "confidence",
    "finder",
    "reason",
    "doubt",
    "doubtful",
    "settled_by_id",
)

Snapshot = dict[str, Any]


def snapshot(session: Session, document_id: int, type_key: str) -> Snapshot:
    """Everything that a person can change."""
    values = {v.key: {name: getattr(v, name) for name in _KEPT} for v in values_of(session, document_id)}
    waived = {c.name: c.waived_by_id for c in checks_of(session, document_id)}
    document = session.get_one(Document, document_id)
    return {
        "values": values,
        "waived": waived,
        "rows": snapshot_rows(session, document_id),
        "tables": document.tables,
        "dividers": dividers_by_layout(session, type_key),
    }


def record(
    session: Session, document: Document, kind: DocumentType, person_id: int, before: Snapshot, said: str
) -> None:
    """Judge the checks anew after a change, and keep the change."""
    session.flush()
    rejudge(session, document, kind)
    after = snapshot(session, document.id or 0, kind.key)
    touched = {
        "values": {key: value for key, value in before["values"].items() if after["values"].get(key) != value},
        "waived": before["waived"],
        "rows": changed_rows(before["rows"], after["rows"]),
        "tables": {key: about for key, about in before["tables"].items() if after["tables"].get(key) != about},
        "dividers": {
            layout: before["dividers"].get(layout)
            for layout, grid in after["dividers"].items()
            if before["dividers"].get(layout) != grid
        },
    }
    changed_to = {"values": {key: after["values"][key] for key in touched["values"]}, "said": said}
    note(session, CHANGED, document=document, person_id=person_id, before=touched, after=changed_to)


def undo(session: Session, document: Document, kind: DocumentType, person_id: int) -> str:
    """Take back the last change that is not taken back yet; returns what it was. Raises NotDone if there is none."""
    wanted = select(Event).where(Event.document_id == document.id).order_by(col(Event.id).desc())
    undone: set[int] = set()
    for event in session.exec(wanted):
        if event.what == UNDONE:
            undone.add(int(event.after["event"]))
        elif event.what == CHANGED and event.id not in undone:
            _put_back(session, document, kind.key, event.before)
            session.flush()
            rejudge(session, document, kind, event.before["waived"])
            note(session, UNDONE, document=document, person_id=person_id, after={"event": event.id})
            return str(event.after["said"])
    raise NotDone("There is nothing to take back.")


def rejudge(
    session: Session, document: Document, kind: DocumentType, waived: dict[str, int | None] | None = None
) -> None:
    """Apply the checks to the values as they stand.

    A waiver stays as long as the check says the same. Values that machine-found sums now prove are settled.
    """
    rows = values_of(session, document.id or 0)
    said_before = {c.name: c for c in checks_of(session, document.id or 0)}
    values = {row.key: row.value for row in rows}
    tables = plain(kind, rows_of(session, document.id or 0))
    verdicts = judge(kind.checks, values, kind.all_names, tables, before_of(session, document))
    for verdict in verdicts:
        old = said_before.pop(verdict.name, None)
        result = old or CheckResult(document_id=document.id or 0, name=verdict.name, passed=True, message="")
        waiver = waived.get(verdict.name) if waived is not None else result.waived_by_id
        same = result.message == verdict.message or waived is not None
        result.waived_by_id = waiver if same and not verdict.passed else None
        result.passed, result.message, result.fields = verdict.passed, verdict.message, list(verdict.fields)
        result.offers = [offer.model_dump() for offer in verdict.offers]
        session.add(result)
    for name, stale in said_before.items():
        if name.startswith("pages read"):
            if waived is not None:
                stale.waived_by_id = waived.get(name)
        else:
            session.delete(stale)
    if waived is None:
        sums = {" + ".join(check.add) + f" = {check.equals}" for check in kind.checks if isinstance(check, Arithmetic)}
        sums |= {check.named for check in kind.checks if isinstance(check, ColumnSum)}
        proven = {key for verdict in verdicts if verdict.passed and verdict.name in sums for key in verdict.fields}
        for row in rows:
            if row.key in proven and row.state == ValueState.DOUBTFUL:
                row.state = ValueState.SETTLED
    session.flush()


def _put_back(session: Session, document: Document, type_key: str, before: Snapshot) -> None:
    document_id = document.id or 0
    rows = {row.key: row for row in values_of(session, document_id)}
    for key, kept in before["values"].items():
        for name, value in kept.items():
            setattr(rows[key], name, value)
    put_back_rows(session, document_id, before.get("rows", {}))
    if before.get("tables"):
        document.tables = {**document.tables, **before["tables"]}
    put_back_dividers(session, type_key, before.get("dividers", {}))
