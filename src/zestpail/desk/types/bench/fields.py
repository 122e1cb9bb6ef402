"""What a specialist does at the bench: points at values and landmarks, says what is right, takes what is offered."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.evaluation.proof import Sample, prove, turns
from zestpail.core.finders import FixedPlace
from zestpail.core.kinds import style_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.page import Word
from zestpail.core.reading.read import read_clip
from zestpail.core.teaching.field_proposal import barcode_at, entry_at, propose_field
from zestpail.core.teaching.mark_proposal import propose_inked
from zestpail.core.teaching.repairs import Repair, repairs, repairs_for_none
from zestpail.core.teaching.section_proposal import propose_section
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_images import page_pixels
from zestpail.desk.documents.stored_lists import lists_for
from zestpail.desk.types import samples as kept_samples
from zestpail.desk.types.bench.edits import (
    At,
    document_at,
    reference_at,
    say,
    write,
)
from zestpail.desk.types.bench.proof import shown_value
from zestpail.desk.types.bench.rule_settings import Form, edited
from zestpail.desk.types.drafts import draft_type
from zestpail.desk.types.samples import Label, proof_samples
from zestpail.store import Store
from zestpail.store.queries.samples import pages_of_sample, samples_of
from zestpail.store.states import PageState

MOST_OFFERS = 4


@dataclass(frozen=True)
class Pointed:
    """What was pointed at on a sample: a box in points and the text in it; the page counts from 0."""

    sample: int
    page: int
    box: Box
    text: str


@dataclass(frozen=True)
class Offered:
    """A repair and what it would do to the samples."""

    number: int
    message: str
    mends: int
    breaks: int


def words_at(store: Store, sample_id: int, page: int, numbers: list[int]) -> Pointed:
    """The words clicked on, by their numbers in the page's reading. Raises NotDone where there are none."""
    document = document_at(store, sample_id)
    words = document.pages[page].words if 0 <= page < len(document.pages) else ()
    picked = [words[number] for number in sorted(set(numbers)) if 0 <= number < len(words)]
    entry = entry_at(document, page, around(word.box for word in picked)) if picked else None
    if entry:
        return Pointed(sample_id, page, entry.box, entry.value)
    return _pointed(sample_id, page, picked)


def box_at(store: Store, sample_id: int, page: int, box: Box) -> Pointed:
    """What stands in a drawn box: the words read there, else the box is read again. Raises NotDone if it is empty."""
    document = document_at(store, sample_id)
    if not 0 <= page < len(document.pages):
        raise Missing("The sample has no such page.")
    inside = [word for word in document.pages[page].words if box.covers_centre_of(word.box)]
    entry = entry_at(document, page, box)
    if entry:
        return Pointed(sample_id, page, entry.box, entry.value)
    code = barcode_at(document, page, box)
    if code and not inside:
        return Pointed(sample_id, page, code.box, code.text)
    if not inside and propose_inked(document, page, box, ()):
        return Pointed(sample_id, page, box, "")
    if not inside:
        with store.transaction() as session:
            row = [p for p in pages_of_sample(session, sample_id) if p.state == PageState.READ][page]
        inside = list(read_clip(*page_pixels(store, row), box))
    return _pointed(sample_id, page, inside, box)


def add_field(store: Store, at: At, pointed: Pointed, zone: bool = False) -> str:
    """A new field for the value pointed at, with a proposed name, kind and rule; returns its key.

    With ``zone`` it is found in that place, held to the landmarks there are.
    """
    doc_type, document = draft_type(store, at.key), document_at(store, pointed.sample)
    taken = [field.key for field in doc_type.fields]
    by_ink = propose_inked(document, pointed.page, pointed.box, taken)
    entry = entry_at(document, pointed.page, pointed.box)
    section = None if by_ink or zone or entry else propose_section(document, pointed.page, pointed.box, taken)
    style = style_of(document.lines)
    rule = by_ink or section or propose_field(document, style, pointed.page, pointed.box, pointed.text, taken)
    if zone:
        reference = reference_at(document, pointed.page, pointed.box)
        held = tuple(landmark.key for landmark in doc_type.landmarks if landmark.reference.page == pointed.page)
        rule = rule.model_copy(update={"finders": (FixedPlace(zone=reference, held_to=held),), "profile": None})
    value = rule.kind.parse(pointed.text, style) or pointed.text
    write(store, at, doc_type.model_copy(update={"fields": (*doc_type.fields, rule)}), f"added the field {rule.name}")
    if by_ink or section:  # what is ticked, or where the section ends, she has not said
        return rule.key
    kept_samples.label(store, pointed.sample, rule.key, Label(value, pointed.page, pointed.box))
    return rule.key


def say_right(store: Store, at: At, key: str, pointed: Pointed) -> None:
    """Label the sample: this is the value of the field. What is of another kind is kept as it stands on the page."""
    rule, document = _field(draft_type(store, at.key), key), document_at(store, pointed.sample)
    beside = (finder.value_beside(pointed.text) for finder in rule.finders)
    value = next(filter(None, beside), None) or rule.kind.parse(pointed.text, style_of(document.lines)) or pointed.text
    right = Label(value, pointed.page, pointed.box)
    say(store, at, f"{rule.name} is {shown_value(rule, value)}", [(pointed.sample, key, right)])


def type_right(store: Store, at: At, sample_id: int, key: str, text: str) -> None:
    """Label the sample with a typed value; nothing typed means that rightly nothing is there. Raises NotDone."""
    rule, document = _field(draft_type(store, at.key), key), document_at(store, sample_id)
    if not text.strip():
        say(store, at, f"there is no {rule.name}", [(sample_id, key, Label(None))])
        return
    value = rule.kind.parse(text, style_of(document.lines))
    if value is None:
        raise NotDone(f"“{text}” is not {rule.kind.words}. Look at the page, or leave it empty.")
    say(store, at, f"{rule.name} is {shown_value(rule, value)}", [(sample_id, key, Label(value))])


def confirm(store: Store, at: At, cells: list[tuple[int, str]]) -> int:
    """Say of what is found now that it is right, for cells that nobody labelled; returns how many were confirmed."""
    doc_type = draft_type(store, at.key)
    with store.transaction() as session:
        samples = proof_samples(store, session, at.key)
    proof = prove(doc_type, samples, lists_for(store, (doc_type,)))
    open_ones = [
        (n, key, proof[n][key]) for n, key in cells if key in proof.get(n, {}) and proof[n][key].outcome == "open"
    ]
    right = [(n, key, Label(one.found.value, one.found.page, one.found.box)) for n, key, one in open_ones]
    if right:
        say(store, at, f"{len(right)} found {'is' if len(right) == 1 else 'are'} right", right)
    return len(right)


def offers(store: Store, type_key: str, key: str, sample_id: int) -> list[Offered]:
    """What would mend the field's rule on this sample, with the effect on all of them; none where nothing is wrong."""
    return [offered for offered, _ in _weighed(store, type_key, key, sample_id)]


def take_offer(store: Store, at: At, key: str, sample_id: int, number: int) -> None:
    """Change the rule as offered. Raises NotDone if there is no such offer any more."""
    chosen = next((rep for off, rep in _weighed(store, at.key, key, sample_id) if off.number == number), None)
    if chosen is None:
        raise NotDone("That is not offered any more.")
    write(store, at, _with(draft_type(store, at.key), chosen.rule), f"{chosen.rule.name}: {chosen.message}")


def set_rule(store: Store, at: At, key: str, form: Form) -> None:
    """Change a field's settings. Raises NotDone with a sentence for settings that cannot be."""
    doc_type = draft_type(store, at.key)
    changed = edited(doc_type, _field(doc_type, key).key, form)
    write(store, at, changed, f"changed the rule of {changed.field(key).name}")


def remove_field(store: Store, at: At, key: str) -> None:
    """Take a field out; its labels stay with the samples, so that taking back brings all of it back."""
    doc_type = draft_type(store, at.key)
    gone = _field(doc_type, key)
    checks = tuple(check for check in doc_type.checks if key not in check.touches)
    fields = tuple(field for field in doc_type.fields if field.key != key)
    write(
        store,
        at,
        doc_type.model_copy(update={"fields": fields, "checks": checks}),
        f"removed the field {gone.name} and its checks",
    )


def _weighed(store: Store, type_key: str, key: str, sample_id: int) -> list[tuple[Offered, Repair]]:
    doc_type = draft_type(store, type_key)
    rule = next((field for field in doc_type.fields if field.key == key), None)
    with store.transaction() as session:
        samples = proof_samples(store, session, type_key)
        row = next((s for s in samples_of(session, type_key) if s.id == sample_id), None)
    sample = next((s for s in samples if s.id == sample_id), None)
    right = row.truth.get(key) if row else None
    if rule is None or sample is None or not right:
        return []
    lists = lists_for(store, (doc_type,))
    before = prove(doc_type, samples, lists)
    if before[sample_id][key].outcome not in ("wrong", "missing"):
        return []
    found = _repairs(rule, sample, right)
    effects = (turns(before, prove(_with(doc_type, repair.rule), samples, lists), key) for repair in found)
    weighed = [(repair, (count["fixed"], count["broken"])) for repair, count in zip(found, effects, strict=True)]
    useful = sorted((w for w in weighed if w[1][0]), key=lambda w: w[1][1] - w[1][0])[:MOST_OFFERS]
    return [(Offered(at, repair.message, *effect), repair) for at, (repair, effect) in enumerate(useful, start=1)]


def _repairs(rule: FieldRule, sample: Sample, right: Mapping[str, Any]) -> list[Repair]:
    """What may fix the rule on the sample, where that value is right, or rightly none."""
    if not right["value"]:
        return repairs_for_none(rule)
    style, place = style_of(sample.document.lines), _place_of(rule, right, sample.document)
    if place is None:
        return []
    page, box = place
    words = [w.text for w in sample.document.pages[page].words if box.grown(1).covers_centre_of(w.box)]
    return repairs(rule, sample.document, style, page, box, " ".join(words) or right["value"])


def _place_of(rule: FieldRule, right: Mapping[str, Any], document: DocumentReading) -> tuple[int, Box] | None:
    """Where the right value stands: where it was pointed at, where it is printed, or in a barcode that says it."""
    if right["box"]:
        page = int(right["page"] or 0)  # a truth from elsewhere may speak of pages that are not there
        return (page, Box(*right["box"])) if page < len(document.pages) else None
    style = style_of(document.lines)
    spans = (span for line in document.lines for span in rule.kind.spot(line, style))
    printed = next(((span.line.page, span.box) for span in spans if span.value == right["value"]), None)
    if printed:
        return printed
    wanted = "".join(right["value"].split())
    codes = ((number, code) for number, page in enumerate(document.pages) for code in page.barcodes)
    return next(((number, code.box) for number, code in codes if wanted in code.text), None)


def _with(doc_type: DocumentType, rule: FieldRule) -> DocumentType:
    fields = tuple(rule if field.key == rule.key else field for field in doc_type.fields)
    return doc_type.model_copy(update={"fields": fields})


def _field(doc_type: DocumentType, key: str) -> FieldRule:
    try:
        return doc_type.field(key)
    except KeyError as problem:
        raise Missing("There is no such field; it may have been taken out.") from problem


def _pointed(sample_id: int, page: int, words: list[Word], box: Box | None = None) -> Pointed:
    if not words:
        raise NotDone("There is nothing to read there. Click a word, or draw a box round the value.")
    return Pointed(sample_id, page, box or around(word.box for word in words), " ".join(word.text for word in words))
