"""A lane's classifier as a file, to be kept, moved to another house, or used without a server."""

from __future__ import annotations

from zestpail.core.classification.file import read_classifier, written
from zestpail.core.classification.model import Sample
from zestpail.core.problems import Unreadable
from zestpail.desk.documents.context import lane_of_key, type_names
from zestpail.desk.documents.lane_classifier import classifier_of, samples_named
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.sorting_samples import keep_as_sample
from zestpail.desk.lanes.sorting.edits import changed_sorting, draft_sorting
from zestpail.store import Store
from zestpail.store.lane_settings import TypeUsed
from zestpail.store.queries.types import newest_revisions
from zestpail.store.sample_page import SamplePage
from zestpail.store.sorting_settings import SortedType


def exported(store: Store, lane_key: str) -> str:
    """The draft's classifier as the text of a file. Raises Missing."""
    with store.transaction() as session:
        sorting = draft_sorting(lane_of_key(session, lane_key))
        classifier = classifier_of(sorting, samples_named(session, sorting), type_names(session))
    plain = (one.model_copy(update={"samples": tuple(map(_unnumbered, one.samples))}) for one in classifier.types)
    return written(classifier.model_copy(update={"types": tuple(plain)}))


def imported(store: Store, lane_key: str, name: str, data: bytes, person_id: int) -> None:
    """Sort by a classifier's file from now on, in the draft. Raises Missing, and NotDone with what is wrong with it."""
    try:
        classifier = read_classifier(data, name)
    except Unreadable as problem:
        raise NotDone(f"{problem} Nothing was changed.") from problem
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.refresh(lane, with_for_update=True)
        known, newest = type_names(session), newest_revisions(session)
        lacking = [one.called for one in classifier.types if one.key not in known]
        if lacking:
            raise NotDone(
                f"There is no document type {lacking[0]} here. Publish one with its key first. Nothing was changed."
            )
        settings = lane.draft or lane.settings
        used = {one.key: one for one in settings.other_types}
        used |= {one.key: TypeUsed(key=one.key, revision=newest[one.key]) for one in classifier.types
                 if one.key not in used and one.key != settings.type}  # fmt: skip
        types = tuple(
            SortedType(key=one.key, cues=one.cues, description=one.description, samples=tuple(
                keep_as_sample(session, lane.id or 0, one.key, sample.name, _pages(sample), person_id).id or 0
                for sample in one.samples
            )) for one in classifier.types
        )  # fmt: skip
        changed_sorting(session, lane, lambda sorting: sorting.model_copy(update={"types": types}),
                        f"took over {name}", person_id, {"other_types": tuple(used.values())})  # fmt: skip


def _unnumbered(sample: Sample) -> Sample:
    """The sample by its file's name alone: the number before it means something in this house only."""
    return sample.model_copy(update={"name": sample.name.partition(" ")[2] or sample.name})


def _pages(sample: Sample) -> tuple[SamplePage, ...]:
    return tuple(SamplePage(sketch=page) for page in sample.pages)
