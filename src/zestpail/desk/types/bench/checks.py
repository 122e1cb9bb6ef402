"""The checks of a type that speak of several fields: seen as sentences, added from parts, taken out."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import TypeAdapter, ValidationError

from zestpail.core.checks import CHECK_TYPES, AnyCheck
from zestpail.core.document_type import DocumentType
from zestpail.core.setting import SettingField, declared, entered, form_fields
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.types.bench.edits import At, write
from zestpail.desk.types.bench.rule_settings import Form
from zestpail.desk.types.drafts import draft_type
from zestpail.store import Store

CHECK = "check"
"""What a form calls the choice of the check."""
LACKING = ("missing", "too_short", "string_too_short")
_CHECK: TypeAdapter[AnyCheck] = TypeAdapter(AnyCheck)


@dataclass(frozen=True)
class CheckLine:
    """A check as it is listed."""

    number: int
    sentence: str


@dataclass(frozen=True)
class CheckChoice:
    """A check that can be added, with the parts that it is made of."""

    code: str
    title: str
    fields: tuple[SettingField, ...]
    of_columns: bool
    """Whether it speaks of columns, and so is of no use without a table."""


def check_lines(doc_type: DocumentType) -> list[CheckLine]:
    """All checks of the type as sentences, in their order."""
    return [CheckLine(at, check.sentence(doc_type.all_names)) for at, check in enumerate(doc_type.checks)]


def check_choices() -> list[CheckChoice]:
    """The checks of several fields or columns that there are."""
    return [
        CheckChoice(
            check.code(),
            check.title,
            form_fields(check, check.code()),
            any(setting.widget in ("column", "columns") for setting in declared(check).values()),
        )
        for check in CHECK_TYPES
        if not check.of_one_field
    ]


def add_check(store: Store, at: At, sent: Form) -> None:
    """Raises NotDone where the parts do not make a check."""
    doc_type = draft_type(store, at.key)
    try:
        check = _check(sent)
        sentence = check.sentence(doc_type.all_names)
    except ValidationError as error:
        first = error.errors()[0]
        if first["type"] in LACKING:
            raise NotDone("Say which fields or columns the check is about.") from error
        raise NotDone(f"Not possible: {first['msg'].removeprefix('Value error, ')}.") from error
    except (KeyError, ValueError) as problem:
        what = "the check is about fields that are not there" if isinstance(problem, KeyError) else problem
        raise NotDone(f"Not possible: {what}.") from problem
    if check in doc_type.checks:
        raise NotDone("That is checked already.")
    write(store, at, doc_type.model_copy(update={"checks": (*doc_type.checks, check)}), f"added the check “{sentence}”")


def remove_check(store: Store, at: At, number: int) -> None:
    """Take a check out. Raises Missing."""
    doc_type = draft_type(store, at.key)
    if not 0 <= number < len(doc_type.checks):
        raise Missing("There is no such check any more.")
    left = tuple(check for place, check in enumerate(doc_type.checks) if place != number)
    message = doc_type.checks[number].sentence(doc_type.all_names)
    write(store, at, doc_type.model_copy(update={"checks": left}), f"removed the check “{message}”")


def _check(sent: Form) -> AnyCheck:
    code = (sent.get(CHECK) or ("",))[-1]
    model = next((check for check in CHECK_TYPES if check.code() == code), None)
    if model is None:
        raise NotDone("Choose what is to be checked.")
    return _CHECK.validate_python({"check": code, **model.from_form(entered(model, code, sent))})
