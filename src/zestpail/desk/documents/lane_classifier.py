"""The classifier of a lane, put together of its settings and the samples that they name; taught once for all files."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

from sqlmodel import Session, col, select

from zestpail.core.classification.model import ClassifiedType, Classifier, Sample
from zestpail.core.classification.taught import Taught
from zestpail.desk.documents.context import type_names
from zestpail.store.sorting_settings import Sorting
from zestpail.store.states import SampleState
from zestpail.store.tables import SortingSample


def samples_named(session: Session, sorting: Sorting) -> dict[int, SortingSample]:
    """The samples that the settings name, by number, as they are now."""
    numbers = [number for one in sorting.types for number in one.samples]
    found = session.exec(select(SortingSample).where(col(SortingSample.id).in_(numbers)))
    return {sample.id or 0: sample for sample in found}


def classifier_of(sorting: Sorting, samples: Mapping[int, SortingSample], names: Mapping[str, str]) -> Classifier:
    """The types with the sketches of those samples that are read."""
    return Classifier(types=tuple(
        ClassifiedType(
            key=one.key, name=names.get(one.key, one.key), cues=one.cues, description=one.description,
            samples=tuple(_as_taught(samples[number]) for number in one.samples if is_read(samples.get(number))),
        )
        for one in sorting.types
    ))  # fmt: skip


def is_read(sample: SortingSample | None) -> bool:
    """Whether a sample is there and counts."""
    return sample is not None and sample.state == SampleState.READY and bool(sample.pages)


def _as_taught(sample: SortingSample) -> Sample:
    return Sample(name=f"{sample.id} {sample.name}"[:300], pages=tuple(page.sketch for page in sample.pages))


def taught_by(session: Session, sorting: Sorting) -> Taught:
    """What the settings teach; kept as long as they and their samples are the same."""
    return taught_from(classifier_of(sorting, samples_named(session, sorting), type_names(session)))


@lru_cache(maxsize=8)
def taught_from(classifier: Classifier) -> Taught:
    """What a classifier teaches, kept for the last ones that were asked for."""
    return Taught(classifier)
