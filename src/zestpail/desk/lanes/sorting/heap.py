"""A heap of files whose types are still to be said: each is suggested one, and a person confirms many at once."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlmodel import Session, col, select
from sqlmodel.sql.expression import SelectOfScalar

from zestpail.core.classification.decide import Decision, decide
from zestpail.core.classification.taught import Taught, document_bag
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.lane_classifier import is_read
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.intake.arrivals import shown_name
from zestpail.desk.lanes.sorting.edits import changed_sorting
from zestpail.desk.lanes.sorting.removed import remove
from zestpail.store import Store
from zestpail.store.jobs import Priority, defer
from zestpail.store.notices import changed
from zestpail.store.sorting_settings import Sorting
from zestpail.store.states import SampleState
from zestpail.store.tables import Lane, SortingSample

UNSORTED = ""
"""The type of a sample of which nobody said one yet."""


@dataclass(frozen=True)
class Suggested:
    """One file of the heap with the type that is suggested for it."""

    id: int
    name: str
    picture: bool
    waiting: bool
    problem: str
    decision: Decision | None

    @property
    def type(self) -> str:
        """Key of the likeliest type; "" while there is none."""
        return self.decision.likeliest if self.decision else ""


def add_to_heap(store: Store, lane_key: str, name: str, data: bytes, person_id: int) -> None:
    """A file whose type is still to be said. Raises Missing."""
    blob = store.blobs.put(data)
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        sample = SortingSample(
            lane_id=lane.id or 0, type_key=UNSORTED, name=shown_name(name), blob=blob, person_id=person_id
        )
        session.add(sample)
        session.flush()
        defer(session, "read_sorting_sample", priority=Priority.READ_SAMPLE, sample_id=sample.id)
        changed(session, f"sorting {lane.id}")


def suggested(session: Session, lane: Lane, taught: Taught) -> list[Suggested]:
    """The heap, those first of which it is surest what they are."""
    found = [
        Suggested(
            id=sample.id or 0, name=sample.name, picture=bool(sample.pages and sample.pages[0].thumbnail),
            waiting=sample.state == SampleState.WAITING, problem=sample.problem or "",
            decision=_decision(sample, taught) if is_read(sample) and taught.keys else None,
        )
        for sample in session.exec(_heap(lane))
    ]  # fmt: skip
    return sorted(found, key=lambda one: -one.decision.confidence if one.decision and one.type else 1.0)


def _decision(sample: SortingSample, taught: Taught) -> Decision:
    pages = [page.sketch for page in sample.pages]
    return decide(taught, document_bag(pages), pages)


def confirm(store: Store, lane_key: str, types: Mapping[int, str], person_id: int) -> None:
    """Files of the heap are samples of these types from now on. Raises Missing, NotDone."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.refresh(lane, with_for_update=True)
        there = {sample.id or 0: sample for sample in session.exec(_heap(lane)) if sample.state == SampleState.READY}
        wanted = {number: key for number, key in types.items() if number in there and key}
        if not wanted:
            raise NotDone("Choose files and their types first. Nothing was changed.")

        def more(sorting: Sorting) -> Sorting:
            for number, key in wanted.items():
                one = sorting.of(key)
                if one is None:
                    raise Missing("Documents are not sorted into that type.")
                sorting = sorting.with_type(one.model_copy(update={"samples": (*one.samples, number)}))
            return sorting

        changed_sorting(
            session, lane, more, f"confirmed {len(wanted)} suggested types", person_id, unsorted=list(wanted)
        )
        for number, key in wanted.items():
            there[number].type_key = key


def throw_away(store: Store, lane_key: str, sample_id: int, person_id: int) -> None:
    """A file of the heap that is no sample; it can be undone. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        sample = session.exec(_heap(lane).where(SortingSample.id == sample_id)).first()
        if sample is None:
            raise Missing("There is no such file in the heap.")
        remove(session, lane, sample, person_id)


def _heap(lane: Lane) -> SelectOfScalar[SortingSample]:
    return (
        select(SortingSample)
        .where(SortingSample.lane_id == lane.id, SortingSample.type_key == UNSORTED)
        .order_by(col(SortingSample.id))
    )
