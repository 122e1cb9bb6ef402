"""What a trial run says of each page and document: plain values, kept with the trial."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import zip_longest
from typing import Any

from zestpail.core.classification.model import UNKNOWN
from zestpail.core.classification.pile import Sorted, SortedPile
from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extract import extract
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.read import ReadPage, look_again
from zestpail.core.separation import SplitDocument
from zestpail.delivery.rows import with_type
from zestpail.desk.documents.context import revision_for, revision_named
from zestpail.desk.documents.stored_lists import StoredLists
from zestpail.desk.documents.table_rows import doubts_of_rows
from zestpail.desk.documents.whole_types import whole_type
from zestpail.desk.lanes.destinations.tried import outgoing_of_trial, shown_by_destination
from zestpail.desk.pipeline.extract import doubts_of
from zestpail.desk.pipeline.given_values import with_given
from zestpail.desk.pipeline.page_pipeline import thumbnail_of
from zestpail.desk.pipeline.sort import type_taken, why_asked
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings

NO_TYPE = "None of the types"


@dataclass(frozen=True)
class UnreadPage(ReadPage):
    """A page of the trial that cannot be read; the others go on."""

    problem: str


def details(
    store: Store,
    lane_name: str,
    lane_settings: LaneSettings,
    pile: SortedPile,
    read: list[ReadPage],
    given: Mapping[str, str],
) -> dict[str, Any]:
    """Everything that is shown, as plain values."""
    stack = pile.split
    out = {left.page: left.why for left in stack.left_out}
    begins = {document.pages[0]: document.why for document in stack.documents}
    pages = [
        {
            "thumbnail": store.blobs.put(thumbnail_of(page.pixels)),
            "left_out": out.get(at, ""),
            "begins": begins.get(at, ""),
            "done": ", ".join(step.message for step in page.reading.preparation),
            "problem": page.problem if isinstance(page, UnreadPage) else "",
        }
        for at, page in enumerate(read)
    ]
    documents = [
        _document(store, lane_name, lane_settings, _with(document_pages, given), found, read, number)
        for number, (document_pages, found) in enumerate(zip_longest(stack.documents, pile.sorted), 1)
    ]
    return {"pages": pages, "documents": documents, "bundles": len({d.bundle for d in stack.documents} - {None})}


def _with(document: SplitDocument, given: Mapping[str, str]) -> SplitDocument:
    """The document with what its e-mail or package says of it, where its own sheets say nothing else."""
    return document.model_copy(update={"values": {**given, **document.values}})


def _taken(found: Sorted) -> str:
    """What it was taken for, in a few words: how sure that is, and what spoke for it most."""
    if found.decision.type == UNKNOWN:
        return f"{found.decision.confidence:.0%} sure"
    speaks = [reason.message for reason in found.decision.reasons if reason.speaks == "for"]
    why = f", since {'; '.join(speaks[:2])}" if speaks else ""
    return f"{found.decision.state}, {found.decision.confidence:.0%}{why}"


def _sheet(lane_settings: LaneSettings, doc_type: DocumentType) -> str:
    """The workbook that gets a row of the document; "" where none does."""
    folder = lane_settings.folder
    if folder is None or not folder.xlsx:
        return ""
    return folder.xlsx if doc_type.key == lane_settings.type else with_type(folder.xlsx, doc_type.key)


def _document(
    store: Store,
    lane_name: str,
    lane_settings: LaneSettings,
    document_pages: SplitDocument,
    sorted_as: Sorted | None,
    read: list[ReadPage],
    number: int,
) -> dict[str, Any]:
    with store.transaction() as session:
        likely = type_taken(lane_settings, sorted_as) if sorted_as else ""
        sorting = lane_settings.sorting
        held = bool(sorted_as and sorted_as.decision.type == UNKNOWN and sorting and sorting.unknown == "held")
        revision = revision_named(session, lane_settings, document_pages.type or likely)
        known = revision or revision_for(session, lane_settings)
        doc_type = whole_type(known)
        lane_settings = lane_settings.of_type(doc_type.key)
    pages = [read[at] for at in document_pages.pages]
    unread = [f"Page {at} could not be read" for at, page in enumerate(pages, 1) if isinstance(page, UnreadPage)]
    document = DocumentReading(tuple(page.reading for page in pages))
    found = with_given(
        extract(document, doc_type, lambda at, box: look_again(pages[at], box), StoredLists(store.transaction)),
        doc_type,
        document_pages.values,
    )
    values = {
        "document_type": doc_type.name,
        **document_pages.values,
        **{v.key: v.value for v in found.values if v.value},
    }
    rows = {table.key: table.values for table in found.tables}
    own = {v.key: v.value for v in found.values}
    going_out = outgoing_of_trial(lane_name, lane_settings, doc_type, own, document_pages.values, rows, number)
    doubts = [document_pages.doubt] if document_pages.doubt else []
    doubts += [why_asked(sorted_as)] if sorted_as and sorted_as.needs_person else []
    if document_pages.mail and not lane_settings.may_mail(document_pages.mail):
        doubts.append(f"its sheet asks to send it to {document_pages.mail}, an address that the lane does not allow")
    doubts += (
        [] if revision else [f"its sheet asks for the type {document_pages.type}, with which this lane does not read"]
    )
    return {
        "type": NO_TYPE if held else doc_type.name,
        "pages": len(pages),
        "why": document_pages.why,
        "taken": _taken(sorted_as) if sorted_as else "",
        "doubts": unread
        + doubts
        + ([] if held else doubts_of(doc_type, found, lane_settings))
        + ([] if held else doubts_of_rows(doc_type, found.tables, lane_settings)),
        "given": list(document_pages.values),
        "named": values,
        "type_key": doc_type.key,
        "own": own,
        "said": dict(document_pages.values),
        "table_rows": {key: list(several) for key, several in rows.items()},
        "mail": document_pages.mail if lane_settings.may_mail(document_pages.mail) else "",
        "sheet": _sheet(lane_settings, doc_type),
        "values": [[doc_type.names[v.key], doc_type.field(v.key).kind.show(v.value)] for v in found.values if v.value],
        "rows": sum(len(table.rows) for table in found.tables),
        "there": [] if held else shown_by_destination(lane_settings, going_out),
    }
