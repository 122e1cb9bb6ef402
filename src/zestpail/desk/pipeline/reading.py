"""What a worker does with an arrived file: open it, read its pages, find its values. Each step can be done twice."""

from __future__ import annotations

import io
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from sqlmodel import Session, select

from zestpail.core.checks import Arithmetic, Needed
from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extract import (
    Capture,
    CapturedValue,
    capture,
    judge,
)
from zestpail.core.problems import Unreadable
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.engines.second_reader import SecondLook
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.preparation.edits import ByHand
from zestpail.core.reading.preparation.prepare import bitonal
from zestpail.core.reading.read import ReadPage, look_again
from zestpail.core.reading.read import read_page as read_opened_page
from zestpail.core.reading.unpacking import plain_text, unpacked_files
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import (
    lane_of,
    lane_of_file,
    letter_of,
    type_of,
)
from zestpail.desk.documents.lane_settings import Letter
from zestpail.desk.documents.page_images import page_pixels
from zestpail.desk.documents.page_readings import forget_unused, reading_of
from zestpail.desk.documents.remembered_dividers import with_remembered_grids
from zestpail.desk.documents.table_rows import keep_tables
from zestpail.desk.documents.transitions import (
    CAPTURE,
    give_up,
    settle,
    to_review,
)
from zestpail.desk.intake.unpacking import unpack
from zestpail.desk.pipeline.given_values import with_given
from zestpail.desk.pipeline.split import CUT, begin_pages
from zestpail.store import Store
from zestpail.store.jobs import defer
from zestpail.store.queries.documents import pages_of
from zestpail.store.queries.duplicates import before_of
from zestpail.store.tables import (
    ArrivedFile,
    CheckResult,
    Document,
    DocumentState,
    FieldValue,
    FileState,
    Page,
    PageState,
    ValueState,
)

THUMBNAIL = 220
"""Pixels on the longer side."""


def open_file(store: Store, file_id: int) -> None:
    """Count the file's pages and put them to reading, unpack what is packed, or refuse it with the reason."""
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id)
        if file.state != FileState.WAITING:
            return
        blob, name, inside = file.blob, file.name, file.of_id is not None
    try:
        data = store.blobs.get(blob)
        package = None if inside else plain_text(name, data) or unpacked_files(data)
        pages, problem = 0 if package else count_pages(data), None
    except Unreadable as refusal:
        package, pages, problem = None, 0, str(refusal)
    if package:
        unpack(store, file_id, package)
        return
    if problem:
        refuse_file(store, file_id, problem)
        return
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id, with_for_update=True)
        if file.state == FileState.WAITING:
            begin_pages(session, file, pages)


def refuse_file(store: Store, file_id: int, problem: str) -> None:
    """Keep the file, but do nothing with it; the reason is shown with it."""
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id, with_for_update=True)
        if file.state == FileState.WAITING:
            file.state, file.problem = FileState.REFUSED, problem
            note(session, "refused", batch_id=file.batch_id, after={"file": file.name, "why": problem})


def read_page(store: Store, page_id: int) -> None:
    """Read one page and keep its reading and prepared image; with the last page, find the document's values."""
    with store.transaction() as session:
        page = session.get_one(Page, page_id)
        if page.state != PageState.WAITING:
            return
        file, index, by_hand = session.get_one(ArrivedFile, page.file_id), page.file_index, page.by_hand
        letter = letter_of(lane_of_file(session, file))
    try:
        opened = open_page(store.blobs.get(file.blob), index)
        read = read_opened_page(
            opened, letter.reading, by_hand=ByHand.model_validate(by_hand), cleaning=letter.cleaning
        )
    except Unreadable as problem:
        fail_page(store, page_id, str(problem))
        return
    kept = keep_read(store, read)
    with store.transaction() as session:
        page = _page_to_finish(session, page_id)
        wanted = page.state == PageState.WAITING and page.by_hand == by_hand
        if wanted:
            page.sqlmodel_update(kept)
            _page_finished(session, page)
    if not wanted:  # it was changed meanwhile: nothing of what is blacked out now may stay behind
        forget_unused(store, (kept["image"], kept["thumbnail"], kept["reading"]))


def keep_read(store: Store, read: ReadPage) -> dict[str, Any]:
    """Keep what was read of a page; returns what its row is then to say."""
    return {
        "state": PageState.READ,
        "image": store.blobs.put(master(read.pixels)),
        "thumbnail": store.blobs.put(thumbnail_of(read.pixels)),
        "reading": store.blobs.put(read.reading.packed()),
        "width": read.reading.width,
        "height": read.reading.height,
        "source": read.reading.source,
    }


def fail_page(store: Store, page_id: int, problem: str) -> None:
    """Go on without a page that cannot be read; its document asks for a person."""
    with store.transaction() as session:
        page = _page_to_finish(session, page_id)
        if page.state == PageState.WAITING:
            page.state, page.problem = PageState.FAILED, problem
            _page_finished(session, page)


def _page_to_finish(session: Session, page_id: int) -> Page:
    """The page, with its file locked: two workers that finish its last pages must see each other's."""
    page = session.get_one(Page, page_id)
    session.get_one(ArrivedFile, page.file_id, with_for_update=True)
    session.refresh(page)
    return page


def _page_finished(session: Session, page: Page) -> None:
    """Tell of it; with the last page of a document find its values, with the last one of a pile cut it."""
    session.flush()
    document = session.get(Document, page.document_id) if page.document_id else None
    file = session.get_one(ArrivedFile, page.file_id)
    note(session, "page read" if page.state == PageState.READ else "page not read", document=document,
         batch_id=file.batch_id,
         after={"page": page.file_index + 1, "source": page.source, "problem": page.problem})  # fmt: skip
    together = Page.document_id == page.document_id if document else Page.pile_id == page.pile_id
    waiting = select(Page.id).where(together, Page.state == PageState.WAITING)
    if session.exec(waiting).first() is not None:
        return
    if document and file.state != FileState.CUT:
        defer(session, "capture", priority=CAPTURE, document_id=document.id)
    elif page.left_out is None and file.state != FileState.CUT:
        defer(session, "separate", priority=CAPTURE, file_id=file.id)


def capture_document(store: Store, document_id: int) -> None:
    """Find the document's values, check them, and settle it or ask for review."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id)
        if document.state != DocumentState.READING:
            return
        kind = with_remembered_grids(session, type_of(session, document))
        pages = pages_of(session, document_id)
        if any(page.state == PageState.WAITING for page in pages):
            return  # with the last of them it is asked for again
        if all(page.state == PageState.FAILED for page in pages):
            _refuse(session, document, pages[0].problem or "")
            return
        letter = letter_of(lane_of(session, document))
        given = dict(document.cut.get("given", {}))
    found = capture(DocumentReading(tuple(reading_of(store, page) for page in pages)), kind, _second_look(store, pages))
    found = with_given(found, kind, given)
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state != DocumentState.READING:
            return
        if [page.id for page in pages_of(session, document_id)] != [page.id for page in pages]:
            return  # the pile was mended meanwhile; another step finds the values of its pages as they lie now
        document.style = found.style.model_dump(mode="json")
        document.second_best = found.runner_up.model_dump(mode="json") if found.runner_up else {}
        session.flush()
        values, rows = {v.key: v.value for v in found.values}, {table.key: table.values for table in found.tables}
        verdicts = judge(kind.checks, values, kind.all_names, rows, before_of(session, document))
        doubts = _keep(session, document_id, kind, found.model_copy(update={"verdicts": verdicts}), letter)
        doubts += keep_tables(session, document, kind, found.tables, letter)
        doubts += _keep_page_problems(session, document, pages)
        if doubts:
            to_review(session, document, "; ".join(doubts))
        else:
            settle(session, document, None)


def capture_nothing(store: Store, document_id: int, problem: str) -> None:
    """Leave all values of the document to a person."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state == DocumentState.READING:
            kind = type_of(session, document)
            for at, field in enumerate(kind.fields):
                session.add(_row(document_id, at, CapturedValue(key=field.key), sure=False))
            session.add(CheckResult(document_id=document_id, name="pages read 0", passed=False, message=problem))
            to_review(session, document, problem)


def _second_look(store: Store, pages: list[Page]) -> SecondLook:
    """The other reader on the kept images of the pages."""

    @cache
    def kept(number: int) -> ReadPage:
        return ReadPage(reading_of(store, pages[number]), page_pixels(store, pages[number])[0])

    def look(number: int, box: Box) -> str | None:
        return look_again(kept(number), box) if pages[number].image else None

    return look


def _refuse(session: Session, document: Document, problem: str) -> None:
    """Refuse the file that no page could be read of."""
    give_up(session, document, problem)
    file = session.get_one(ArrivedFile, document.file_id)
    file.state, file.problem = FileState.REFUSED, problem


def _keep(session: Session, document_id: int, kind: DocumentType, found: Capture, letter: Letter) -> list[str]:
    """Keep values and verdicts; returns what is doubtful, each as a few words."""
    needed = _needed(kind, found)
    for at, value in enumerate(found.values):
        session.add(_row(document_id, at, value, _sure(kind, value, needed, letter)))
    for verdict in found.verdicts:
        session.add(CheckResult(document_id=document_id, **verdict.model_dump(mode="json")))
    return doubts_of(kind, found, letter)


def doubts_of(kind: DocumentType, found: Capture, letter: Letter) -> list[str]:
    """What a person must look at, each as a few words: unsure values and failed checks."""
    needed = _needed(kind, found)
    unsure = [value for value in found.values if not _sure(kind, value, needed, letter)]
    said = [f"{kind.names[v.key]} {v.confidence:.0%} sure" if v.value else kind.names[v.key] for v in unsure]
    return said + [verdict.message for verdict in found.verdicts if not verdict.passed]


def _sure(kind: DocumentType, value: CapturedValue, needed: set[str], letter: Letter) -> bool:
    own = kind.field(value.key).review_below
    usual = letter.review_below if value.key in needed else letter.review_others_below
    return value.confidence >= (usual if own is None else own) if value.value else value.key not in needed


def _needed(kind: DocumentType, found: Capture) -> set[str]:
    """Fields that must have a value: those said to, and those without which a sum over found values stays unproven."""
    there = {value.key for value in found.values if value.value}
    needed = {check.field for check in kind.checks if isinstance(check, Needed)}
    for check in kind.checks:
        if isinstance(check, Arithmetic) and there & set(check.touches):
            needed |= set(check.touches)
    return needed


def _row(document_id: int, at: int, value: CapturedValue, sure: bool) -> FieldValue:
    kept = value.model_dump(mode="json")
    kept["box"] = kept["box"] or []
    kept["raw"] = kept["raw"].replace("\0", "")
    return FieldValue(
        document_id=document_id,
        position=at,
        state=ValueState.SETTLED if sure else ValueState.DOUBTFUL,
        **kept,
    )


def _keep_page_problems(session: Session, document: Document, pages: list[Page]) -> list[str]:
    problems = [f"Page {page.position + 1} could not be read: {page.problem}" for page in pages if page.problem]
    told = [(f"pages read {number}", problem) for number, problem in enumerate(problems, start=1)]
    told += [(CUT, f"{doubt}.")] if (doubt := document.cut.get("doubt")) else []
    for name, problem in told:
        session.add(CheckResult(document_id=document.id or 0, name=name, passed=False, message=problem))
    return [problem for _, problem in told]


def master(pixels: NDArray[np.uint8]) -> bytes:
    """The prepared page as it is kept: G4 for bitonal pages, lightly packed PNG for others."""
    out = io.BytesIO()
    image = Image.fromarray(pixels)
    if bitonal(pixels):
        image.convert("1", dither=Image.Dither.NONE).save(out, "TIFF", compression="group4")
    else:
        image.save(out, "PNG", compress_level=1)
    return out.getvalue()


def thumbnail_of(pixels: NDArray[np.uint8]) -> bytes:
    """The page as a small JPEG."""
    image = Image.fromarray(pixels)
    image.thumbnail((THUMBNAIL, THUMBNAIL), Image.Resampling.BOX, reducing_gap=2.0)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=70)
    return out.getvalue()
