"""The classifier of a lane, put together of its settings and the samples that they name; taught once for all files."""

from __future__ import annotations

from functools import lru_cache

from sqlmodel import Session, col, select

from zestpail.core.classification.model import ClassifiedType, Classifier, Sample
from zestpail.core.classification.taught import Taught
from zestpail.desk.documents.context import type_names
from zestpail.store.sorting_settings import Sorting
from zestpail.store.states import SampleState
from zestpail.store.tables import SortingSample


def classifier_of(session: Session, sorting: Sorting) -> Classifier:
    """The types with the sketches of those samples that are read."""
    numbers = [number for one in sorting.types for number in one.samples]
    ready = select(SortingSample).where(col(SortingSample.id).in_(numbers), SortingSample.state == SampleState.READY)
    samples = {sample.id: sample for sample in session.exec(ready)}
    names = type_names(session)
    return Classifier(types=tuple(
        ClassifiedType(
            key=one.key, name=names.get(one.key, one.key), cues=one.cues, description=one.description,
            samples=tuple(_as_taught(samples[number]) for number in one.samples if number in samples),
        )
        for one in sorting.types
    ))  # fmt: skip


def _as_taught(sample: SortingSample) -> Sample:
    return Sample(name=f"{sample.id} {sample.name}"[:300], pages=tuple(page.sketch for page in sample.pages))


def taught_by(session: Session, sorting: Sorting) -> Taught:
    """What the settings teach; kept as long as they and their samples are the same."""
    return _taught(classifier_of(session, sorting))


@lru_cache(maxsize=8)
def _taught(classifier: Classifier) -> Taught:
    return Taught(classifier)
