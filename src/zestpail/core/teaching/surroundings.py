"""What the samples teach of a field that holds on any layout: what stands around its values."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.document_type.learned import TaughtField
from zestpail.core.finders import SearchContext
from zestpail.core.finders.inked.tick_boxes import tick_boxes
from zestpail.core.learning.contexts import Around
from zestpail.core.learning.labelled import Label
from zestpail.core.learning.sentences import sentences_of
from zestpail.core.learning.type_model import candidate_spans, pages_of, places_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box

MOST = 40
"""Labels, sentences and examples of a field that are kept."""

Placed = tuple[DocumentReading, Mapping[str, Label]]
"""A sample with its labels, each at its place."""


def taught_fields(doc_type: DocumentType, samples: Sequence[Placed]) -> tuple[TaughtField, ...]:
    """What all samples together teach of each field."""
    fields = (_taught(field, samples) for field in doc_type.fields)
    return tuple(field for field in fields if field.labels or field.sentences)


def _taught(field: FieldRule, samples: Sequence[Placed]) -> TaughtField:
    labels: list[str] = []
    leads: list[str] = []
    follows: list[str] = []
    orders: list[tuple[int, int]] = []
    sentences: list[str] = []
    examples: list[str] = []
    for document, placed in samples:
        label = placed.get(field.key)
        if label is None or label.value is None or label.box is None or label.page is None:
            continue
        for around in _around(document, field, label.page, label.box.grown(1)):
            labels.append(around.label)
            leads.append(around.lead)
            follows.append(around.follow if field.kind.numeric or field.kind.kind == "number" else "")
            sentences.append(around.sentence)
        orders += _order(document, field, label.page, label.box)
        if not field.kind.told_by:
            examples.append(_printed(document, label.page, label.box.grown(1)))
    return TaughtField(
        key=field.key,
        name=field.name,
        labels=_kept(labels),
        leads=_kept(leads),
        follows=_kept(follows),
        orders=tuple(dict.fromkeys(orders)),
        sentences=_kept(sentences),
        examples=_kept(examples),
    )


def _around(document: DocumentReading, field: FieldRule, page: int, place: Box) -> Iterator[Around]:
    """What stands around the value; for what ink or a sentence says, the words that say it."""
    if field.kind.told_by == "box":
        boxes = tick_boxes(document.pages[page], page, "right")
        yield from (Around(box.text, "", box.text) for box in boxes if place.covers_centre_of(box.box) and box.words)
        return
    if field.kind.told_by or field.kind.in_words:
        sentences = (one for one in sentences_of(document) if one.page == page and one.box.shared_area(place) > 0)
        yield from (Around("", "", one.text) for one in sentences)
        if field.kind.told_by:
            return
    for line in document.lines:
        inside = [at for at, word in enumerate(line.words) if place.covers_centre_of(word.box)]
        if inside and line.page == page:
            yield pages_of(document).around(line, inside[0], inside[-1] + 1)
            return


def _order(document: DocumentReading, field: FieldRule, page: int, box: Box) -> list[tuple[int, int]]:
    """In a letter, which of how many values of its kind stands in the box."""
    context = SearchContext(document, ())
    if context.style.day is None or field.kind.told_by or field.kind.in_words:
        return []
    spans = list(candidate_spans(context, field.kind))
    places = places_of(context, spans)
    here = [span for span in spans if span.line.page == page and span.box.shared_area(box) > 0 and id(span) in places]
    return [places[id(here[0])]] if here else []


def _printed(document: DocumentReading, page: int, place: Box) -> str:
    lines = (line for line in document.lines if line.page == page)
    return " ".join(word.text for line in lines for word in line.words if place.covers_centre_of(word.box))


def _kept(texts: Sequence[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(text for text in texts if text))[-MOST:]
