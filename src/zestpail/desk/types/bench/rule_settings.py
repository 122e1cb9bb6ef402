"""The settings of a field's rule as a person edits them, and the rule that follows from them."""

from __future__ import annotations

from typing import Any, TypeVar, get_args

from pydantic import BaseModel, TypeAdapter, ValidationError, field_validator

from zestpail.core.checks import AnyCheck, CheckFigures, Length, Needed, OneOf, Range, Shaped
from zestpail.core.document_type import DocumentType, FieldRule, Tries
from zestpail.core.finders import (
    AnyFinder,
    Area,
    BesideLabel,
    Expression,
    FixedPlace,
    InBarcode,
    Looks,
    Option,
    Section,
    Signed,
    Ticked,
)
from zestpail.core.finders.area import Pages
from zestpail.core.finders.printed.beside_label import Bound
from zestpail.core.kinds import AnyKind
from zestpail.core.writing.value_formats import DeliveredAs
from zestpail.desk.documents.messages import NotDone

F = TypeVar("F")
OWN_CHECKS = (Needed, Length, Range, OneOf, Shaped, CheckFigures)
"""Checks of one field alone, which are among its settings; the others are the type's."""
BARCODE = {"begins": "begins_with", "after": "after", "before": "before", "first": "first", "last": "last"}
_KIND: TypeAdapter[AnyKind] = TypeAdapter(AnyKind)


class RuleForm(BaseModel):
    """What a person can set of a field; lists are edited one entry a line."""

    name: str = ""
    kind: str = "code"
    needed: bool = False
    labels: list[str] = []
    directions: list[str] = []
    reach_mm: float = 150
    up_to: list[Bound] = []
    tries: Tries = "competing"
    barcode: bool = False
    barcode_begins: str = ""
    barcode_after: str = ""
    barcode_before: str = ""
    barcode_first: int = 1
    barcode_last: int | None = None
    headings: list[str] = []
    until: list[str] = []
    question: list[str] = []
    options: list[str] = []
    """Boxes to be ticked, one a line, as “value = words beside it | other words”."""
    expression: str = ""
    examples: list[str] = []
    pages: Pages = "any page"
    under: str = ""
    above: str = ""
    right_of: str = ""
    left_of: str = ""
    held_to: list[str] = []
    delivered_as: DeliveredAs = "as it is kept"
    review_below: float | None = None
    """In percent."""
    shortest: int | None = None
    longest: int | None = None
    least: str = ""
    most: str = ""
    one_of: list[str] = []
    shaped: list[str] = []
    check_figures: str = ""

    @field_validator(
        "labels", "headings", "until", "question", "options", "examples", "one_of", "shaped", mode="before"
    )
    @classmethod
    def _by_line(cls, entered: list[str]) -> list[str]:
        return [line.strip() for entry in entered for line in entry.splitlines() if line.strip()]

    @field_validator("barcode_last", "review_below", "shortest", "longest", mode="before")
    @classmethod
    def _left_empty(cls, entered: object) -> object:
        return None if entered == "" else entered


def kinds() -> list[tuple[str, str]]:
    """All kinds of value: what they are called in files, and in sentences."""
    classes = get_args(get_args(AnyKind)[0])
    return [(cls.model_fields["kind"].default, cls().words) for cls in classes]


def form_of(kind: DocumentType, rule: FieldRule) -> RuleForm:
    """The settings as they are."""
    beside, expression, zone = _first(rule, BesideLabel), _first(rule, Expression), _first(rule, FixedPlace)
    within, code = rule.within or Area(), _first(rule, InBarcode)
    ticked, signed, section = _first(rule, Ticked), _first(rule, Signed), _first(rule, Section)
    return RuleForm(
        name=rule.name,
        kind=rule.kind.kind,
        needed=is_needed(kind, rule.key),
        labels=list(beside.labels) if beside else [],
        directions=list(beside.directions) if beside else ["right", "below"],
        reach_mm=beside.reach_mm if beside else 150,
        up_to=list(beside.up_to) if beside else [],
        tries=rule.tries,
        barcode=code is not None,
        **({f"barcode_{name}": getattr(code, full) for name, full in BARCODE.items()} if code else {}),
        headings=list(section.headings) if section else [],
        until=list(section.until) if section else [],
        question=list(ticked.labels if ticked else signed.labels if signed else ()),
        options=[f"{o.value} = {' | '.join(o.wordings)}" for o in ticked.options] if ticked else [],
        expression=expression.expression if expression else "",
        examples=list(rule.looks.examples) if rule.looks else [],
        pages=within.pages,
        under=within.under or "",
        above=within.above or "",
        right_of=within.right_of or "",
        left_of=within.left_of or "",
        held_to=list(zone.held_to) if zone else [],
        delivered_as=rule.delivered_as,
        review_below=None if rule.review_below is None else 100 * rule.review_below,
        **_limits(kind, rule.key),
    )


def edited(kind: DocumentType, key: str, form: RuleForm) -> DocumentType:
    """The type with the field as the settings say. Raises NotDone with a sentence for settings that cannot be."""
    rule = kind.field(key)
    if not form.name.strip():
        raise NotDone("A field needs a name.")
    if form.labels and not form.directions:
        raise NotDone("A label without a direction finds nothing: say on which side of it the value stands.")
    try:
        changed = rule.model_copy(
            update={
                "name": " ".join(form.name.split()),
                "kind": _KIND.validate_python({"kind": form.kind}),
                "finders": _finders(rule, form),
                "looks": Looks(examples=tuple(form.examples)) if form.examples else None,
                "within": _area(form),
                "tries": form.tries,
                "delivered_as": form.delivered_as,
                "review_below": None if form.review_below is None else form.review_below / 100,
            }
        )
        others = tuple(c for c in kind.checks if not (isinstance(c, OWN_CHECKS) and c.field == key))
        checks = (*others, *_checks(key, form))
        fields = tuple(changed if field.key == key else field for field in kind.fields)
        return DocumentType.model_validate(
            kind.model_copy(update={"fields": fields, "checks": checks}).model_dump(mode="json")
        )
    except ValidationError as error:
        raise NotDone(f"This cannot be: {error.errors()[0]['msg'].removeprefix('Value error, ')}.") from error


def _checks(key: str, form: RuleForm) -> list[AnyCheck]:
    """The checks that the settings make of this field alone."""
    checks: list[AnyCheck] = [Needed(field=key)] if form.needed else []
    if form.shortest or form.longest:
        checks.append(Length(field=key, least=form.shortest or 0, most=form.longest))
    if form.least.strip() or form.most.strip():
        checks.append(Range(field=key, least=form.least.strip(), most=form.most.strip()))
    if form.one_of:
        checks.append(OneOf(field=key, values=tuple(form.one_of)))
    if form.shaped:
        checks.append(Shaped(field=key, examples=tuple(form.shaped)))
    if form.check_figures:
        checks.append(CheckFigures.model_validate({"field": key, "of": form.check_figures}))
    return checks


def _limits(kind: DocumentType, key: str) -> dict[str, Any]:
    """The same checks, back as settings."""
    found: dict[str, Any] = {}
    for check in kind.checks:
        if isinstance(check, Length) and check.field == key:
            found |= {"shortest": check.least or None, "longest": check.most}
        elif isinstance(check, Range) and check.field == key:
            found |= {"least": check.least, "most": check.most}
        elif isinstance(check, OneOf) and check.field == key:
            found["one_of"] = list(check.values)
        elif isinstance(check, Shaped) and check.field == key:
            found["shaped"] = list(check.examples)
        elif isinstance(check, CheckFigures) and check.field == key:
            found["check_figures"] = check.of
    return found


def is_needed(kind: DocumentType, key: str) -> bool:
    return any(isinstance(check, Needed) and check.field == key for check in kind.checks)


def _finders(rule: FieldRule, form: RuleForm) -> tuple[AnyFinder, ...]:
    """The finders as set; one that is not among the settings stays as it is."""
    found: list[AnyFinder] = []
    labels = tuple(dict.fromkeys(label.strip() for label in form.labels if label.strip()))
    beside, expression = _first(rule, BesideLabel), _first(rule, Expression)
    if labels or (beside and beside.weak_labels):
        settings = {
            "labels": labels,
            "directions": tuple(form.directions),
            "reach_mm": form.reach_mm,
            "up_to": tuple(form.up_to),
        }
        before = beside.model_dump() if beside else {}
        found.append(BesideLabel.model_validate({**before, **settings}))
    if form.expression.strip():
        before = expression.model_dump() if expression else {}
        found.append(Expression.model_validate({**before, "expression": form.expression.strip()}))
    if form.barcode:
        code = _first(rule, InBarcode)
        before = code.model_dump() if code else {}
        part = {full: getattr(form, f"barcode_{name}") for name, full in BARCODE.items()}
        found.append(InBarcode.model_validate({**before, **part}))
    if form.headings:
        found.append(Section(headings=tuple(form.headings), until=tuple(form.until)))
    for finder in rule.finders:
        if isinstance(finder, Section):
            continue
        if isinstance(finder, Ticked):
            if not form.options:
                raise NotDone("Say which boxes there are, one a line as “value = words beside it”.")
            found.append(finder.model_copy(update={"labels": tuple(form.question), "options": _options(form.options)}))
        elif isinstance(finder, Signed):
            found.append(Signed(labels=tuple(form.question)))
        elif isinstance(finder, FixedPlace):
            found.append(finder.model_copy(update={"held_to": tuple(form.held_to)}))
        elif finder is not beside and finder is not expression and not isinstance(finder, InBarcode):
            found.append(finder)
    return tuple(found)


def _options(lines: list[str]) -> tuple[Option, ...]:
    entries = [(value.strip(), words) for value, _, words in (line.partition("=") for line in lines)]
    return tuple(
        Option(value=value, wordings=tuple(w.strip() for w in words.split("|") if w.strip()) or (value,))
        for value, words in entries
        if value
    )


def _area(form: RuleForm) -> Area | None:
    for one, other, said in (
        (form.under, form.above, "under and above"),
        (form.right_of, form.left_of, "right and left of"),
    ):
        if one and one == other:
            raise NotDone(f"Nothing is both {said} {one}.")
    area = Area(
        pages=form.pages,
        under=form.under or None,
        above=form.above or None,
        right_of=form.right_of or None,
        left_of=form.left_of or None,
    )
    return area if area != Area() else None


def _first(rule: FieldRule, kind: type[F]) -> F | None:
    return next((finder for finder in rule.finders if isinstance(finder, kind)), None)
