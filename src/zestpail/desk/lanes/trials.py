"""A trial run: what a lane's letter would do with a file, sentence by sentence. Nothing is kept or delivered by it."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import zip_longest
from typing import Any

import numpy as np
from sqlmodel import Session, col, select

from zestpail.core.classification.cues import Told
from zestpail.core.classification.model import UNKNOWN
from zestpail.core.classification.pile import Sorted, SortedPile, sort_pile
from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extract import extract
from zestpail.core.problems import Unreadable
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import count_pages
from zestpail.core.reading.read import ReadPage, look_again
from zestpail.core.separation import SplitDocument, SplitResult, split_stack
from zestpail.core.writing.file_names import compose, never_taken
from zestpail.delivery.rows import with_type
from zestpail.desk.documents.context import lane_of_key, revision_for, revision_named
from zestpail.desk.documents.lane_classifier import taught_by
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import NOTHING_READ
from zestpail.desk.documents.table_rows import doubts_of_rows
from zestpail.desk.intake.arrivals import shown_name
from zestpail.desk.lanes.letter import draft_of
from zestpail.desk.lanes.records.tried import records_tried
from zestpail.desk.pipeline.extract import doubts_of
from zestpail.desk.pipeline.given_values import with_given
from zestpail.desk.pipeline.page_pipeline import PageWanted, read_opened, thumbnail_of
from zestpail.desk.pipeline.sort import type_taken, why_asked
from zestpail.store import Store
from zestpail.store.jobs import Priority, defer
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.notices import changed
from zestpail.store.tables import LaneTrial

MOST_PAGES = 200
NO_TYPE = "None of the types"


@dataclass(frozen=True)
class _Unread(ReadPage):
    """A page of the trial that cannot be read; the others go on."""

    problem: str


@dataclass(frozen=True)
class TrialView:
    id: int
    name: str
    pages: int
    read: int
    done: bool
    problem: str
    result: dict[str, Any]


def begin_trial(store: Store, key: str, name: str, data: bytes, person_id: int) -> int:
    """Try the lane's draft on a file; a worker does it. The trial before this one is forgotten."""
    blob = store.blobs.put(data)
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        for old in session.exec(select(LaneTrial).where(LaneTrial.lane_id == lane.id)):
            session.delete(old)
        trial = LaneTrial(lane_id=lane.id or 0, name=shown_name(name), blob=blob, person_id=person_id,
                          settings=draft_of(lane))  # fmt: skip
        session.add(trial)
        session.flush()
        defer(session, "try_lane", priority=Priority.OPEN, trial_id=trial.id)
        return trial.id or 0


def trial_of(store: Store, key: str) -> TrialView | None:
    """The lane's trial as it stands. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        found = session.exec(select(LaneTrial).where(LaneTrial.lane_id == lane.id).order_by(col(LaneTrial.id).desc()))
        trial = found.first()
        if trial is None:
            return None
        return TrialView(trial.id or 0, trial.name, trial.pages, trial.read, bool(trial.result or trial.problem),
                         trial.problem, trial.result)  # fmt: skip


def trial_thumbnail(store: Store, trial_id: int, number: int) -> bytes:
    """The picture of a page of a trial, a JPEG. Raises Missing."""
    with store.transaction() as session:
        trial = session.get(LaneTrial, trial_id)
        pages = trial.result.get("pages", []) if trial else []
    if not 0 <= number < len(pages):
        raise Missing("There is no such page.")
    return store.blobs.get(pages[number]["thumbnail"])


def run_trial(store: Store, trial_id: int) -> None:
    """Read, cut and capture as the letter says, and keep only what is to be said of it."""
    with store.transaction() as session:
        trial = session.get(LaneTrial, trial_id)
        if trial is None or trial.result or trial.problem:
            return
        lane_settings, blob, name = trial.settings, trial.blob, trial.name
    try:
        data = store.blobs.get(blob)
        count = count_pages(data)
        if count > MOST_PAGES:
            raise NotDone(f"It has {count} pages; a trial takes at most {MOST_PAGES}.")
        read = [_page(store, trial_id, data, at, count, lane_settings) for at in range(count)]
        result = _details(store, lane_settings, _cut(store, lane_settings, read, name), read)
    except (Unreadable, NotDone) as problem:
        end_trial(store, trial_id, str(problem))
        return
    with store.transaction() as session:
        _end(session, trial_id, "", result)


def end_trial(store: Store, trial_id: int, problem: str) -> None:
    """The trial comes to nothing, for a reason."""
    with store.transaction() as session:
        _end(session, trial_id, problem, {})


def _end(session: Session, trial_id: int, problem: str, result: dict[str, Any]) -> None:
    trial = session.get(LaneTrial, trial_id)
    if trial:
        trial.problem, trial.result = problem, result
        changed(session, f"lane trial {trial_id}")


def _page(store: Store, trial_id: int, data: bytes, at: int, count: int, lane_settings: LaneSettings) -> ReadPage:
    try:
        read = read_opened(data, PageWanted("", at, lane_settings.reading, lane_settings.cleaning))
    except Unreadable as problem:
        read = _Unread(NOTHING_READ, np.full((842, 595), 255, np.uint8), str(problem))
    with store.transaction() as session:
        trial = session.get(LaneTrial, trial_id)
        if trial is None:
            raise NotDone("It was given up for another trial.")
        trial.pages, trial.read = count, at + 1
        changed(session, f"lane trial {trial_id}")
    return read


def _cut(store: Store, lane_settings: LaneSettings, read: list[ReadPage], name: str) -> SortedPile:
    """Where documents begin, and what each is taken for where the lane sorts by look."""
    pages = [page.reading for page in read]
    if lane_settings.sorting:
        with store.transaction() as session:
            taught = taught_by(session, lane_settings.sorting)
        return sort_pile(pages, lane_settings.separation, taught, Told(file_name=name))
    if lane_settings.separation.each_file:
        whole = SplitDocument(pages=tuple(range(len(pages))), why="the file")
        return SortedPile(split=SplitResult(documents=(whole,)))
    return SortedPile(split=split_stack(pages, lane_settings.separation))


def _details(store: Store, lane_settings: LaneSettings, pile: SortedPile, read: list[ReadPage]) -> dict[str, Any]:
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
            "problem": page.problem if isinstance(page, _Unread) else "",
        }
        for at, page in enumerate(read)
    ]
    taken: set[str] = set()
    documents = [
        _document(store, lane_settings, document_pages, found, read, number, taken)
        for number, (document_pages, found) in enumerate(zip_longest(stack.documents, pile.sorted), 1)
    ]
    return {"pages": pages, "documents": documents, "bundles": len({d.bundle for d in stack.documents} - {None})}


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
    if folder is None:
        return ""
    return folder.xlsx if doc_type.key == lane_settings.type else with_type(folder.xlsx, doc_type.key)


def _document(
    store: Store,
    lane_settings: LaneSettings,
    document_pages: SplitDocument,
    sorted_as: Sorted | None,
    read: list[ReadPage],
    number: int,
    taken: set[str],
) -> dict[str, Any]:
    with store.transaction() as session:
        likely = type_taken(lane_settings, sorted_as) if sorted_as else ""
        sorting = lane_settings.sorting
        held = bool(sorted_as and sorted_as.decision.type == UNKNOWN and sorting and sorting.unknown == "held")
        revision = revision_named(session, lane_settings, document_pages.type or likely)
        known = revision or revision_for(session, lane_settings)
        doc_type = DocumentType.model_validate(known.body)
        lane_settings = lane_settings.of_type(doc_type.key)
    pages = [read[at] for at in document_pages.pages]
    unread = [f"Page {at} could not be read" for at, page in enumerate(pages, 1) if isinstance(page, _Unread)]
    document = DocumentReading(tuple(page.reading for page in pages))
    found = with_given(
        extract(document, doc_type, lambda at, box: look_again(pages[at], box)), doc_type, document_pages.values
    )
    values = {
        "document_type": doc_type.name,
        **document_pages.values,
        **{v.key: v.value for v in found.values if v.value},
    }
    path = never_taken(compose(lane_settings.naming, values, number, "pdf"), lambda name: str(name) in taken)
    taken.add(str(path))
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
        "path": str(path),
        "mail": document_pages.mail if lane_settings.may_mail(document_pages.mail) else "",
        "sheet": _sheet(lane_settings, doc_type),
        "values": [[doc_type.names[v.key], doc_type.field(v.key).kind.show(v.value)] for v in found.values if v.value],
        "rows": sum(len(table.rows) for table in found.tables),
        "records": [] if held else records_tried(lane_settings, values),
    }
