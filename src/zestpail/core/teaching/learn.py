"""A type learns from its samples: what each taught is remembered, and the fields that they speak of look there too."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.document_type.learned import Learned, TaughtField
from zestpail.core.extraction.extract import context_of
from zestpail.core.finders import Learned as LearnedFinder
from zestpail.core.finders import Ticked
from zestpail.core.finders.inked.tick_boxes import tick_boxes
from zestpail.core.kinds import AnyKind
from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.learning.layouts.recognise import SURELY, Layouts
from zestpail.core.learning.layouts.remember import TaughtValue, remember
from zestpail.core.reading.document import DocumentReading
from zestpail.core.teaching.faults import Studied, faults_of
from zestpail.core.teaching.field_proposal import label_of
from zestpail.core.teaching.locate import located
from zestpail.core.teaching.surroundings import taught_by, together
from zestpail.core.teaching.tuning import Told, tuned

ENOUGH = 3
"""Samples of one layout that are remembered; of more the newest."""


@dataclass(frozen=True)
class Lesson:
    """What came of learning: the type as it is now, and what of the samples could not be used."""

    doc_type: DocumentType
    layouts: int
    """How many unlike layouts are remembered."""
    faults: tuple[str, ...]
    """What contradicts itself in the samples, or could not be learned from, a sentence each."""


def learn(doc_type: DocumentType, samples: Sequence[LabelledDocument], number: int = 1) -> Lesson:
    """The type with what the samples teach instead of what it was taught before; the last sample is the newest."""
    plain = doc_type.model_copy(update={"learned": None, "tables": (), "checks": ()})  # neither tells where a value is
    studied = [_studied(plain, sample) for sample in samples]
    alike: list[list[Studied]] = []
    for one in studied:
        if one.layout:
            _put_to_its_like(alike, one)
    layouts = tuple(one.layout for several in alike for one in several[-ENOUGH:] if one.layout)
    taught = tuple(_taught_fields(plain, studied))
    learned = Learned(number=number, layouts=layouts, fields=taught)
    spoken = {place.key for layout in layouts for place in layout.places} | {field.key for field in taught}
    fields = tuple(_asking(field) if field.key in spoken else field for field in doc_type.fields)
    with_it = doc_type.model_copy(update={"learned": learned, "fields": fields})
    return Lesson(with_it, len(alike), tuple(faults_of(plain, studied, alike)))


def _taught_fields(doc_type: DocumentType, studied: Sequence[Studied]) -> Iterator[TaughtField]:
    """What all samples together teach of each field, and what each fact counts for it."""
    told = [_told(doc_type, one) for one in studied]
    for field in doc_type.fields:
        known = together([one.fields[field.key] for one in told if field.key in one.fields])
        if known:
            yield known.model_copy(update={"weights": tuned(field, told)})


def _told(doc_type: DocumentType, one: Studied) -> Told:
    by_field = {field.key: taught_by(field, one.context, one.placed) for field in doc_type.fields}
    return Told(one.context, one.placed, {key: taught for key, taught in by_field.items() if taught})


def taught_value(document: DocumentReading, label: Label) -> TaughtValue:
    """A label with the words beside it."""
    if label.page is None or label.box is None or label.page >= len(document.pages):
        return TaughtValue(label.value)
    beside = label_of(document, label.page, label.box)
    words = (beside.text, str(beside.direction)) if beside else ("", "")
    return TaughtValue(label.value, label.page, label.box, *words)


def _studied(doc_type: DocumentType, sample: LabelledDocument) -> Studied:
    context = context_of(sample.document, doc_type)
    labels = located(context, doc_type, sample)
    fields = {field.key: field for field in doc_type.fields}
    taught = {
        key: taught_value(sample.document, _at_its_box(sample.document, fields[key].kind, label))
        for key, label in labels.items()
        if not _told_by_boxes(sample.document, fields[key], label)
    }
    usable = bool(taught and sample.document.pages)
    layout = remember(sample.name, sample.document, taught, sample.digest) if usable else None
    return Studied(sample, context, labels, layout)


def _told_by_boxes(document: DocumentReading, field: FieldRule, label: Label) -> bool:
    """Whether which of several boxes is ticked tells the value: its words are no place to read it."""
    if field.kind.told_by:
        return False
    if any(isinstance(finder, Ticked) for finder in field.finders):
        return True
    if not field.kind.in_words or label.page is None or label.box is None or label.page >= len(document.pages):
        return False
    return any(
        tick.whole.shared_area(label.box) > 0 for tick in tick_boxes(document.pages[label.page], label.page, "right")
    )


def _at_its_box(document: DocumentReading, kind: AnyKind, label: Label) -> Label:
    """The label of a tick at the box itself, though it was shown with its words."""
    if kind.told_by != "box" or label.page is None or label.box is None or label.page >= len(document.pages):
        return label
    place = label.box.grown(2)
    boxes = [tick.box for tick in tick_boxes(document.pages[label.page], label.page, "right")]
    inside = [box for box in boxes if place.covers_centre_of(box)]
    return Label(label.value, label.page, min(inside, key=lambda box: box.x0)) if inside else label


def _put_to_its_like(alike: list[list[Studied]], one: Studied) -> None:
    for several in alike:
        nearest = Layouts([other.layout for other in several if other.layout]).nearest(one.sample.document)
        if nearest and nearest[1] >= SURELY:
            several.append(one)
            return
    alike.append([one])


def _asking(field: FieldRule) -> FieldRule:
    """The field with the finder of what was learned; where finders go in order, it goes first."""
    if any(isinstance(finder, LearnedFinder) for finder in field.finders):
        return field
    first = (LearnedFinder(), *field.finders) if field.tries == "in_order" else (*field.finders, LearnedFinder())
    return field.model_copy(update={"finders": first})
