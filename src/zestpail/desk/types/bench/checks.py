"""The checks of a type that speak of several fields: seen as sentences, added from parts, taken out."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import BaseModel, ValidationError

from zestpail.core.checks import (
    AnyCheck,
    Arithmetic,
    ByFormula,
    ColumnSum,
    Condition,
    DateOrder,
    IfThen,
    NotDeliveredBefore,
    RowProduct,
    RunningBalance,
)
from zestpail.core.document_type import DocumentType
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.types.bench.edits import At, write
from zestpail.desk.types.drafts import draft_kind
from zestpail.store import Store


class CheckForm(BaseModel):
    """A new check of several fields; what the chosen one does not need is left aside."""

    check: str = "arithmetic"
    add: list[str] = []
    equals: str = ""
    tolerance: str = "0.02"
    first: str = ""
    then: str = ""
    when_field: str = ""
    when_state: str = "is there"
    when_values: str = ""
    then_field: str = ""
    then_state: str = "is there"
    then_values: str = ""
    same: list[str] = []
    factor: str = ""
    other_factor: str = ""
    product: str = ""
    balance: str = ""
    added: str = ""
    taken: str = ""
    summed: str = ""
    sum_field: str = ""
    """Columns as “table.column”."""
    formula: str = ""
    says: str = ""


@dataclass(frozen=True)
class CheckLine:
    """A check as it is listed."""

    number: int
    sentence: str


def check_lines(kind: DocumentType) -> list[CheckLine]:
    """All checks of the type as sentences, in their order."""
    return [CheckLine(at, check.sentence(kind.all_names)) for at, check in enumerate(kind.checks)]


def add_check(store: Store, at: At, form: CheckForm) -> None:
    """Raises NotDone where the parts do not make a check."""
    kind = draft_kind(store, at.key)
    try:
        check = _check(form)
        sentence = check.sentence(kind.all_names)
    except ValidationError as error:
        raise NotDone(f"This cannot be: {error.errors()[0]['msg'].removeprefix('Value error, ')}.") from error
    except KeyError as problem:
        raise NotDone("Say which fields the check is about.") from problem
    if check in kind.checks:
        raise NotDone("That is checked already.")
    write(store, at, kind.model_copy(update={"checks": (*kind.checks, check)}), f"added the check “{sentence}”")


def remove_check(store: Store, at: At, number: int) -> None:
    """Take a check out. Raises Missing."""
    kind = draft_kind(store, at.key)
    if not 0 <= number < len(kind.checks):
        raise Missing("There is no such check any more.")
    left = tuple(check for place, check in enumerate(kind.checks) if place != number)
    said = kind.checks[number].sentence(kind.all_names)
    write(store, at, kind.model_copy(update={"checks": left}), f"removed the check “{said}”")


def _check(form: CheckForm) -> AnyCheck:
    if form.check == "arithmetic":
        if not form.add:
            raise NotDone("Say which fields to add up.")
        return Arithmetic.model_validate(
            {"add": tuple(form.add), "equals": form.equals, "tolerance": form.tolerance or "0"}
        )
    if form.check == "date order":
        return DateOrder(first=form.first, then=form.then)
    if form.check == "not delivered before":
        if not form.same:
            raise NotDone("Say which values must not have come before together.")
        return NotDeliveredBefore(same=tuple(form.same))
    if form.check in ("row product", "running balance", "column sum"):
        return _over_rows(form)
    if form.check == "formula":
        return ByFormula(formula=" ".join(form.formula.split()), says=form.says.strip())
    when = _condition(form.when_field, form.when_state, form.when_values)
    return IfThen(when=when, then=_condition(form.then_field, form.then_state, form.then_values))


def _over_rows(form: CheckForm) -> AnyCheck:
    """A check over the rows of a table; its columns must be of one table."""
    wanted = {
        "row product": [form.factor, form.other_factor, form.product],
        "running balance": [form.balance, form.added or form.taken],
        "column sum": [form.summed, form.sum_field],
    }[form.check]
    if not all(wanted):
        raise NotDone("Say which columns the check is about.")
    named = (form.factor, form.other_factor, form.product, form.balance, form.added, form.taken, form.summed)
    of_check = {"row product": named[:3], "running balance": named[3:6], "column sum": named[6:]}[form.check]
    tables = {name.partition(".")[0] for name in of_check if name}
    if len(tables) > 1:
        raise NotDone("The columns of one check must be of one table.")
    table, column = tables.pop(), {name: name.partition(".")[2] for name in named}
    if form.check == "row product":
        multiply = (column[form.factor], column[form.other_factor])
        return RowProduct(table=table, multiply=multiply, equals=column[form.product])
    if form.check == "running balance":
        return RunningBalance(
            table=table, balance=column[form.balance], add=column[form.added], subtract=column[form.taken]
        )
    return ColumnSum(table=table, column=column[form.summed], equals=form.sum_field)


def _condition(field: str, state: str, values: str) -> Condition:
    if not field:
        raise NotDone("Say which fields the check is about.")
    listed = tuple(value.strip() for value in values.split(",") if value.strip())
    if state == "is" and not listed:
        raise NotDone("Say which values it may be, with commas between.")
    return Condition.model_validate({"field": field, "state": state, "values": listed})
