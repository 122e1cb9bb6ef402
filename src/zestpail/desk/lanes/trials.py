"""A trial run: what a lane's letter would do with a file, sentence by sentence. Nothing is kept or delivered by it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extract import capture
from zestpail.core.problems import Unreadable
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.read import ReadPage, look_again, read_page
from zestpail.core.separation import Pile, PiledDocument, separated
from zestpail.core.writing.file_names import compose, never_taken
from zestpail.desk.documents.context import lane_of_key, revision_for, revision_named
from zestpail.desk.documents.lane_settings import Letter
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import NOTHING_READ
from zestpail.desk.documents.table_rows import doubts_of_rows
from zestpail.desk.documents.transitions import OPEN
from zestpail.desk.intake.arrivals import shown_name
from zestpail.desk.lanes.letter import draft_of
from zestpail.desk.pipeline.given_values import with_given
from zestpail.desk.pipeline.reading import doubts_of, thumbnail_of
from zestpail.store import Store
from zestpail.store.jobs import defer
from zestpail.store.notices import changed
from zestpail.store.tables import LaneTrial

MOST_PAGES = 200


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
                          letter=draft_of(lane).model_dump(mode="json"))  # fmt: skip
        session.add(trial)
        session.flush()
        defer(session, "try_lane", priority=OPEN, trial_id=trial.id)
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
        letter, blob = Letter.model_validate(trial.letter), trial.blob
    try:
        data = store.blobs.get(blob)
        count = count_pages(data)
        if count > MOST_PAGES:
            raise NotDone(f"It has {count} pages; a trial takes at most {MOST_PAGES}.")
        read = [_page(store, trial_id, data, at, count, letter) for at in range(count)]
        pile = separated([page.reading for page in read], letter.separation)
        if letter.separation.each_file:
            pile = Pile(documents=(PiledDocument(pages=tuple(range(count)), why="the file"),))
        result = _told(store, letter, pile, read)
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


def _page(store: Store, trial_id: int, data: bytes, at: int, count: int, letter: Letter) -> ReadPage:
    try:
        read = read_page(open_page(data, at), letter.reading, cleaning=letter.cleaning)
    except Unreadable as problem:
        read = _Unread(NOTHING_READ, np.full((842, 595), 255, np.uint8), str(problem))
    with store.transaction() as session:
        trial = session.get(LaneTrial, trial_id)
        if trial is None:
            raise NotDone("It was given up for another trial.")
        trial.pages, trial.read = count, at + 1
        changed(session, f"lane trial {trial_id}")
    return read


def _told(store: Store, letter: Letter, pile: Pile, read: list[ReadPage]) -> dict[str, Any]:
    """Everything that is shown, as plain values."""
    out = {left.page: left.why for left in pile.left_out}
    begins = {document.pages[0]: document.why for document in pile.documents}
    pages = [
        {
            "thumbnail": store.blobs.put(thumbnail_of(page.pixels)),
            "left_out": out.get(at, ""),
            "begins": begins.get(at, ""),
            "done": ", ".join(step.said for step in page.reading.preparation),
            "problem": page.problem if isinstance(page, _Unread) else "",
        }
        for at, page in enumerate(read)
    ]
    taken: set[str] = set()
    documents = [_document(store, letter, piled, read, number, taken) for number, piled in enumerate(pile.documents, 1)]
    return {"pages": pages, "documents": documents, "bundles": len({d.bundle for d in pile.documents} - {None})}


def _document(
    store: Store, letter: Letter, piled: PiledDocument, read: list[ReadPage], number: int, taken: set[str]
) -> dict[str, Any]:
    with store.transaction() as session:
        revision = revision_named(session, letter, piled.type)
        known = revision or revision_for(session, letter)
        kind = DocumentType.model_validate(known.body)
    pages = [read[at] for at in piled.pages]
    unread = [f"Page {at} could not be read" for at, page in enumerate(pages, 1) if isinstance(page, _Unread)]
    document = DocumentReading(tuple(page.reading for page in pages))
    found = with_given(capture(document, kind, lambda at, box: look_again(pages[at], box)), kind, piled.values)
    values = {"document_type": kind.name, **piled.values, **{v.key: v.value for v in found.values if v.value}}
    path = never_taken(compose(letter.naming, values, number, "pdf"), lambda name: str(name) in taken)
    taken.add(str(path))
    doubts = [piled.doubt] if piled.doubt else []
    if piled.mail and not letter.may_mail(piled.mail):
        doubts.append(f"its sheet asks to send it to {piled.mail}, to whom this letter lets nothing be sent")
    doubts += [] if revision else [f"its sheet asks for the type {piled.type}, with which this lane does not read"]
    return {
        "type": kind.name,
        "pages": len(pages),
        "why": piled.why,
        "doubts": unread + doubts + doubts_of(kind, found, letter) + doubts_of_rows(kind, found.tables, letter),
        "given": list(piled.values),
        "path": str(path),
        "mail": piled.mail if letter.may_mail(piled.mail) else "",
        "sheet": letter.sheet_of(letter.xlsx, kind.key),
        "values": [[kind.names[v.key], kind.field(v.key).kind.show(v.value)] for v in found.values if v.value],
        "rows": sum(len(table.rows) for table in found.tables),
    }
