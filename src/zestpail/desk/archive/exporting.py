"""What was found, taken along: a workbook with links, made by a worker; if wanted with the documents as PDFs."""

from __future__ import annotations

import tempfile
import zipfile
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.writing.linked_sheet import LinkedSheet
from zestpail.core.writing.spreadsheets import Column
from zestpail.desk.archive.entering import enter_due
from zestpail.desk.archive.search import Wanted, found_entries
from zestpail.desk.delivery.drawing import rendered_now
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import type_names, type_of
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.archive_tables import ArchiveEntry
from zestpail.store.columns import now
from zestpail.store.jobs import defer
from zestpail.store.notices import changed
from zestpail.store.queries.access import closed_lanes
from zestpail.store.queries.blob_use import let_go
from zestpail.store.queries.daily_work import values_of_all
from zestpail.store.retention_tables import Export, ExportState
from zestpail.store.tables import ArrivedFile, Document, Lane

AT_ONCE = 500
MOST, MOST_FILES = 100_000, 1_000
"""Documents that one export takes, and those of which the files go along."""
KEPT = timedelta(days=7)
GENERAL = (
    Column("Document"), Column("File"), Column("Lane"), Column("Type"), Column("State"), Column("From or to"),
    Column("Dated", "date"), Column("Amount", "money"), Column("Arrived"),
)  # fmt: skip


@dataclass(frozen=True)
class ExportRow:
    """An export as it is listed."""

    id: int
    name: str
    files: bool
    state: ExportState
    done: int
    total: int
    problem: str
    at: datetime
    done_at: datetime | None


def ask(store: Store, wanted: Wanted, columns: Sequence[str], *, files: bool, base: str, person_id: int) -> int:
    """Have what is found taken along; returns the number of the export. Links in it begin with ``base``."""
    looked_for = {key: str(value) for key, value in wanted.model_dump(exclude_defaults=True, mode="json").items()}
    looked_for.pop("before", None)
    with store.transaction() as session:
        export = Export(
            name=name_of(looked_for), wanted=looked_for, columns=list(columns), files=files, base=base,
            person_id=person_id,
        )  # fmt: skip
        session.add(export)
        session.flush()
        note(session, "exported", person_id=person_id, after={"export": export.id, "files": files})
        defer(session, "export", export_id=export.id)
        return export.id or 0


def name_of(wanted: Mapping[str, str]) -> str:
    """What is looked for, as a name."""
    return ", ".join(wanted.values())[:120] or "everything"


def exports_of(store: Store, person_id: int) -> list[ExportRow]:
    """What the person had taken along lately, the newest first."""
    with store.transaction() as session:
        found = session.exec(select(Export).where(Export.person_id == person_id).order_by(col(Export.id).desc()))
        return [ExportRow(one.id or 0, one.name, one.files, one.state, len(one.documents), one.total, one.problem,
                          one.at, one.done_at) for one in found]  # fmt: skip


def exported_file(store: Store, export_id: int, person_id: int) -> tuple[str, bytes]:
    """Name and content of an export. Raises Missing for another person's, or one that is not there yet."""
    with store.transaction() as session:
        export = session.get(Export, export_id)
        if export is None or export.person_id != person_id or export.state != ExportState.DONE:
            raise Missing("There is no such export, or it is not done yet.")
        name = f"archive-{export_id}.{'zip' if export.files else 'xlsx'}"
        return name, store.blobs.get(export.blob)


def fail(store: Store, export_id: int, problem: str) -> None:
    """Give an export up with the reason."""
    with store.transaction() as session:
        export = session.get_one(Export, export_id)
        export.state, export.problem = ExportState.FAILED, problem
        changed(session, "archive")


def export(store: Store, export_id: int) -> None:
    """Make the file; how far it is can be seen meanwhile."""
    with store.transaction() as session:
        asked = session.get(Export, export_id)
        if asked is None or asked.state != ExportState.WAITING:
            return
    enter_due(store)
    with store.transaction() as session:
        asked = session.get_one(Export, export_id)
        wanted, closed = Wanted.model_validate(asked.wanted), closed_lanes(session, asked.person_id or 0)
        entries = _all(session, wanted, closed)
        most = MOST_FILES if asked.files else MOST
        asked.total, asked.documents = len(entries), []
    if len(entries) > most:
        fail(store, export_id, f"These are {len(entries):,} documents; one export takes {most:,} at most.")
        return
    blob = store.blobs.put(_made(store, asked, entries))
    with store.transaction() as session:
        done = session.get_one(Export, export_id, with_for_update=True)
        done.blob, done.state, done.done_at = blob, ExportState.DONE, now()
        changed(session, "archive")


def forget_old(store: Store) -> None:
    """Exports of last week are deleted."""
    with store.transaction() as session:
        for old in session.exec(select(Export).where(col(Export.at) < now() - KEPT)).all():
            let_go(session, [old.blob])
            session.delete(old)


def _all(session: Session, wanted: Wanted, closed: Any) -> list[ArchiveEntry]:
    """Everything that is found, the newest first; one more than is taken tells that there is too much."""
    found: list[ArchiveEntry] = []
    before: int | None = None
    while len(found) <= MOST:
        there = found_entries(session, wanted.model_copy(update={"before": before}), closed, AT_ONCE)
        found += there.entries
        if there.next is None:
            break
        before = there.next
    return found


def _made(store: Store, asked: Export, entries: list[ArchiveEntry]) -> bytes:
    with store.transaction() as session:
        fields = _fields(session, asked, entries)
        names, lanes = type_names(session), {lane.id or 0: lane.name for lane in session.exec(select(Lane))}
    sheet = LinkedSheet("Documents", [*GENERAL, *(column for _, column in fields)])
    with tempfile.TemporaryFile() as out, zipfile.ZipFile(out, "w") as packed:
        for at in range(0, len(entries), AT_ONCE):
            some = entries[at : at + AT_ONCE]
            for entry, row in _rows(store, some, fields, names, lanes):
                link = f"{asked.base.rstrip('/')}/archive/documents/{entry.document_id}"
                sheet.add(link, f"D{entry.document_id}", row)
            for entry in some if asked.files else ():
                packed.writestr(f"document-{entry.document_id}.pdf", _pdf(store, entry.document_id))
            _so_far(store, asked.id or 0, [entry.document_id for entry in some])
        if not asked.files:
            return sheet.saved()
        packed.writestr("documents.xlsx", sheet.saved())
        packed.close()
        out.seek(0)
        return out.read()


def _so_far(store: Store, export_id: int, documents: list[int]) -> None:
    with store.transaction() as session:
        export = session.get_one(Export, export_id, with_for_update=True)
        export.documents = [*export.documents, *documents]
        changed(session, "archive")


def _fields(session: Session, asked: Export, entries: Sequence[ArchiveEntry]) -> list[tuple[str, Column]]:
    """The fields that are columns: those chosen, or all where only one type is looked for."""
    if not entries or (not asked.columns and "type" not in asked.wanted):
        return []
    known: dict[str, DocumentType] = {}
    for entry in entries:
        if entry.type_key not in known:
            known[entry.type_key] = type_of(session, session.get_one(Document, entry.document_id))
    there = {one.key: Column(one.name, one.kind.sheet) for doc_type in known.values() for one in doc_type.fields}
    return [(key, there[key]) for key in (asked.columns or there) if key in there]


def _rows(
    store: Store, some: Sequence[ArchiveEntry], fields: Sequence[tuple[str, Column]], names: Mapping[str, str],
    lanes: Mapping[int, str],
) -> Iterator[tuple[ArchiveEntry, list[str | None]]]:  # fmt: skip
    ids = [entry.document_id for entry in some]
    with store.transaction() as session:
        wanted = select(Document, ArrivedFile.name).join(ArrivedFile, col(ArrivedFile.id) == col(Document.file_id))
        documents = {one.id: (one, name) for one, name in session.exec(wanted.where(col(Document.id).in_(ids)))}
        values: dict[int, dict[str, str | None]] = {}
        for value in values_of_all(session, ids) if fields else ():
            values.setdefault(value.document_id, {})[value.key] = value.value
    for entry in some:
        document, name = documents[entry.document_id]
        own = values.get(entry.document_id, {})
        yield entry, [
            name, lanes.get(entry.lane_id, ""), names.get(entry.type_key, entry.type_key), WORDS[document.state],
            entry.party, entry.day.isoformat() if entry.day else None,
            None if entry.amount is None else f"{entry.amount:f}", f"{entry.arrived_at:%Y-%m-%d %H:%M}",
            *(own.get(key) for key, _ in fields),
        ]  # fmt: skip


def _pdf(store: Store, document_id: int) -> bytes:
    """The document as it stands; nothing where none of it could be read."""
    made = rendered_now(store, document_id, "searchable_pdf")
    return made.data if made else b""
