"""Samples that the types of a lane are told apart by: files dropped, documents of batches, samples that a type has."""

from __future__ import annotations

from collections.abc import Sequence

from sqlmodel import Session

from zestpail.core.classification.model import MOST_PAGES
from zestpail.core.classification.page_sketch import sketch_of
from zestpail.core.reading.page import unpacked
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.messages import Missing
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.sample_page import SamplePage
from zestpail.store.states import PageState, SampleRole, SampleState
from zestpail.store.tables import Lane, Page, SortingSample

TOO_EMPTY = "Nothing is written on it, so it cannot be a sample."


def sample_pages(store: Store, pages: Sequence[Page]) -> tuple[SamplePage, ...]:
    """The sketches of pages as they were read, with their pictures; those without a word or line are left aside."""
    found = []
    for page in pages:
        if page.state != PageState.READ or page.reading is None:
            continue
        sketch = sketch_of(unpacked(store.blobs.get(page.reading)))
        if not sketch.empty:
            found.append(SamplePage(thumbnail=page.thumbnail or "", reading=page.reading, sketch=sketch))
    return tuple(found if len(found) <= MOST_PAGES else [*found[: MOST_PAGES - 1], found[-1]])


def keep_as_sample(
    session: Session, lane_id: int, type_key: str, name: str, pages: tuple[SamplePage, ...],
    person_id: int | None, role: SampleRole = SampleRole.TRAINING,
) -> SortingSample:  # fmt: skip
    """A sample of pages that were read; one without a written page is refused with the reason."""
    sample = SortingSample(
        lane_id=lane_id, type_key=type_key, name=name, role=role, pages=pages, person_id=person_id,
        state=SampleState.READY if pages else SampleState.REFUSED, problem=None if pages else TOO_EMPTY,
    )  # fmt: skip
    session.add(sample)
    session.flush()
    return sample


def with_sample(lane: Lane, type_key: str, sample_id: int) -> None:
    """The lane knows the sample from now on; its draft too, which would bring back what was before."""
    lane.settings = _with(lane.settings, type_key, sample_id)
    if lane.draft:
        draft = _with(lane.draft, type_key, sample_id)
        lane.draft = draft if draft != lane.settings else None


def _with(settings: LaneSettings, type_key: str, sample_id: int) -> LaneSettings:
    one = settings.sorting.of(type_key) if settings.sorting else None
    if settings.sorting is None or one is None:
        return settings
    more = one.model_copy(update={"samples": (*one.samples, sample_id)})
    return settings.model_copy(update={"sorting": settings.sorting.with_type(more)})


def sorting_thumbnail(store: Store, lane_key: str, sample_id: int, number: int) -> bytes:
    """The picture of a page of a sample, a JPEG. Raises Missing."""
    with store.transaction() as session:
        sample = session.get(SortingSample, sample_id)
        pages = sample.pages if sample and sample.lane_id == lane_of_key(session, lane_key).id else ()
    if not 0 <= number < len(pages) or not pages[number].thumbnail or not store.blobs.holds(pages[number].thumbnail):
        raise Missing("There is no such page.")
    return store.blobs.get(pages[number].thumbnail)
