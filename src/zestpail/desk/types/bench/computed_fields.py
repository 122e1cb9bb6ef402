"""Fields that are worked out from others, as a person sets them up."""

from __future__ import annotations

from pydantic import BaseModel, ValidationError

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import Computed
from zestpail.core.kinds import Amount, AnyKind, OneLine, Quantity
from zestpail.core.teaching.field_proposal import key_for
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.types.bench.edits import At, write
from zestpail.desk.types.drafts import draft_type
from zestpail.store import Store


class ComputedForm(BaseModel):
    """How a value is worked out; what the chosen way does not need is left aside."""

    name: str = ""
    how: str = "joined"
    one: str = ""
    operation: str = "plus"
    other: str = ""
    decimals: int = 2
    of: str = ""
    part: str = "first_word"
    several: list[str] = []
    between: str = " "
    by: str = ""
    """One entry a line, as “from = to”."""
    else_itself: bool = False
    in_list: str = ""
    column: str = ""
    text: str = ""
    where: str = ""


def compute(store: Store, at: At, form: ComputedForm, key: str = "") -> str:
    """A new field that is worked out, or another way for the one of that key; returns the key. Raises NotDone."""
    doc_type = draft_type(store, at.key)
    finder = _finder(form)
    name = " ".join(form.name.split())
    if key:
        fields = tuple(_worked_out(field, finder) if field.key == key else field for field in doc_type.fields)
        write(
            store,
            at,
            doc_type.model_copy(update={"fields": fields}),
            f"changed how {doc_type.field(key).name} is worked out",
        )
        return key
    if not name:
        raise NotDone("A field needs a name.")
    key = key_for(name, list(doc_type.names))
    field = FieldRule(key=key, name=name, kind=_kind_for(form, doc_type.fields), finders=(finder,))
    write(store, at, doc_type.model_copy(update={"fields": (*doc_type.fields, field)}), f"added the field {name}")
    return key


def form_of_way(rule: FieldRule) -> ComputedForm | None:
    """How the field is worked out now; None where it is not."""
    finder = next((finder for finder in rule.finders if isinstance(finder, Computed)), None)
    if finder is None:
        return None
    way = finder.way.model_dump()
    by = "\n".join(f"{one} = {other}" for one, other in way.pop("by", {}).items())
    way["in_list"] = way.pop("list", "")
    several = list(way.pop("of")) if way["how"] == "joined" else []
    return ComputedForm(**{name: value for name, value in way.items() if value is not None}, by=by, several=several)


def _finder(form: ComputedForm) -> Computed:
    entries = [line.split("=", 1) for line in form.by.splitlines() if "=" in line]
    ways: dict[str, dict[str, object]] = {
        "arithmetic": {
            "one": form.one, "operation": form.operation, "other": form.other, "decimals": form.decimals,
        },
        "part": {"of": form.of, "part": form.part},
        "joined": {"of": tuple(form.several), "between": form.between},
        "translated": {
            "of": form.of, "by": {one.strip(): to.strip() for one, to in entries}, "else_itself": form.else_itself,
        },
        "by_list": {"of": form.of, "list": form.in_list, "column": form.column},
        "fixed_text": {"text": form.text, "where": form.where or None},
    }  # fmt: skip
    _complete(form, entries)
    try:
        return Computed.model_validate({"way": {"how": form.how, **ways.get(form.how, {})}})
    except ValidationError as error:
        raise NotDone(f"Not possible: {error.errors()[0]['msg'].removeprefix('Value error, ')}.") from error


def _complete(form: ComputedForm, entries: list[list[str]]) -> None:
    lacking = {
        "arithmetic": "Say which two fields to reckon with." if not (form.one and form.other) else "",
        "part": "Say which field to take a part of." if not form.of else "",
        "joined": "Say which fields to join, two at least." if len(form.several) < 2 else "",
        "translated": "Say which field, and one line at least as “from = to”." if not (form.of and entries) else "",
        "by_list": "Say which field, which list and which column."
        if not (form.of and form.in_list and form.column)
        else "",
        "fixed_text": "Say which text." if not form.text.strip() else "",
    }
    if lacking.get(form.how):
        raise NotDone(lacking[form.how])


def _kind_for(form: ComputedForm, fields: tuple[FieldRule, ...]) -> AnyKind:
    """Amounts stay amounts; other arithmetic makes a quantity, and all else a line of text."""
    if form.how != "arithmetic":
        return OneLine()
    kinds = [field.kind for field in fields if field.key in (form.one, form.other)]
    return Amount() if any(kind.money for kind in kinds) else Quantity()


def _worked_out(field: FieldRule, finder: Computed) -> FieldRule:
    others = tuple(known for known in field.finders if not isinstance(known, Computed))
    return field.model_copy(update={"finders": (*others, finder)})
