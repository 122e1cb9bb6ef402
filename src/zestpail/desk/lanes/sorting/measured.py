"""How right a lane sorts its test samples: the draft beside what is active, on the same samples."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import Session, col, select

from zestpail.core.classification.decide import decide
from zestpail.core.classification.model import UNKNOWN
from zestpail.core.classification.page_ties import ties_of
from zestpail.core.classification.stack import classify_stack
from zestpail.core.classification.taught import Taught, document_bag
from zestpail.core.evaluation.classification import ClassMeasure
from zestpail.core.evaluation.measure import wilson
from zestpail.core.reading.page import PageReading, unpacked
from zestpail.desk.documents.context import lane_of_key, type_names
from zestpail.desk.documents.lane_classifier import taught_by
from zestpail.desk.lanes.sorting.edits import draft_sorting, undoable
from zestpail.store import Store
from zestpail.store.sorting_settings import Sorting
from zestpail.store.states import SampleRole, SampleState
from zestpail.store.tables import Lane, SortingSample


@dataclass(frozen=True)
class Share:
    """A count of a count, with the interval in which the share lies."""

    part: int
    whole: int

    @property
    def shown(self) -> str:
        """As a person reads it."""
        if not self.whole:
            return "–"
        low, high = wilson(self.part, self.whole)
        return f"{self.part} of {self.whole} ({low:.0%} to {high:.0%})"


@dataclass(frozen=True)
class Measured:
    """What one state of the lane's sorting made of the test samples."""

    called: str
    right: Share
    held: Share
    sure_right: Share
    cuts: tuple[int, int, int]
    """Right, missed, false: of all test samples laid on each other."""
    matrix: list[tuple[str, list[int]]]
    by_type: list[tuple[str, str, str]]
    """Type, precision, recall."""
    wrong: list[tuple[int, str, str]]


@dataclass(frozen=True)
class MeasureView:
    """The page: test samples, and what was measured on them."""

    key: str
    name: str
    lane_id: int
    columns: list[str]
    results: list[Measured]
    last: str
    """The last change, which can be undone; "" where there is none."""
    tests: list[tuple[int, str, str, str]]
    """Number, name, type and what is wrong with it."""
    types: list[tuple[str, str]]


def measured(store: Store, lane_key: str) -> MeasureView:
    """Measure the draft, and what is active if that differs. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        wanted = select(SortingSample).where(SortingSample.lane_id == lane.id, SortingSample.role == SampleRole.TEST)
        tests = list(session.exec(wanted.order_by(col(SortingSample.id))))
        names = {**type_names(session), UNKNOWN: "none of them"}
        states = _states(lane)
        keys = [*dict.fromkeys(one.key for _, sorting in states for one in sorting.types), UNKNOWN]
        ready = [sample for sample in tests if sample.state == SampleState.READY]
        results = [
            _measured(store, session, called, sorting, ready, keys, names) for called, sorting in states if ready
        ]
        return MeasureView(
            key=lane_key, name=lane.name, lane_id=lane.id or 0, results=results,
            columns=[names.get(key, key) for key in keys], last=undoable(session, lane),
            tests=[(one.id or 0, one.name, names.get(one.type_key, one.type_key), one.problem or
                    ("being read" if one.state == SampleState.WAITING else "")) for one in tests],
            types=[(key, names.get(key, key)) for key in keys],
        )  # fmt: skip


def _states(lane: Lane) -> list[tuple[str, Sorting]]:
    draft, active = draft_sorting(lane), lane.settings.sorting or Sorting()
    return [("draft", draft), ("active", active)] if draft != active else [("active", active)]


def _measured(
    store: Store, session: Session, called: str, sorting: Sorting, tests: list[SortingSample], keys: list[str],
    names: dict[str, str],
) -> Measured:  # fmt: skip
    taught, measure = taught_by(session, sorting), ClassMeasure()
    wrong = []
    for sample in tests:
        pages = [page.sketch for page in sample.pages]
        found = decide(taught, document_bag(pages), pages)
        wanted = sample.type_key if sorting.of(sample.type_key) else UNKNOWN
        measure.add(sample.name, wanted, found.type, found.state)
        if found.type != wanted:
            wrong.append((sample.id or 0, sample.name, names.get(found.type, found.type)))
    _cuts(store, taught, tests, measure)
    counts = measure.confusion
    sums = {key: (sum(counts[key, other] for other in keys), sum(counts[other, key] for other in keys)) for key in keys}
    return Measured(
        called=called, right=Share(measure.right, measure.documents),
        held=Share(measure.states["check"] + measure.states["unknown"], measure.documents),
        sure_right=Share(measure.sure_right, measure.states["sure"]),
        cuts=(measure.cuts_right, measure.cuts_missed, measure.cuts_false),
        matrix=[(names.get(key, key), [counts[key, other] for other in keys]) for key in keys if sums[key][0]],
        by_type=[_of_type(names.get(key, key), counts[key, key], sums[key]) for key in keys if any(sums[key])],
        wrong=wrong,
    )  # fmt: skip


def _of_type(name: str, right: int, sums: tuple[int, int]) -> tuple[str, str, str]:
    """The type's name, precision and recall."""
    there, told = sums
    return name, Share(right, told).shown, Share(right, there).shown


def _cuts(store: Store, taught: Taught, tests: list[SortingSample], measure: ClassMeasure) -> None:
    """Lay all test samples whose readings are kept on one pile, and count where it is cut."""
    pages: list[PageReading] = []
    begins: list[int] = []
    for sample in tests:
        if all(page.reading and store.blobs.holds(page.reading) for page in sample.pages):
            begins.append(len(pages))
            pages += [unpacked(store.blobs.get(page.reading)) for page in sample.pages]
    if len(begins) > 1 and taught.keys:
        found = classify_stack(taught, pages, [ties_of(page) for page in pages])
        measure.add_cuts(begins[1:], (one.pages[0] for one in found[1:]))
