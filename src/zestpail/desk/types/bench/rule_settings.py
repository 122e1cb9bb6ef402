"""The settings of a field's rule as a person edits them, and the rule that follows from them.

What finders and checks can be set to is declared on their models; a form has a group for each of them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, TypeAdapter, ValidationError, field_validator

from zestpail.core.checks import CHECK_TYPES, AnyCheck, Check
from zestpail.core.document_type import DocumentType, FieldRule, Tries
from zestpail.core.finders import FINDER_TYPES, AnyFinder, Area, Finder, ValueProfile
from zestpail.core.finders.area import Pages
from zestpail.core.kinds import KINDS, AnyKind
from zestpail.core.setting import SettingField, declared, entered, filled, form_fields
from zestpail.core.writing.value_formats import ValueFormat
from zestpail.desk.documents.messages import NotDone

Form = Mapping[str, Sequence[str]]
"""What a form sends: by name, everything that was entered or chosen."""

OWN_CHECKS = tuple(check for check in CHECK_TYPES if check.of_one_field)
"""Checks of one field alone, which are among its settings; the others are the type's."""
SWITCH = "on"
"""The setting that is no more than a tick, for what has no other."""
_KIND: TypeAdapter[AnyKind] = TypeAdapter(AnyKind)
_FINDER: TypeAdapter[AnyFinder] = TypeAdapter(AnyFinder)
_CHECK: TypeAdapter[AnyCheck] = TypeAdapter(AnyCheck)


class RuleForm(BaseModel):
    """What a person can set of a field besides its finders and checks; lists are edited one entry a line."""

    name: str = ""
    kind: str = "code"
    tries: Tries = "competing"
    examples: list[str] = []
    pages: Pages = "any"
    under: str = ""
    above: str = ""
    right_of: str = ""
    left_of: str = ""
    export_as: ValueFormat = "as_kept"
    review_below: float | None = None
    """In percent."""

    @field_validator("examples", mode="before")
    @classmethod
    def _by_line(cls, entries: list[str]) -> list[str]:
        return [line.strip() for entry in entries for line in entry.splitlines() if line.strip()]

    @field_validator("review_below", mode="before")
    @classmethod
    def _left_empty(cls, number: object) -> object:
        return None if number == "" else number


@dataclass(frozen=True)
class SettingGroup:
    """The settings of one finder or check in the form."""

    code: str
    title: str
    on: bool
    """Whether the rule has it now."""
    switch: str
    """The name of the tick by which it is had or not; "" where filling it in is enough."""
    fields: tuple[SettingField, ...]
    open: bool = False
    """Whether it is shown at once, and not folded away."""


@dataclass(frozen=True)
class RuleSettings:
    """All settings of a field as they are."""

    form: RuleForm
    finders: list[SettingGroup]
    checks: list[SettingGroup]


def kinds() -> list[tuple[str, str]]:
    """All kinds of value: what they are called in files, and in sentences."""
    return [(kind.kind, kind.words) for kind in KINDS]


def settings_of(doc_type: DocumentType, rule: FieldRule) -> RuleSettings:
    """The settings as they are."""
    within = rule.within or Area()
    form = RuleForm(
        name=rule.name,
        kind=rule.kind.kind,
        tries=rule.tries,
        examples=list(rule.profile.examples) if rule.profile else [],
        pages=within.pages,
        under=within.under or "",
        above=within.above or "",
        right_of=within.right_of or "",
        left_of=within.left_of or "",
        export_as=rule.export_as,
        review_below=None if rule.review_below is None else 100 * rule.review_below,
    )
    own: dict[type[Check], Check] = {
        type(check): check for check in doc_type.checks if check.of_one_field and check.touches == (rule.key,)
    }
    return RuleSettings(form, list(_finder_groups(rule)), [_check_group(check, own.get(check)) for check in OWN_CHECKS])


def _finder_groups(rule: FieldRule) -> list[SettingGroup]:
    there: dict[type[Finder], Finder] = {type(finder): finder for finder in reversed(rule.finders)}
    groups: list[SettingGroup] = []
    for finder in FINDER_TYPES:
        now = there.get(finder)
        if finder.title and (now or finder.added_by):
            switch = f"{finder.code()}.{SWITCH}" if finder.added_by == SWITCH else ""
            fields = form_fields(finder, finder.code(), now)
            shown = now is not None or not groups
            groups.append(SettingGroup(finder.code(), finder.title, now is not None, switch, fields, shown))
    return groups


def _check_group(check: type[Check], now: Check | None) -> SettingGroup:
    switch = "" if declared(check) else f"{check.code()}.{SWITCH}"
    return SettingGroup(check.code(), check.title, now is not None, switch, form_fields(check, check.code(), now))


def edited(doc_type: DocumentType, key: str, sent: Form) -> DocumentType:
    """The type with the field as the settings say. Raises NotDone with a sentence for settings that cannot be."""
    rule = doc_type.field(key)
    try:
        lists = {name: list(sent[name]) for name in ("examples",) if name in sent}
        form = RuleForm.model_validate({name: values[-1] for name, values in sent.items() if values} | lists)
        if not form.name.strip():
            raise NotDone("A field needs a name.")
        changed = rule.model_copy(
            update={
                "name": " ".join(form.name.split()),
                "kind": _KIND.validate_python({"kind": form.kind}),
                "finders": _finders(rule, sent),
                "profile": ValueProfile(examples=tuple(form.examples)) if form.examples else None,
                "within": _area(form),
                "tries": form.tries,
                "export_as": form.export_as,
                "review_below": None if form.review_below is None else form.review_below / 100,
            }
        )
        others = tuple(check for check in doc_type.checks if not (check.of_one_field and check.touches == (key,)))
        checks = (*others, *_own_checks(key, sent))
        fields = tuple(changed if field.key == key else field for field in doc_type.fields)
        return DocumentType.model_validate(
            doc_type.model_copy(update={"fields": fields, "checks": checks}).model_dump(mode="json")
        )
    except ValidationError as error:
        raise NotDone(f"Not possible: {error.errors()[0]['msg'].removeprefix('Value error, ')}.") from error


def _finders(rule: FieldRule, sent: Form) -> tuple[AnyFinder, ...]:
    """The finders as set: what has no form stays, what was emptied goes, what was filled in comes."""
    found: list[AnyFinder] = []
    seen: set[type[Finder]] = set()
    for finder in rule.finders:
        model: type[Finder] = type(finder)
        if not finder.title or model in seen:
            found.append(finder)
        elif not finder.added_by or _wanted(model, sent) or finder.stays_when_emptied:
            found.append(_finder(model, sent, finder.model_dump(exclude=set(declared(model)))))
        seen.add(model)
    order = {model: at for at, model in enumerate(FINDER_TYPES)}
    for kind in FINDER_TYPES:
        if kind not in seen and kind.title and kind.added_by and _wanted(kind, sent):
            place = next((at for at, one in enumerate(found) if order[type(one)] > order[kind]), len(found))
            found.insert(place, _finder(kind, sent, {}))
    return tuple(found)


def _finder(model: type[Finder], sent: Form, rest: Mapping[str, Any]) -> AnyFinder:
    return _FINDER.validate_python({"finder": model.code(), **rest, **entered(model, model.code(), sent)})


def _wanted(model: type[Finder], sent: Form) -> bool:
    if model.added_by == SWITCH:
        return bool(sent.get(f"{model.code()}.{SWITCH}"))
    return filled(model, model.code(), sent, model.added_by)


def _own_checks(key: str, sent: Form) -> list[AnyCheck]:
    """The checks that the settings make of this field alone: those that are ticked, or of which something was set."""
    found = []
    for model in OWN_CHECKS:
        values = entered(model, model.code(), sent)
        usual = {name: model.model_fields[name].default for name in values}
        meant = any(value and str(value) != str(usual[name]) for name, value in values.items())
        if meant or sent.get(f"{model.code()}.{SWITCH}"):
            found.append(_CHECK.validate_python({"check": model.code(), "field": key, **values}))
    return found


def _area(form: RuleForm) -> Area | None:
    for one, other, message in (
        (form.under, form.above, "under and above"),
        (form.right_of, form.left_of, "right and left of"),
    ):
        if one and one == other:
            raise NotDone(f"Nothing is both {message} {one}.")
    area = Area(
        pages=form.pages,
        under=form.under or None,
        above=form.above or None,
        right_of=form.right_of or None,
        left_of=form.left_of or None,
    )
    return area if area != Area() else None
