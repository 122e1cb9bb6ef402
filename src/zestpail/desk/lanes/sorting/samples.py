"""Adding samples to a lane's types: each is read by a worker at once, and counts from then on."""

from __future__ import annotations

from sqlmodel import Session, col, select

from zestpail.core.classification.model import MOST_PAGES
from zestpail.core.classification.page_sketch import sketch_of
from zestpail.core.problems import Unreadable
from zestpail.core.reading.opening import count_pages
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.sorting_samples import TOO_EMPTY, keep_as_sample, sample_pages
from zestpail.desk.intake.arrivals import shown_name
from zestpail.desk.lanes.sorting.edits import changed_sorting, draft_sorting
from zestpail.desk.lanes.sorting.removed import remove
from zestpail.desk.pipeline.page_pipeline import PageWanted, read_opened, thumbnail_of
from zestpail.store import Store
from zestpail.store.jobs import Priority, defer
from zestpail.store.notices import changed
from zestpail.store.queries.documents import pages_of
from zestpail.store.queries.samples import pages_of_sample, samples_of
from zestpail.store.sample_page import SamplePage
from zestpail.store.sorting_settings import SortedType, Sorting
from zestpail.store.states import SampleRole, SampleState
from zestpail.store.tables import ArrivedFile, Batch, Document, Lane, SortingSample


def add_file(
    store: Store, lane_key: str, type_key: str, name: str, data: bytes, person_id: int, test: bool = False
) -> int:
    """A file as a sample of a type of the lane's draft, put to reading. Raises Missing, NotDone."""
    blob = store.blobs.put(data)
    with store.transaction() as session:
        lane = _lane(session, lane_key)
        same = select(SortingSample).where(SortingSample.lane_id == lane.id, SortingSample.blob == blob)
        used = {number for one in draft_sorting(lane).types for number in one.samples}
        twin = next(
            (one for one in session.exec(same) if one.id in used or (test and one.role == SampleRole.TEST)), None
        )
        if twin:
            raise NotDone(f"{shown_name(name)} is among the samples already, as {twin.name}.")
        sample = SortingSample(lane_id=lane.id or 0, type_key=type_key, name=shown_name(name), blob=blob,
                               person_id=person_id, role=SampleRole.TEST if test else SampleRole.TRAINING)  # fmt: skip
        session.add(sample)
        session.flush()
        defer(session, "read_sorting_sample", priority=Priority.READ_SAMPLE, sample_id=sample.id)
        if not test:
            _taken(session, lane, type_key, [sample.id or 0], person_id)
        return sample.id or 0


def add_documents(store: Store, lane_key: str, type_key: str, numbers: list[int], person_id: int) -> int:
    """Documents of the lane's earlier batches as samples; returns how many. Raises Missing, NotDone."""
    with store.transaction() as session:
        lane = _lane(session, lane_key)
        of_lane = select(Document).join(Batch, col(Document.batch_id) == col(Batch.id)).where(Batch.lane_id == lane.id)
        taken = []
        for document in session.exec(of_lane.where(col(Document.id).in_(numbers))):
            name = f"{session.get_one(ArrivedFile, document.file_id).name}, document {document.id}"
            pages = sample_pages(store, pages_of(session, document.id or 0))
            taken.append(keep_as_sample(session, lane.id or 0, type_key, name, pages, person_id).id or 0)
        if not taken:
            raise NotDone("No document was chosen.")
        _taken(session, lane, type_key, taken, person_id)
        return len(taken)


def add_samples_of_type(store: Store, lane_key: str, type_key: str, person_id: int) -> int:
    """The samples that the document type has at the bench; returns how many. Raises NotDone if it has none."""
    with store.transaction() as session:
        lane = _lane(session, lane_key)
        known = {sample.name for sample in _used(session, lane, type_key)}
        taken = []
        for sample in samples_of(session, type_key):
            if sample.state != SampleState.READY or sample.name in known:
                continue
            pages = sample_pages(store, pages_of_sample(session, sample.id or 0))
            if pages:
                taken.append(keep_as_sample(session, lane.id or 0, type_key, sample.name, pages, person_id).id or 0)
        if not taken:
            raise NotDone("The type has no samples at its bench that are not among these already.")
        _taken(session, lane, type_key, taken, person_id)
        return len(taken)


def remove_test(store: Store, lane_key: str, sample_id: int, person_id: int) -> None:
    """Nothing is measured on that test sample any more; it can be undone. Raises Missing."""
    with store.transaction() as session:
        lane, sample = _lane(session, lane_key), session.get(SortingSample, sample_id)
        if sample is None or sample.lane_id != lane.id or sample.role != SampleRole.TEST:
            raise Missing("There is no such test sample.")
        remove(session, lane, sample, person_id)


def read_sample(store: Store, sample_id: int) -> None:
    """Read a sample's pages, keep their sketches and pictures."""
    with store.transaction() as session:
        sample = session.get(SortingSample, sample_id)
        if sample is None or sample.state != SampleState.WAITING:
            return
        blob, settings = sample.blob, session.get_one(Lane, sample.lane_id).settings
    try:
        data = store.blobs.get(blob)
        pages = []
        for at in range(min(count_pages(data, store.limits), MOST_PAGES)):
            read = read_opened(data, PageWanted(blob, at, settings.reading, settings.cleaning, limits=store.limits))
            sketch = sketch_of(read.reading)
            if not read.reading.blank and not sketch.empty:
                kept = store.blobs.put(thumbnail_of(read.pixels)), store.blobs.put(read.reading.packed())
                pages.append(SamplePage(thumbnail=kept[0], reading=kept[1], sketch=sketch))
        problem = None if pages else TOO_EMPTY
    except Unreadable as refusal:
        pages, problem = [], str(refusal)
    _finish(store, sample_id, tuple(pages), problem)


def refuse_sample(store: Store, sample_id: int, problem: str) -> None:
    """The sample counts for nothing, for a reason."""
    _finish(store, sample_id, (), problem)


def _finish(store: Store, sample_id: int, pages: tuple[SamplePage, ...], problem: str | None) -> None:
    with store.transaction() as session:
        sample = session.get_one(SortingSample, sample_id, with_for_update=True)
        if sample.state == SampleState.WAITING:
            sample.pages, sample.problem = pages, problem
            sample.state = SampleState.REFUSED if problem else SampleState.READY
            changed(session, f"sorting {sample.lane_id}", "today")


def _lane(session: Session, key: str) -> Lane:
    """The lane, locked: two people may add samples at the same time. Raises Missing."""
    lane = lane_of_key(session, key)
    session.refresh(lane, with_for_update=True)
    return lane


def _used(session: Session, lane: Lane, type_key: str) -> list[SortingSample]:
    one = draft_sorting(lane).of(type_key)
    wanted = select(SortingSample).where(col(SortingSample.id).in_(one.samples if one else ()))
    return list(session.exec(wanted))


def _taken(session: Session, lane: Lane, type_key: str, numbers: list[int], person_id: int) -> None:
    """The draft's type has these samples too. Raises Missing where documents are not sorted into that type."""

    def more(sorting: Sorting) -> Sorting:
        one = sorting.of(type_key)
        if one is None:
            raise Missing("Documents are not sorted into that type.")
        return sorting.with_type(SortedType.model_validate({**dict(one), "samples": (*one.samples, *numbers)}))

    changed_sorting(
        session, lane, more, "a sample added" if len(numbers) == 1 else f"{len(numbers)} samples added", person_id
    )
    note(
        session,
        "sorting_samples_added",
        person_id=person_id,
        after={"lane": lane.key, "type": type_key, "samples": numbers},
    )
