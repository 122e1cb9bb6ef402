"""A document as programs get it: values, rows and checks with their places, how it stands, and its deliveries."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Any

from pydantic import BaseModel, ConfigDict
from sqlmodel import Session

from zestpail.core.document_type import DocumentType
from zestpail.core.writing.renditions import Rendition
from zestpail.delivery import Refused
from zestpail.desk.delivery.delivered_files import DeliveredFile
from zestpail.desk.delivery.drawing import rendered_now
from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.people.tokens import Holder
from zestpail.desk.programs.openness import document_for
from zestpail.store import Store
from zestpail.store.feed_tables import Taken
from zestpail.store.queries.deliveries import deliveries_of
from zestpail.store.queries.documents import checks_of, pages_of, rows_of, values_of
from zestpail.store.tables import ArrivedFile, Delivery, Document, Lane, Person

_VALUE = {
    "value": "12125.82", "raw": "12 125,82", "confidence": 0.99, "state": "settled", "page": 1,
    "box": [431.0, 655.5, 481.2, 664.8],
}  # fmt: skip
DOCUMENT: dict[str, Any] = {
    "id": 37, "batch": 12, "lane": "supplier-invoices", "file": "scan-0412.pdf", "type": "supplier-invoice",
    "revision": 3, "state": "settled", "version": 5, "arrived_at": "2026-11-30T09:12:00Z",
    "settled_at": "2026-11-30T09:15:00Z", "delivered_at": None, "settled_by": "Ines Okafor", "taken": None,
    "pages": [{"number": 1, "width": 595.0, "height": 842.0, "source": "ocr", "problem": None}],
    "fields": {"grand_total": {"name": "Grand total", **_VALUE}},
    "tables": {"lines": [{"state": "settled", "cells": {"line_total": _VALUE}}]},
    "checks": [{"key": "sum:grand_total", "passed": True, "message": "Net and tax come to the grand total.",
                "kept": False}],
    "given": {}, "deliveries": [],
}  # fmt: skip
"""A document that is made up, for the description of the API."""
DELIVERY: dict[str, Any] = {
    "destination": "folder-1", "version": 1, "state": "sent", "attempts": 1, "sent_at": "2026-11-30T09:16:00Z",
    "problem": None, "receipt": {"reference": "D37", "file": "invoices/2026/RE-40-0420.pdf", "bytes": 48211},
}  # fmt: skip


class PageTold(BaseModel):
    """A page; width and height in points."""

    number: int
    width: float
    height: float
    source: str
    problem: str | None


class ValueTold(BaseModel):
    """A value, how sure it is ([0, 1]), and where it stands: page from 1, box in points."""

    value: str | None
    raw: str
    confidence: float
    state: str
    """``settled``, or ``doubtful`` as long as a person must look at it."""
    page: int | None
    box: list[float] | None


class FieldTold(ValueTold):
    name: str


class RowTold(BaseModel):
    state: str
    cells: dict[str, ValueTold]


class CheckTold(BaseModel):
    key: str
    passed: bool
    message: str
    kept: bool
    """Whether a person let the values stand although it fails."""


class DeliveryTold(BaseModel):
    """A hand-over of a version of the document to a destination."""

    model_config = ConfigDict(json_schema_extra={"examples": [DELIVERY]})

    destination: str
    version: int
    state: str
    attempts: int
    sent_at: datetime | None
    problem: str | None
    receipt: dict[str, Any] | None


class TakenTold(BaseModel):
    """That this program has it."""

    at: datetime
    reference: str


class DocumentTold(BaseModel):
    """A document with all that is known of it."""

    model_config = ConfigDict(json_schema_extra={"examples": [DOCUMENT]})

    id: int
    batch: int
    lane: str
    file: str
    type: str
    revision: int
    state: str
    version: int
    arrived_at: datetime
    settled_at: datetime | None
    delivered_at: datetime | None
    settled_by: str | None
    taken: TakenTold | None
    pages: list[PageTold]
    fields: dict[str, FieldTold]
    tables: dict[str, list[RowTold]]
    checks: list[CheckTold]
    given: dict[str, str]
    """What sheets, barcodes and e-mails said of it."""
    deliveries: list[DeliveryTold]


def document_told(store: Store, holder: Holder, document_id: int) -> DocumentTold:
    """The document as it stands now. Raises Missing, NotAllowed."""
    with store.transaction() as session:
        document, lane = document_for(session, holder, document_id)
        return _told(session, document, lane, holder)


def deliveries_told(store: Store, holder: Holder, document_id: int) -> list[DeliveryTold]:
    """Its hand-overs, of all versions. Raises Missing, NotAllowed."""
    with store.transaction() as session:
        document_for(session, holder, document_id)
        return [_delivery(one) for one in deliveries_of(session, document_id)]


def page_of(store: Store, holder: Holder, document_id: int, number: int) -> int:
    """The id of the page of that number, from 1. Raises Missing, NotAllowed."""
    with store.transaction() as session:
        document_for(session, holder, document_id)
        found = next((page.id for page in pages_of(session, document_id) if page.position == number - 1), None)
    if found is None:
        raise Missing("There is no such page.")
    return found


def file_of(store: Store, holder: Holder, document_id: int, form: Rendition) -> DeliveredFile:
    """The document as a file in that form. Raises Missing, NotAllowed, NotDone where its values make no invoice."""
    with store.transaction() as session:
        document_for(session, holder, document_id)
    try:
        made = rendered_now(store, document_id, form)
    except Refused as problem:
        raise NotDone(str(problem)) from problem
    if made is None:
        raise NotDone("No page of this document was read yet.")
    return DeliveredFile(f"document-{document_id}{made.suffix}", made.data)


def _told(session: Session, document: Document, lane: Lane, holder: Holder) -> DocumentTold:
    number, doc_type = document.id or 0, type_of(session, document)
    person = session.get(Person, document.settled_by_id) if document.settled_by_id else None
    taken = session.get(Taken, (holder.id, number))
    return DocumentTold(
        id=number, batch=document.batch_id, lane=lane.key, file=session.get_one(ArrivedFile, document.file_id).name,
        type=doc_type.key, revision=doc_type.revision, state=document.state.value, version=document.version,
        arrived_at=document.arrived_at, settled_at=document.settled_at, delivered_at=document.delivered_at,
        settled_by=person.name if person else None,
        taken=TakenTold(at=taken.at, reference=taken.reference) if is_taken(document, taken) and taken else None,
        pages=[PageTold(number=page.position + 1, width=page.width, height=page.height, source=page.source,
                        problem=page.problem) for page in pages_of(session, number)],
        fields=_fields(session, number, doc_type), tables=_tables(session, number, doc_type),
        checks=[CheckTold(key=one.check, passed=one.passed, message=one.message, kept=one.waived_by_id is not None)
                for one in checks_of(session, number)],
        given=dict(document.origin.given),
        deliveries=[_delivery(one) for one in deliveries_of(session, number)],
    )  # fmt: skip


def is_taken(document: Document, taken: Taken | None) -> bool:
    """Whether the program has the document as it stands, not as it was before it was opened again."""
    return bool(taken and document.settled_at and taken.at >= document.settled_at)


def _fields(session: Session, document_id: int, doc_type: DocumentType) -> dict[str, FieldTold]:
    return {
        value.key: FieldTold(
            name=doc_type.names[value.key], value=value.value, raw=value.raw, confidence=value.confidence,
            state=value.state.value, **_place(value.page, value.box),
        )
        for value in values_of(session, document_id) if value.key in doc_type.names
    }  # fmt: skip


def _tables(session: Session, document_id: int, doc_type: DocumentType) -> dict[str, list[RowTold]]:
    found: dict[str, list[RowTold]] = {table.key: [] for table in doc_type.tables}
    for row in rows_of(session, document_id):
        if row.table in found:
            cells = {key: _cell(cell) for key, cell in row.cells.items()}
            found[row.table].append(RowTold(state=row.state.value, cells=cells))
    return found


def _cell(cell: dict[str, Any]) -> ValueTold:
    return ValueTold(
        value=cell["value"], raw=cell["raw"], confidence=cell["confidence"],
        state="doubtful" if cell.get("doubtful") else "settled", **_place(cell["page"], cell["box"]),
    )  # fmt: skip


def _place(page: int | None, box: Iterable[float] | None) -> dict[str, Any]:
    sides = [round(side, 1) for side in box or ()]
    return {"page": None if page is None else page + 1, "box": sides or None}


def _delivery(one: Delivery) -> DeliveryTold:
    receipt = one.receipt.model_dump(mode="json", exclude_defaults=True) if one.receipt else None
    return DeliveryTold(
        destination=one.destination, version=one.version, state=one.state.value, attempts=one.attempts,
        sent_at=one.sent_at, problem=one.problem, receipt=receipt,
    )  # fmt: skip
