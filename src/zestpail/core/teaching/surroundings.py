"""What the samples teach of a field that holds on any layout: what stands around its values, and where they stand."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from zestpail.core.document_type import FieldRule
from zestpail.core.document_type.learned import TaughtField, TaughtSpot
from zestpail.core.finders import SearchContext
from zestpail.core.finders.inked.tick_boxes import tick_boxes
from zestpail.core.learning.contexts import Around
from zestpail.core.learning.labelled import Label
from zestpail.core.learning.offers import offers_of
from zestpail.core.learning.sentences import sentences_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box

MOST, MOST_SPOTS = 40, 16
"""Labels, sentences and examples of a field that are kept, and places."""
SAME = 0.5
"""The share of the smaller box that a label and a piece of text have in common where they are one."""


def taught_by(field: FieldRule, context: SearchContext, labels: Mapping[str, Label]) -> TaughtField | None:
    """What one sample teaches of a field by its label at its place; None where it says nothing of it."""
    label = labels.get(field.key)
    if label is None:
        return None
    known = TaughtField(key=field.key, name=field.name, kind=field.kind)
    if label.value is None:
        return known.model_copy(update={"absent": 1})
    if label.box is None or label.page is None:
        return None
    place = label.box.grown(1)
    around = list(_around(context, field, label.page, place))
    speaks = field.kind.numeric or field.kind.kind == "number"
    return known.model_copy(
        update={
            "labels": _kept(one.label for one in around),
            "leads": _kept(one.lead for one in around),
            "follows": _kept(one.follow for one in around if speaks),
            "sentences": _kept(one.sentence for one in around),
            "examples": () if field.kind.told_by else _kept([_printed(context.document, label.page, place)]),
            "spots": _spots(context, field, label.page, label.box),
        }
    )


def together(several: Sequence[TaughtField]) -> TaughtField | None:
    """What several samples teach of one field; None where they teach nothing."""
    if not any(one.labels or one.sentences for one in several):
        return None
    return several[0].model_copy(
        update={
            "labels": _kept(text for one in several for text in one.labels),
            "leads": _kept(text for one in several for text in one.leads),
            "follows": _kept(text for one in several for text in one.follows),
            "sentences": _kept(text for one in several for text in one.sentences),
            "examples": _kept(text for one in several for text in one.examples),
            "spots": tuple(spot for one in several for spot in one.spots)[-MOST_SPOTS:],
            "absent": sum(one.absent for one in several),
        }
    )


def _around(context: SearchContext, field: FieldRule, page: int, place: Box) -> Iterator[Around]:
    """What stands around the value; for what ink or a sentence says, the words that say it."""
    document = context.document
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
            yield offers_of(context).pages.around(line, inside[0], inside[-1] + 1)
            return


def _spots(context: SearchContext, field: FieldRule, page: int, box: Box) -> tuple[TaughtSpot, ...]:
    """Where it stands among all that the sample offers for its kind; nothing where it is none of these."""
    if field.kind.told_by or field.kind.in_words:
        return ()
    here = (offer for offer in offers_of(context).of(field.kind) if offer.span.line.page == page)
    area = box.width * box.height
    shared = (
        (offer, offer.span.box.shared_area(box), min(offer.span.box.width * offer.span.box.height, area))
        for offer in here
    )
    found = [(common, offer.spot) for offer, common, smaller in shared if common > SAME * smaller]
    return (max(found, key=lambda one: one[0])[1],) if found else ()


def _printed(document: DocumentReading, page: int, place: Box) -> str:
    lines = (line for line in document.lines if line.page == page)
    return " ".join(word.text for line in lines for word in line.words if place.covers_centre_of(word.box))


def _kept(texts: Iterator[str] | Sequence[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(text for text in texts if text))[-MOST:]
