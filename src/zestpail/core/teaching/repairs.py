"""What would fix a rule that finds the wrong thing on a sample: offers, each a changed rule and a sentence."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import BesideLabel, FixedPlace, InBarcode, InFormField, Pattern, ValueProfile
from zestpail.core.finders.printed.beside_label import POINTS_PER_MM, WORDED
from zestpail.core.kinds import Style
from zestpail.core.landmarks.labels import folded
from zestpail.core.landmarks.match import ReferencePosition
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.teaching.field_proposal import FoundLabel, entry_at, kind_of, labels_of

NEAR_MM, NEAR_LINES = 40.0, 1.5
"""How far right of a label, and under it, is looked where a rule is narrowed."""


@dataclass(frozen=True)
class Repair:
    """A changed rule, and what is changed in it as a person would say it."""

    message: str
    rule: FieldRule


def repairs(rule: FieldRule, document: DocumentReading, style: Style, page: int, box: Box, text: str) -> list[Repair]:
    """Ways to make the rule find the value in ``box``, likeliest first; what they break is for the samples to say."""
    rule, other_kind = _of_fitting_kind(rule, style, text)
    by_label = [repair for label in labels_of(document, page, box) for repair in _by_label(rule, label)]
    offers = [
        *_by_barcode(rule, document, text), *_by_form(rule, document, page, box), *by_label, *_by_looks(rule, text),
        *_by_place(rule, document, page, box),
    ]  # fmt: skip
    if other_kind and not offers:
        offers = [Repair("", rule)]
    return [Repair(f"{other_kind}{' and ' if other_kind and r.message else ''}{r.message}", r.rule) for r in offers]


def repairs_for_none(rule: FieldRule) -> list[Repair]:
    """Ways to make the rule find nothing where rightly nothing is there."""
    offers: list[Repair] = []
    others = tuple(finder for finder in rule.finders if not isinstance(finder, Pattern))
    if others and len(others) < len(rule.finders):
        offers.append(Repair("take it only beside its labels", rule.model_copy(update={"finders": others})))
    for finder in rule.finders:
        if isinstance(finder, BesideLabel):
            offers += _narrowed(rule, finder)
    return offers


def _narrowed(rule: FieldRule, beside: BesideLabel) -> Iterator[Repair]:
    if beside.weak_labels:
        yield Repair("leave out its vague labels", _with(rule, beside, beside.model_copy(update={"weak_labels": ()})))
    for direction in beside.directions:
        left = tuple(one for one in beside.directions if one != direction)
        if left:
            changed = beside.model_copy(update={"directions": left})
            yield Repair(f"do not look {WORDED[direction]} its labels", _with(rule, beside, changed))
    near = beside.model_copy(update={"reach_mm": NEAR_MM, "reach_lines": NEAR_LINES})
    if beside.reach_mm > NEAR_MM or beside.reach_lines > NEAR_LINES:
        yield Repair(f"look no further than {NEAR_MM:.0f} mm", _with(rule, beside, near))


def _by_form(rule: FieldRule, document: DocumentReading, page: int, box: Box) -> Iterator[Repair]:
    entry = entry_at(document, page, box)
    if entry:
        finder = InFormField(name=entry.name)
        finders = (finder, *(one for one in rule.finders if not isinstance(one, InFormField)))
        yield Repair(f"take the form field “{entry.name}” first", rule.model_copy(update={"finders": finders}))


def _by_place(rule: FieldRule, document: DocumentReading, page: int, box: Box) -> Iterator[Repair]:
    """The last resort: what stands in that place, whatever is beside it."""
    if any(isinstance(finder, FixedPlace) for finder in rule.finders):
        return
    size = document.pages[page]
    zone = ReferencePosition(page=page, width=size.width, height=size.height, box=box.grown(3))
    finders = (*rule.finders, FixedPlace(zone=zone, weight=0.4))
    yield Repair("else take what stands in this place on the page", rule.model_copy(update={"finders": finders}))


def _of_fitting_kind(rule: FieldRule, style: Style, text: str) -> tuple[FieldRule, str]:
    if rule.kind.parse(text, style) is not None:
        return rule, ""
    kind = kind_of(text, style)
    return rule.model_copy(update={"kind": kind}), f"take it for {kind.words}"


def _by_label(rule: FieldRule, label: FoundLabel) -> Iterator[Repair]:
    beside = next((finder for finder in rule.finders if isinstance(finder, BesideLabel)), None)
    if beside is None:
        added = BesideLabel(labels=(label.text,), directions=(label.direction,))
        yield Repair(f"look beside “{label.text}” first", _with(rule, None, added))
        return
    change: dict[str, object] = {}
    message = []
    if folded(label.text) not in {folded(known) for known in (*beside.labels, *beside.weak_labels)}:
        change["labels"] = (*beside.labels, label.text)
        message.append(f"also look beside “{label.text}”")
    if label.direction not in beside.directions:
        change["directions"] = (*beside.directions, label.direction)
        message.append("look right of it too" if label.direction == "right" else "look below it too")
    far = label.gap / POINTS_PER_MM
    if label.direction == "right" and far > beside.reach_mm:
        change["reach_mm"] = float(round(far * 1.2 + 5))
        message.append(f"look up to {far * 1.2 + 5:.0f} mm away")
    if change:
        yield Repair(" and ".join(message), _with(rule, beside, beside.model_copy(update=change)))


def _by_barcode(rule: FieldRule, document: DocumentReading, text: str) -> Iterator[Repair]:
    """A barcode that says the value, or has it as a part."""
    wanted = "".join(text.split())
    codes = [code.text for page in document.pages for code in page.barcodes]
    for message in dict.fromkeys(message for message in codes if wanted and wanted in message):
        part = _part_of(message, wanted)
        if part not in rule.finders:
            others = tuple(finder for finder in rule.finders if not isinstance(finder, InBarcode))
            first = part.sentence.rstrip(".")
            yield Repair(f"{first[0].lower()}{first[1:]}", rule.model_copy(update={"finders": (part, *others)}))


def _part_of(message: str, wanted: str) -> InBarcode:
    """The part of a barcode's text that is wanted: by what stands round it, else by its place."""
    start = message.index(wanted)
    left, right = message[:start][-1:], message[start + len(wanted) :][:1]
    by_marks = InBarcode(
        after="" if not left or left.isalnum() else left, before="" if not right or right.isalnum() else right
    )
    by_place = InBarcode(first=start + 1, last=start + len(wanted) if right else None)
    return by_marks if by_marks.taken(message) == wanted else by_place


def _by_looks(rule: FieldRule, text: str) -> Iterator[Repair]:
    if not rule.kind.identifies:  # a name or a date has no shape of its own
        return
    learned = rule.profile.learned(text) if rule.profile else ValueProfile(examples=(text,))
    if learned != rule.profile:
        shaped = rule.model_copy(update={"profile": learned})
        yield Repair(f"expect something {learned.sentence}", shaped)
    if not any(isinstance(finder, Pattern) for finder in rule.finders):
        anywhere = rule.model_copy(update={"profile": learned, "finders": (*rule.finders, Pattern(weight=0.3))})
        yield Repair(f"else take anything {learned.sentence}, wherever it stands", anywhere)


def _with(rule: FieldRule, old: BesideLabel | None, new: BesideLabel) -> FieldRule:
    finders = (new, *rule.finders) if old is None else tuple(new if f is old else f for f in rule.finders)
    return rule.model_copy(update={"finders": finders})
