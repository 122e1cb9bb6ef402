"""Samples of a document type: added by hand or from a batch, read at once, labelled with what is right."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from sqlmodel import Session, col, func, select

from zestpail.core.evaluation.proof import Sample as ProofSample
from zestpail.core.problems import Unreadable
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.opening import count_pages
from zestpail.core.reading.page import PageReading, unpacked
from zestpail.core.reading.preparation.edits import PageEdits
from zestpail.core.writing.mail_pages import readable
from zestpail.core.writing.searchable_pdf import searchable_pdf
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.searchable_pages import page_to_write
from zestpail.desk.intake.arrivals import shown_name
from zestpail.desk.pipeline.page_pipeline import PageWanted, read_and_keep
from zestpail.desk.types.drafts import draft_of
from zestpail.store import Blobs, Store
from zestpail.store.jobs import Priority, defer
from zestpail.store.notices import changed
from zestpail.store.queries.documents import values_of
from zestpail.store.queries.samples import pages_of_sample, samples_of
from zestpail.store.states import PageState, SampleRole, SampleState
from zestpail.store.tables import ArrivedFile, Document, Page, Sample

READ_OFF = ("place", "state", "problem", "image", "thumbnail", "reading", "width", "height", "source")
"""What a page has of its reading, which it takes along."""


@dataclass(frozen=True)
class Label:
    """What is right for one field of a sample: a value and where it stands; no value where rightly nothing is there."""

    value: str | None
    page: int | None = None
    box: Box | None = None


def add_sample(store: Store, type_key: str, name: str, data: bytes, person_id: int) -> int:
    """Keep a file as a sample and put it to reading; returns its number. Raises Missing if there is no such type."""
    with store.transaction() as session:
        draft_of(session, type_key)
    return keep_sample(store, type_key, name, data, person_id)


def keep_sample(store: Store, type_key: str, name: str, data: bytes, person_id: int) -> int:
    """The same without asking whether the type is there; a file that is a sample already is not taken twice."""
    try:
        data = readable(name, data, store.limits)
    except Unreadable as problem:
        raise NotDone(f"{shown_name(name)}: {problem}") from problem
    blob = store.blobs.put(data)
    with store.transaction() as session:
        _once(session, type_key, shown_name(name), blob)
        sample = Sample(type_key=type_key, name=shown_name(name), blob=blob)
        session.add(sample)
        session.flush()
        note(session, "sample_added", person_id=person_id, after={"type": type_key, "file": sample.name})
        defer(session, "open_sample", priority=Priority.OPEN_SAMPLE, sample_id=sample.id)
        return sample.id or 0


def add_from_batch(store: Store, type_key: str, document_id: int, person_id: int) -> int:
    """Take a document of a batch as a sample, with the pages as they were read. Raises Missing.

    What a person reviewed of it are its labels. Where its pages are not the whole file as it arrived, the sample's file
    is made of them: what a person blacked out, and other documents of the pile, do not travel with it.
    """
    own = _file_of_its_own(store, document_id)
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None:
            raise Missing("There is no such document.")
        draft_of(session, type_key)
        file = session.get_one(ArrivedFile, document.file_id)
        _once(session, type_key, file.name, own or file.blob)
        sample = Sample(
            type_key=type_key, name=file.name, blob=own or file.blob, state=SampleState.READY, document_id=document_id,
            truth=_reviewed(session, document),
        )  # fmt: skip
        session.add(sample)
        session.flush()
        for at, page in enumerate(_read_pages(session, document_id)):
            copy = Page(
                sample_id=sample.id,
                position=page.position,
                file_index=at if own else page.file_index,
                edits=PageEdits() if own else page.edits,
                **{name: getattr(page, name) for name in READ_OFF},
            )
            session.add(copy)
        note(session, "sample_added", person_id=person_id, after={"type": type_key, "file": file.name})
        return sample.id or 0


def _reviewed(session: Session, document: Document) -> dict[str, Any]:
    """The values of a document that somebody reviewed, as labels; none of one that nobody did."""
    if document.settled_by_id is None:
        return {}
    return {
        value.key: {"value": value.value, "page": value.page if value.value else None, "box": value.box}
        for value in values_of(session, document.id or 0)
    }


def _once(session: Session, type_key: str, name: str, blob: str) -> None:
    """Raises NotDone where the same file is a sample of the type already."""
    same = select(Sample).where(Sample.type_key == type_key, Sample.blob == blob)
    known = session.exec(same.where(Sample.state != SampleState.REFUSED)).first()
    if known:
        raise NotDone(f"{name} is a sample already, as {known.name}.")


def _read_pages(session: Session, document_id: int) -> list[Page]:
    wanted = select(Page).where(Page.document_id == document_id, Page.state == PageState.READ)
    return list(session.exec(wanted.order_by(col(Page.position))))


def _file_of_its_own(store: Store, document_id: int) -> str | None:
    """The document's pages as a PDF, kept; None where they are its whole file, untouched."""
    with store.transaction() as session:
        pages = _read_pages(session, document_id)
        files = {page.file_id for page in pages}
        of_file = session.exec(select(func.count()).select_from(Page).where(col(Page.file_id).in_(files))).one()
    if not pages or (
        len(files) == 1 and of_file == len(pages) and not any(page.edits != PageEdits() for page in pages)
    ):
        return None
    return store.blobs.put(searchable_pdf([page_to_write(store, page) for page in pages], f"Document {document_id}"))


def open_sample(store: Store, sample_id: int) -> None:
    """Count the sample's pages and put them to reading, or say why it cannot be read."""
    with store.transaction() as session:
        sample = session.get_one(Sample, sample_id)
        if sample.state != SampleState.WAITING or pages_of_sample(session, sample_id):
            return
        blob = sample.blob
    try:
        pages, problem = count_pages(store.blobs.get(blob), store.limits), None
    except Unreadable as refusal:
        pages, problem = 0, str(refusal)
    with store.transaction() as session:
        sample = session.get_one(Sample, sample_id, with_for_update=True)
        if problem:
            sample.state, sample.problem = SampleState.REFUSED, problem
        elif not pages_of_sample(session, sample_id):
            for at in range(pages):
                page = Page(sample_id=sample_id, position=at, file_index=at)
                session.add(page)
                session.flush()
                defer(session, "read_sample_page", priority=Priority.READ_SAMPLE, page_id=page.id)
        changed(session, f"type {sample.type_key}", "today")


def read_sample_page(store: Store, page_id: int) -> None:
    """Read one page of a sample; with the last one the sample is ready."""
    with store.transaction() as session:
        page = session.get_one(Page, page_id)
        sample = session.get_one(Sample, page.sample_id)
        if page.state != PageState.WAITING:
            return
        wanted = PageWanted(sample.blob, page.file_index, limits=store.limits)
    finish_sample_page(store, page_id, read_and_keep(store.blobs, wanted))


def finish_sample_page(store: Store, page_id: int, saved: Mapping[str, object]) -> None:
    """Write down what came of reading a page; the sample is locked, so that two last pages see each other."""
    with store.transaction() as session:
        page = session.get_one(Page, page_id)
        sample = session.get_one(Sample, page.sample_id, with_for_update=True)
        session.refresh(page)
        if page.state != PageState.WAITING:
            return
        page.sqlmodel_update(dict(saved))
        session.flush()
        pages = pages_of_sample(session, sample.id or 0)
        if all(one.state == PageState.FAILED for one in pages):
            sample.state, sample.problem = SampleState.REFUSED, pages[0].problem
        elif all(one.state != PageState.WAITING for one in pages):
            sample.state = SampleState.READY
        changed(session, f"type {sample.type_key}", "today")


def refuse_sample(store: Store, sample_id: int, problem: str) -> None:
    """Give the sample up with the reason."""
    with store.transaction() as session:
        sample = session.get_one(Sample, sample_id, with_for_update=True)
        sample.state, sample.problem = SampleState.REFUSED, problem
        changed(session, f"type {sample.type_key}")


def label(store: Store, sample_id: int, key: str, right: Label | None) -> None:
    """Say what is right for a field of the sample; None forgets it. Raises Missing."""
    with store.transaction() as session:
        put_label(session, sample_id, key, kept_label(right))


def put_label(session: Session, sample_id: int, key: str, saved: dict[str, Any] | None) -> dict[str, Any] | None:
    """The same with a label as it is kept, within a transaction; returns the one before. Raises Missing."""
    sample = _sample(session, sample_id)
    before: dict[str, Any] | None = sample.truth.get(key)
    truth = {name: one for name, one in sample.truth.items() if name != key}
    sample.truth = truth if saved is None else {**truth, key: saved}
    changed(session, f"type {sample.type_key}")
    return before


def kept_label(right: Label | None) -> dict[str, Any] | None:
    """A label as it is kept."""
    return {"value": right.value, "page": right.page, "box": list(right.box) if right.box else []} if right else None


def set_role(store: Store, sample_id: int, role: str) -> None:
    """Use the sample for training or for testing only. Raises NotDone for any other role."""
    if role not in list(SampleRole):
        raise NotDone("A sample is for training or for testing.")
    with store.transaction() as session:
        sample = _sample(session, sample_id)
        sample.role = SampleRole(role)
        changed(session, f"type {sample.type_key}")


def remove_sample(store: Store, sample_id: int, person_id: int) -> str:
    """Take a sample away with its labels, keeping its file's blob and a note of it; returns its type's key."""
    with store.transaction() as session:
        sample = _sample(session, sample_id)
        for page in pages_of_sample(session, sample_id):
            session.delete(page)
        session.flush()
        saved = {"type": sample.type_key, "file": sample.name, "blob": sample.blob, "truth": sample.truth}
        note(session, "sample_removed", person_id=person_id, before=saved)
        session.delete(sample)
        changed(session, f"type {sample.type_key}")
        return sample.type_key


def proof_samples(store: Store, session: Session, type_key: str) -> list[ProofSample]:
    """The samples that are read, with their truth, as the engine takes them."""
    ready = [sample for sample in samples_of(session, type_key) if sample.state == SampleState.READY]
    found = select(Page).where(col(Page.sample_id).in_([s.id for s in ready]), Page.state == PageState.READ)
    readings: dict[int, list[str]] = {}
    for page in session.exec(found.order_by(col(Page.sample_id), col(Page.position))):
        readings.setdefault(page.sample_id or 0, []).append(page.reading or "")
    return [
        ProofSample(
            s.id or 0,
            document_of(store.blobs, tuple(readings.get(s.id or 0, ()))),
            {key: saved["value"] for key, saved in s.truth.items()},
        )
        for s in ready
    ]


@lru_cache(maxsize=600)
def document_of(blobs: Blobs, readings: tuple[str, ...]) -> DocumentReading:
    """The document of these kept readings; lines and words are worked out once for all edits."""
    return DocumentReading(tuple(_reading(blobs, name) for name in readings))


def _reading(blobs: Blobs, name: str) -> PageReading:
    return unpacked(blobs.get(name))


def _sample(session: Session, sample_id: int) -> Sample:
    sample = session.get(Sample, sample_id, with_for_update=True)
    if sample is None:
        raise Missing("There is no such sample.")
    return sample
