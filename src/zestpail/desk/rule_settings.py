"""The settings of a field's rule as a person edits them, and the rule that follows from them."""

from __future__ import annotations

from typing import TypeVar, get_args

from pydantic import BaseModel, TypeAdapter, ValidationError

from zestpail.core.checks import Needed
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.finders import AnyFinder, Area, BesideLabel, Expression, FixedPlace, Looks
from zestpail.core.finders.area import Pages
from zestpail.core.kinds import AnyKind
from zestpail.desk.sentences import NotDone

F = TypeVar("F")
_KIND: TypeAdapter[AnyKind] = TypeAdapter(AnyKind)


class RuleForm(BaseModel):
    """What a person can set of a field."""

    name: str
    kind: str
    needed: bool = False
    labels: list[str] = []
    directions: list[str] = []
    reach_mm: float = 150
    expression: str = ""
    examples: list[str] = []
    pages: Pages = "any page"
    under: str = ""
    above: str = ""
    held_to: list[str] = []


def kinds() -> list[tuple[str, str]]:
    """All kinds of value: what they are called in files, and in sentences."""
    classes = get_args(get_args(AnyKind)[0])
    return [(cls.model_fields["kind"].default, cls().words) for cls in classes]


def form_of(kind: DocumentType, rule: FieldRule) -> RuleForm:
    """The settings as they are."""
    beside, expression, zone = _first(rule, BesideLabel), _first(rule, Expression), _first(rule, FixedPlace)
    within = rule.within or Area()
    return RuleForm(
        name=rule.name,
        kind=rule.kind.kind,
        needed=is_needed(kind, rule.key),
        labels=list(beside.labels) if beside else [],
        directions=list(beside.directions) if beside else ["right", "below"],
        reach_mm=beside.reach_mm if beside else 150,
        expression=expression.expression if expression else "",
        examples=list(rule.looks.examples) if rule.looks else [],
        pages=within.pages,
        under=within.under or "",
        above=within.above or "",
        held_to=list(zone.held_to) if zone else [],
    )


def edited(kind: DocumentType, key: str, form: RuleForm) -> DocumentType:
    """The type with the field as the settings say. Raises NotDone with a sentence for settings that cannot be."""
    rule = kind.field(key)
    if not form.name.strip():
        raise NotDone("A field needs a name.")
    if form.labels and not form.directions:
        raise NotDone("A label without a direction finds nothing: look right of it, below it, or both.")
    try:
        changed = rule.model_copy(
            update={
                "name": " ".join(form.name.split()),
                "kind": _KIND.validate_python({"kind": form.kind}),
                "finders": _finders(rule, form),
                "looks": Looks(examples=tuple(form.examples)) if form.examples else None,
                "within": _area(form),
            }
        )
        others = tuple(c for c in kind.checks if not (isinstance(c, Needed) and c.field == key))
        checks = (*others, Needed(field=key)) if form.needed else others
        fields = tuple(changed if field.key == key else field for field in kind.fields)
        return DocumentType.model_validate(
            kind.model_copy(update={"fields": fields, "checks": checks}).model_dump(mode="json")
        )
    except ValidationError as error:
        raise NotDone(f"This cannot be: {error.errors()[0]['msg'].removeprefix('Value error, ')}.") from error


def is_needed(kind: DocumentType, key: str) -> bool:
    return any(isinstance(check, Needed) and check.field == key for check in kind.checks)


def _finders(rule: FieldRule, form: RuleForm) -> tuple[AnyFinder, ...]:
    """The finders as set; one that is not among the settings stays as it is."""
    found: list[AnyFinder] = []
    labels = tuple(dict.fromkeys(label.strip() for label in form.labels if label.strip()))
    beside, expression = _first(rule, BesideLabel), _first(rule, Expression)
    if labels or (beside and beside.weak_labels):
        settings = {"labels": labels, "directions": tuple(form.directions), "reach_mm": form.reach_mm}
        before = beside.model_dump() if beside else {}
        found.append(BesideLabel.model_validate({**before, **settings}))
    if form.expression.strip():
        before = expression.model_dump() if expression else {}
        found.append(Expression.model_validate({**before, "expression": form.expression.strip()}))
    for finder in rule.finders:
        if isinstance(finder, FixedPlace):
            found.append(finder.model_copy(update={"held_to": tuple(form.held_to)}))
        elif finder is not beside and finder is not expression:
            found.append(finder)
    return tuple(found)


def _area(form: RuleForm) -> Area | None:
    if form.under and form.under == form.above:
        raise NotDone(f"Nothing is both under and above {form.under}.")
    area = Area(pages=form.pages, under=form.under or None, above=form.above or None)
    return area if area != Area() else None


def _first(rule: FieldRule, kind: type[F]) -> F | None:
    return next((finder for finder in rule.finders if isinstance(finder, kind)), None)
