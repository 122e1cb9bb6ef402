"""A trial run: what a lane's letter would do with a file, sentence by sentence. Nothing is kept or delivered by it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlmodel import Session, col, select

from zestpail.core.classification.cues import Told
from zestpail.core.classification.pile import SortedPile, sort_pile
from zestpail.core.problems import Unreadable
from zestpail.core.reading.opening import count_pages
from zestpail.core.reading.read import ReadPage
from zestpail.core.reading.unpacking import Package, plain_text, unpacked_files
from zestpail.core.separation import SplitDocument, SplitResult, split_stack
from zestpail.delivery import Files
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.lane_classifier import taught_by
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import NOTHING_READ
from zestpail.desk.intake.arrivals import shown_name
from zestpail.desk.intake.unpacking import as_pages
from zestpail.desk.lanes.letter import draft_of
from zestpail.desk.lanes.trial_documents import UnreadPage, details
from zestpail.desk.lanes.trial_names import NameTried, names_of
from zestpail.desk.pipeline.page_pipeline import PageWanted, read_opened
from zestpail.store import Store
from zestpail.store.document_origin import IDENTITY, given_by
from zestpail.store.jobs import Priority, defer
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.notices import changed
from zestpail.store.tables import Lane, LaneTrial

MOST_PAGES, MOST_FILES = 200, 100


@dataclass(frozen=True)
class FileTried:
    """One file of a trial run."""

    id: int
    name: str
    pages: int
    read: int
    problem: str
    result: dict[str, Any]

    @property
    def done(self) -> bool:
        return bool(self.result or self.problem)


@dataclass(frozen=True)
class TrialView:
    """A trial run of a lane with one file, or with many."""

    id: int
    files: list[FileTried]
    names: list[NameTried]
    """How each document would be called."""

    @property
    def done(self) -> bool:
        return all(one.done for one in self.files)

    @property
    def result(self) -> dict[str, Any]:
        """What came of all files together."""
        done = [one.result for one in self.files if one.result]
        if not done:
            return {}
        together = {key: [one for result in done for one in result[key]] for key in ("pages", "documents")}
        thumbnails = [
            (one.id, at) for one in self.files if one.result for at in range(len(one.result["pages"]))
        ]  # fmt: skip
        return {**together, "thumbnails": thumbnails, "bundles": sum(result["bundles"] for result in done)}


def begin_trial(store: Store, key: str, name: str, data: bytes, person_id: int, with_trial: int | None = None) -> int:
    """Try the lane's draft on a file; a worker does it.

    The trial before this one is forgotten, unless it is that of files that this one is tried with.
    """
    blob = store.blobs.put(data)
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        old = list(session.exec(select(LaneTrial).where(LaneTrial.lane_id == lane.id).order_by(col(LaneTrial.id))))
        together = bool(old) and old[0].id == with_trial
        if together and len(old) >= MOST_FILES:
            raise NotDone(f"A trial takes {MOST_FILES} files at most. {shown_name(name)} was not kept.")
        for one in [] if together else old:
            session.delete(one)
        trial = LaneTrial(lane_id=lane.id or 0, name=shown_name(name), blob=blob, person_id=person_id,
                          settings=old[0].settings if together else draft_of(lane))  # fmt: skip
        session.add(trial)
        session.flush()
        defer(session, "try_lane", priority=Priority.OPEN, trial_id=trial.id)
        changed(session, f"lane trial {with_trial if together else trial.id}")
        return (with_trial if together else trial.id) or 0


def trial_of(store: Store, key: str, files: Callable[[str], Files]) -> TrialView | None:
    """The lane's trial as it stands; ``files`` gives the files of a folder for deliveries. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        wanted = select(LaneTrial).where(LaneTrial.lane_id == lane.id).order_by(col(LaneTrial.id))
        trials, counter = list(session.exec(wanted)), lane.counter
    if not trials:
        return None
    tried = [FileTried(one.id or 0, one.name, one.pages, one.read, one.problem, one.result) for one in trials]
    documents = [(one.name, document) for one in tried for document in one.result.get("documents", [])]
    names = names_of(documents, trials[0].settings, counter, files)
    return TrialView(trials[0].id or 0, tried, names)


def trial_thumbnail(store: Store, lane_key: str, trial_id: int, number: int) -> bytes:
    """The picture of a page of a trial, a JPEG. Raises Missing."""
    with store.transaction() as session:
        trial = session.get(LaneTrial, trial_id)
        pages = trial.result.get("pages", []) if trial and trial.lane_id == lane_of_key(session, lane_key).id else []
    if not 0 <= number < len(pages):
        raise Missing("There is no such page.")
    return store.blobs.get(pages[number]["thumbnail"])


def run_trial(store: Store, trial_id: int) -> None:
    """Read, cut and capture as the letter says, and keep only what is to be said of it."""
    with store.transaction() as session:
        trial = session.get(LaneTrial, trial_id)
        if trial is None or trial.result or trial.problem:
            return
        lane_settings, blob, name, given = trial.settings, trial.blob, trial.name, trial.given
        lane_name = session.get_one(Lane, trial.lane_id).name
    try:
        data = store.blobs.get(blob)
        package = None if given else plain_text(name, data) or unpacked_files(data, store.limits)
        if package:
            _unpack(store, trial_id, package)
            return
        count = count_pages(data, store.limits)
        if count > MOST_PAGES:
            raise NotDone(f"It has {count} pages; a trial takes at most {MOST_PAGES}.")
        read = [_page(store, trial_id, data, at, count, lane_settings) for at in range(count)]
        result = details(store, lane_name, lane_settings, _cut(store, lane_settings, read, name), read, given_by(given))
    except (Unreadable, NotDone) as problem:
        end_trial(store, trial_id, str(problem))
        return
    with store.transaction() as session:
        _end(session, trial_id, "", result)


def _unpack(store: Store, trial_id: int, package: Package) -> None:
    """What is in an e-mail or a package is tried in its place."""
    saved = [(packed.name, store.blobs.put(data), problem) for packed in package.files[:MOST_FILES]
             for data, problem in [as_pages(packed)]]  # fmt: skip
    with store.transaction() as session:
        trial = session.get(LaneTrial, trial_id, with_for_update=True)
        if trial is None or trial.given:
            return
        given = package.values or {IDENTITY: trial.name}
        for at, (name, blob, problem) in enumerate(saved):
            inside = trial if not at else LaneTrial(lane_id=trial.lane_id, name="", blob="", settings=trial.settings)
            inside.name, inside.blob, inside.given = shown_name(name), blob, given
            inside.problem = problem or ""
            session.add(inside)
            session.flush()
            if not problem:
                defer(session, "try_lane", priority=Priority.OPEN, trial_id=inside.id)
        if not saved:
            trial.problem = "; ".join(package.left_out) or "Nothing is in it."
        changed(session, f"lane trial {_first(session, trial)}")


def end_trial(store: Store, trial_id: int, problem: str) -> None:
    """The trial comes to nothing, for a reason."""
    with store.transaction() as session:
        _end(session, trial_id, problem, {})


def _end(session: Session, trial_id: int, problem: str, result: dict[str, Any]) -> None:
    trial = session.get(LaneTrial, trial_id)
    if trial:
        trial.problem, trial.result = problem, result
        changed(session, f"lane trial {_first(session, trial)}")


def _first(session: Session, trial: LaneTrial) -> int:
    """The number by which the trial that this file is of is known."""
    wanted = select(LaneTrial.id).where(LaneTrial.lane_id == trial.lane_id).order_by(col(LaneTrial.id)).limit(1)
    return session.exec(wanted).first() or 0


def _page(store: Store, trial_id: int, data: bytes, at: int, count: int, lane_settings: LaneSettings) -> ReadPage:
    try:
        read = read_opened(data, PageWanted("", at, lane_settings.reading, lane_settings.cleaning, limits=store.limits))
    except Unreadable as problem:
        read = UnreadPage(NOTHING_READ, np.full((842, 595), 255, np.uint8), str(problem))
    with store.transaction() as session:
        trial = session.get(LaneTrial, trial_id)
        if trial is None:
            raise NotDone("It was given up for another trial.")
        trial.pages, trial.read = count, at + 1
        changed(session, f"lane trial {_first(session, trial)}")
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
