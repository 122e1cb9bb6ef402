"""Handing settled documents over: planned once, sent at least once, recorded once.

What is written, and under which names, is decided and kept before anything is written. A delivery that broke off is
sent again as planned: the files have the same content and the rows the same reference, so nothing is doubled.
"""

from __future__ import annotations

import hashlib
import io
from pathlib import Path, PurePosixPath
from typing import Any

import numpy as np
from PIL import Image
from sqlmodel import Session, select

from zestpail.core.document_type import FieldRule
from zestpail.core.reading.preparation.edits import box_of
from zestpail.core.writing.file_names import compose, never_taken
from zestpail.core.writing.notes import Note, NotesOut
from zestpail.core.writing.notes_on_pages import NoteOnPage, burnt_in
from zestpail.core.writing.searchable_pdf import PageToWrite, searchable_pdf
from zestpail.core.writing.sheets import Column, Row, add_to_csv, add_to_xlsx
from zestpail.core.writing.value_formats import delivered as delivered_value
from zestpail.delivery import Destination, Folder, Parcel, Post, Refused, SmtpPost, Taken
from zestpail.desk.delivery.table_export import planned_rows, send_rows
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of, letter_of, type_of
from zestpail.desk.documents.lane_settings import Letter
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.table_rows import rows_of
from zestpail.desk.documents.transitions import delivered, stuck, try_again
from zestpail.desk.intake.arrivals import arrive_once
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.queries.documents import pages_of
from zestpail.store.tables import (
    Delivery,
    DeliveryState,
    Document,
    DocumentState,
    FieldValue,
    Lane,
    Page,
)


def deliver(store: Store, root: Path, document_id: int, post: Post | None = None) -> bool:
    """Hand the document to its lane's folder under ``root``; returns whether it is there now.

    Where its sheet asked for it and the letter lets it, it is sent by ``post`` too.

    Does nothing if the document is not waiting to be delivered. A refusal by the destination is recorded with its
    reason and leaves the document stuck.
    """
    planned = _plan(store, root, document_id)
    if planned is None:
        return False
    letter, plan = planned
    try:
        receipt = _send(store, _folder(root, letter), letter, plan, post or SmtpPost("", ""))
    except Taken:
        _forget_plan(store, document_id)
        return deliver(store, root, document_id, post)
    except Refused as refusal:
        refuse(store, document_id, str(refusal))
        return False
    _record(store, document_id, receipt)
    return True


def deliver_again(store: Store, document_id: int, person_id: int) -> None:
    """A person asks for another attempt at a stuck document."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None:
            raise Missing("There is no such document.")
        try_again(session, document, person_id)


def _plan(store: Store, root: Path, document_id: int) -> tuple[Letter, dict[str, Any]] | None:
    """What will be written, kept with the delivery; the same again if it was planned before."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id)
        if document.state not in (DocumentState.SETTLED, DocumentState.STUCK):
            return None
        pages, values = pages_of(session, document_id), _values(session, document_id)
        kind, rows = type_of(session, document), rows_of(session, document_id)
        mail = str(document.cut.get("mail") or "")
        notes = letter_of(lane_of(session, document)).notes
        named = {"document_type": kind.name, **document.cut.get("given", {}), **{k: v for k, v in values.items() if v}}
    title = values.get("invoice_number") or f"Document {document_id}"
    pdf = store.blobs.put(searchable_pdf([page_to_write(store, page, notes) for page in pages if page.image], title))
    with store.transaction() as session:
        lane = session.get_one(Lane, lane_of(session, document).id, with_for_update=True)
        letter = letter_of(lane)
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state not in (DocumentState.SETTLED, DocumentState.STUCK):
            return None
        delivery = _delivery(session, document_id, letter.folder)
        if not delivery.planned:
            lane.counter += 1
            delivery.counter = lane.counter
            path = _free_name(session, _folder(root, letter), letter, named, delivery)
            delivery.planned = {
                "pdf": pdf,
                "path": str(path),
                "reference": f"D{document_id}",
                "hand_on": letter.hand_on,
                "channel": f"lane {lane.name}",
                "mail": mail if letter.may_mail(mail) else "",
                "sheets": [letter.sheet_of(letter.csv, kind.key), letter.sheet_of(letter.xlsx, kind.key)],
                "columns": [[field.name, _column_kind(field)] for field in kind.fields],
                "tables": planned_rows(kind, letter, rows, values, path),
                "cells": [delivered_value(values.get(field.key), field.delivered_as) for field in kind.fields],
            }
        delivery.attempts += 1
        return letter, delivery.planned


def _column_kind(field: FieldRule) -> str:
    """Real numbers and dates where they are delivered as kept, else text in the wanted form."""
    return field.kind.kind if field.delivered_as == "as it is kept" else "text"


def _folder(root: Path, letter: Letter) -> Destination:
    return Folder(root / letter.folder, locks=root / ".locks")


def _delivery(session: Session, document_id: int, destination: str) -> Delivery:
    wanted = select(Delivery).where(Delivery.document_id == document_id, Delivery.destination == destination)
    delivery = session.exec(wanted).first() or Delivery(document_id=document_id, destination=destination)
    session.add(delivery)
    return delivery


def _free_name(
    session: Session, folder: Destination, letter: Letter, values: dict[str, Any], delivery: Delivery
) -> PurePosixPath:
    """A name that neither the folder holds nor another planned delivery will take."""
    path = compose(letter.naming, values, delivery.counter, "pdf")
    others = select(Delivery.planned).where(Delivery.destination == letter.folder)
    promised = {planned["path"] for planned in session.exec(others) if planned}
    return never_taken(path, lambda name: str(name) in promised or folder.holds(name))


def _send(store: Store, folder: Destination, letter: Letter, plan: dict[str, Any], post: Post) -> dict[str, Any]:
    data = store.blobs.get(plan["pdf"])
    folder.put(PurePosixPath(plan["path"]), data)
    columns = [Column(heading, kind) for heading, kind in plan["columns"]]
    row = Row(plan["reference"], tuple(plan["cells"]))
    as_csv, as_xlsx = plan.get("sheets", (letter.csv, letter.xlsx))
    folder.rewrite(PurePosixPath(as_csv), lambda before: add_to_csv(before, columns, row))
    folder.rewrite(PurePosixPath(as_xlsx), lambda before: add_to_xlsx(before, columns, row))
    tables = send_rows(folder, plan.get("tables", []), plan["reference"])
    if plan.get("mail"):
        post.send(_parcel(plan, data))
    handed_on = _hand_on(store, plan, data) if plan.get("hand_on") else None
    return {
        "mail": plan.get("mail", ""),
        "handed_on": handed_on,
        "file": f"{letter.folder}/{plan['path']}",
        "bytes": len(data),
        "sha256": hashlib.sha256(data).hexdigest(),
        "rows": [f"{letter.folder}/{as_csv}", f"{letter.folder}/{as_xlsx}"],
        "tables": [{**one, "files": [f"{letter.folder}/{name}" for name in one["files"]]} for one in tables],
        "reference": plan["reference"],
    }


def _hand_on(store: Store, plan: dict[str, Any], data: bytes) -> int:
    """The document arrives at another lane; returns its batch there, the same however often it is sent."""
    name = PurePosixPath(plan["path"]).name
    return arrive_once(store, plan["hand_on"], name, data, plan["channel"], plan["reference"]).batch_id


def _parcel(plan: dict[str, Any], data: bytes) -> Parcel:
    """The document as an e-mail; its identity stays the same however often it is sent."""
    path = PurePosixPath(plan["path"])
    identity = hashlib.sha256(f"{plan['reference']} {plan['pdf']}".encode()).hexdigest()[:32]
    text = f"{path.name}, as it was filed.\n"
    return Parcel(plan["mail"], path.stem, text, path, data, f"{plan['reference']}.{identity}")


def _record(store: Store, document_id: int, receipt: dict[str, Any]) -> None:
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state == DocumentState.DELIVERED:
            return
        delivery = session.exec(select(Delivery).where(Delivery.document_id == document_id)).one()
        delivery.state, delivery.receipt, delivery.sent_at, delivery.problem = (
            DeliveryState.SENT,
            receipt,
            now(),
            None,
        )
        delivered(document)
        note(session, "delivered", document=document, after=receipt)


def refuse(store: Store, document_id: int, why: str) -> None:
    """Record that the document was not taken, which leaves it stuck until a person asks again."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        delivery = _delivery(session, document_id, letter_of(lane_of(session, document)).folder)
        delivery.state, delivery.problem = DeliveryState.FAILED, why
        if document.state in (DocumentState.SETTLED, DocumentState.STUCK):
            stuck(session, document, why)


def _forget_plan(store: Store, document_id: int) -> None:
    """Somebody else took the name in the meantime: plan anew."""
    with store.transaction() as session:
        session.exec(select(Delivery).where(Delivery.document_id == document_id)).one().planned = {}


def _values(session: Session, document_id: int) -> dict[str, str | None]:
    rows = session.exec(select(FieldValue).where(FieldValue.document_id == document_id))
    return {row.key: row.value for row in rows}


def page_to_write(store: Store, page: Page, notes: NotesOut = "kept here") -> PageToWrite:
    """A page as it is delivered, with what is noted on it where that is wanted."""
    with Image.open(io.BytesIO(store.blobs.get(page.image or ""))) as image:
        pixels = np.array(image.convert("L") if image.mode == "1" else image)
    reading = reading_of(store, page)
    kept = [Note.model_validate(note) for note in page.notes]
    laid = tuple(NoteOnPage(note.kind, box_of(reading, note.place), note.text, note.by) for note in kept)
    if notes == "burnt into the PDF":
        return PageToWrite(burnt_in(pixels, reading.width, laid), reading)
    return PageToWrite(pixels, reading, laid if notes == "put on the PDF as annotations" else ())
