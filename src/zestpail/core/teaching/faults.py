"""What is wrong with samples that a type is to learn from, a sentence each: nothing of it stops the learning."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from zestpail.core.document_type import DocumentType
from zestpail.core.document_type.learned import RememberedLayout
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.kinds import AnyKind, style_of
from zestpail.core.kinds.equality import same
from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.learning.layouts.memory import LayoutMemory
from zestpail.core.reading.document import DocumentReading

SURELY = 0.9
"""How likely a value must be at the place of another sample to speak against a label."""


@dataclass(frozen=True)
class Studied:
    """A sample, each of its labels with the place that it was found at, and what is remembered of it."""

    sample: LabelledDocument
    context: SearchContext
    """It as the type searches it."""
    placed: Mapping[str, Label]
    layout: RememberedLayout | None


def faults_of(doc_type: DocumentType, studied: Sequence[Studied], alike: Sequence[Sequence[Studied]]) -> Iterator[str]:
    """What contradicts itself in the samples, and what cannot be learned from; ``alike`` are those of one layout."""
    yield from _same_file(doc_type, [one.sample for one in studied])
    for one in studied:
        for key, label in one.placed.items():
            field = doc_type.field(key)
            if label.value is None:
                continue
            if label.box is None:
                value = field.kind.show(label.value)
                yield f"{one.sample.name}: “{value}” ({field.name}) is not found on the paper, so no place is learned."
            elif one.sample.labels[key].box and (said := _standing(one.sample.document, field.kind, label)):
                yield f"{one.sample.name}: {field.name} is labelled “{label.value}”, but there stands “{said}”."
    for several in alike:
        for at, one in enumerate(several):
            for other in several[:at]:
                yield from _elsewhere(doc_type, one, other)


def _same_file(doc_type: DocumentType, samples: Sequence[LabelledDocument]) -> Iterator[str]:
    for at, sample in enumerate(samples):
        for other in samples[:at]:
            if not sample.digest or sample.digest != other.digest:
                continue
            for key in sample.labels.keys() & other.labels.keys() & doc_type.names.keys():
                one, two = sample.labels[key].value, other.labels[key].value
                if not same(one, two):
                    yield (
                        f"{other.name} and {sample.name} are the same file, but {doc_type.names[key]} is "
                        f"“{two or 'not there'}” on the one and “{one or 'not there'}” on the other."
                    )


def _standing(document: DocumentReading, kind: AnyKind, label: Label) -> str | None:
    """What is read where the label was shown, if that is of the kind and says something else."""
    if kind.told_by or kind.free or kind.a_name or label.page is None or label.box is None:
        return None
    words = [w.text for line in document.lines if line.page == label.page for w in line.words
             if label.box.grown(1).covers_centre_of(w.box)]  # fmt: skip
    said = kind.parse(" ".join(words), style_of(document.lines))
    return said if said and not same(said, label.value) else None


def _elsewhere(doc_type: DocumentType, one: Studied, other: Studied) -> Iterator[str]:
    """Fields that stand at one place on a sample, and at another on one of the same layout."""
    if other.layout is None:
        return
    memory = LayoutMemory([other.layout])
    for key, label in one.placed.items():
        field = doc_type.field(key)
        if label.value is None or label.box is None or field.kind.told_by:
            continue
        found = list(memory.candidates(one.context, FieldTarget(key, field.kind)))
        best = max(found, key=lambda candidate: candidate.likely or 0.0, default=None)
        if best is None or (best.likely or 0) < SURELY or best.made or same(best.value, label.value):
            continue
        if best.page != label.page or not best.box.shared_area(label.box):
            yield (
                f"{one.sample.name}: {field.name} stands elsewhere than on {other.sample.name}, which looks the same; "
                f"where it stood there, here is “{best.value}”."
            )
