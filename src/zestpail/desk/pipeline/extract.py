"""From the pages of a document to its values: found, checked, and settled or shown to a person."""

from __future__ import annotations

from functools import cache

from sqlmodel import Session

from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extract import (
    extract,
    judge,
)
from zestpail.core.extraction.extracted_value import ExtractedValue, Extraction
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.engines.second_reader import SecondLook
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.read import ReadPage, look_again
from zestpail.desk.documents.context import (
    settings_of,
    type_of,
)
from zestpail.desk.documents.entries import keep_entries
from zestpail.desk.documents.judging import values_to_judge
from zestpail.desk.documents.page_images import page_pixels
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.remembered_dividers import with_remembered_grids
from zestpail.desk.documents.same_paper import same_paper
from zestpail.desk.documents.stored_lists import StoredLists
from zestpail.desk.documents.table_rows import keep_tables
from zestpail.desk.documents.transitions import (
    give_up,
    settle,
    to_review,
)
from zestpail.desk.pipeline.given_values import with_given
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.documents import pages_of
from zestpail.store.states import DocumentState, FileState, PageState, ValueState
from zestpail.store.tables import ABOUT_PAGES, SPLIT_DOUBT, ArrivedFile, CheckResult, Document, FieldValue, Page


def extract_document(store: Store, document_id: int) -> None:
    """Find the document's values, check them, and settle it or ask for review."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id)
        if document.state != DocumentState.READING:
            return
        doc_type = with_remembered_grids(session, type_of(session, document))
        pages = pages_of(session, document_id)
        if any(page.state == PageState.WAITING for page in pages):
            return  # with the last of them it is asked for again
        if all(page.state == PageState.FAILED for page in pages):
            _refuse(session, document, pages[0].problem or "")
            return
        lane_settings = settings_of(session, document)
        given = document.origin.given
    found = extract(
        DocumentReading(tuple(reading_of(store, page) for page in pages)),
        doc_type,
        _second_look(store, pages),
        StoredLists(store.transaction),
    )
    found = with_given(found, doc_type, given)
    same = same_paper(store, doc_type, document_id, pages[0])
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state != DocumentState.READING:
            return
        if [page.id for page in pages_of(session, document_id)] != [page.id for page in pages]:
            return  # its pages were changed meanwhile; another step finds the values of those that it has now
        document.style, document.second_best, document.same_paper_id = found.style, found.runner_up, same
        session.flush()
        values, rows = {v.key: v.value for v in found.values}, {table.key: table.values for table in found.tables}
        keep_entries(session, document_id, found.entries)
        verdicts = judge(doc_type.checks, values_to_judge(session, document, doc_type, values, rows))
        doubts = _keep(session, document_id, doc_type, found.model_copy(update={"verdicts": verdicts}), lane_settings)
        doubts += keep_tables(session, document, doc_type, found.tables, lane_settings)
        doubts += _keep_page_problems(session, document, pages)
        if doubts:
            to_review(session, document, "; ".join(doubts))
        else:
            settle(session, document, None)


def leave_to_person(store: Store, document_id: int, problem: str) -> None:
    """Leave all values of the document to a person."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state == DocumentState.READING:
            doc_type = type_of(session, document)
            for at, field in enumerate(doc_type.fields):
                session.add(_row(document_id, at, ExtractedValue(key=field.key), sure=False))
            session.add(
                CheckResult(document_id=document_id, check=f"{ABOUT_PAGES}unread:0", passed=False, message=problem)
            )
            to_review(session, document, problem)


def _second_look(store: Store, pages: list[Page]) -> SecondLook:
    """The other reader on the kept images of the pages."""

    @cache
    def saved(number: int) -> ReadPage:
        return ReadPage(reading_of(store, pages[number]), page_pixels(store, pages[number])[0])

    def look(number: int, box: Box) -> str | None:
        return look_again(saved(number), box) if pages[number].image else None

    return look


def _refuse(session: Session, document: Document, problem: str) -> None:
    """Refuse the file that no page could be read of."""
    give_up(session, document, problem)
    file = session.get_one(ArrivedFile, document.file_id)
    file.state, file.problem = FileState.REFUSED, problem


def _keep(
    session: Session, document_id: int, doc_type: DocumentType, found: Extraction, lane_settings: LaneSettings
) -> list[str]:
    """Keep values and verdicts; returns what is doubtful, each as a few words."""
    needed = _needed(doc_type, found)
    for at, value in enumerate(found.values):
        sure = _sure(doc_type, value, needed, lane_settings) and not (found.unfamiliar and value.value)
        session.add(_row(document_id, at, value, sure))
    for verdict in found.verdicts:
        session.add(CheckResult(document_id=document_id, **verdict.model_dump(mode="json")))
    return doubts_of(doc_type, found, lane_settings)


def doubts_of(doc_type: DocumentType, found: Extraction, lane_settings: LaneSettings) -> list[str]:
    """What a person must look at, each as a few words: unsure values and failed checks."""
    needed = _needed(doc_type, found)
    unsure = [value for value in found.values if not _sure(doc_type, value, needed, lane_settings)]
    message = [f"{doc_type.names[v.key]} {v.confidence:.0%} sure" if v.value else doc_type.names[v.key] for v in unsure]
    if found.unfamiliar:
        message.insert(0, UNFAMILIAR)
    return message + [verdict.message for verdict in found.verdicts if not verdict.passed]


UNFAMILIAR = "this layout is unlike those that are known: every value is to be looked at"


def _sure(doc_type: DocumentType, value: ExtractedValue, needed: set[str], lane_settings: LaneSettings) -> bool:
    own = doc_type.field(value.key).review_below
    usual = lane_settings.review_below if value.key in needed else lane_settings.review_others_below
    return value.confidence >= (usual if own is None else own) if value.value else value.key not in needed


def _needed(doc_type: DocumentType, found: Extraction) -> set[str]:
    """Fields that must have a value: those said to, and those without which a sum over found values stays unproven."""
    there = {value.key for value in found.values if value.value}
    return doc_type.required(there)


def _row(document_id: int, at: int, value: ExtractedValue, sure: bool) -> FieldValue:
    saved = value.model_dump(mode="json")
    saved["box"] = saved["box"] or []
    saved["raw"] = saved["raw"].replace("\0", "")
    return FieldValue(
        document_id=document_id,
        position=at,
        state=ValueState.SETTLED if sure else ValueState.DOUBTFUL,
        **saved,
    )


def _keep_page_problems(session: Session, document: Document, pages: list[Page]) -> list[str]:
    problems = [f"Page {page.position + 1} could not be read: {page.problem}" for page in pages if page.problem]
    details = [(f"{ABOUT_PAGES}unread:{number}", problem) for number, problem in enumerate(problems, start=1)]
    details += [(SPLIT_DOUBT, f"{doubt}.")] if (doubt := document.origin.doubt) else []
    for code, problem in details:
        session.add(CheckResult(document_id=document.id or 0, check=code, passed=False, message=problem))
    return [problem for _, problem in details]
