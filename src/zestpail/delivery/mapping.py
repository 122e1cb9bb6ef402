"""Which of our values goes into which column over there, as data: one tie a column, and a sentence for each tie."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.delivery.columns import KINDS, Column, Columns

Value = str | int | float | bool
Written = Literal["as_it_is", "upper_case", "lower_case", "figures_only", "day_month_year", "decimal_comma"]
WRITTEN: dict[Written, str] = {
    "as_it_is": "as it is", "upper_case": "in capitals", "lower_case": "in small letters",
    "figures_only": "its figures only", "day_month_year": "as 31.12.2026", "decimal_comma": "with a decimal comma",
}  # fmt: skip
"""How a value is written over there, by code, and what that is called."""
_NAMED = re.compile(r"\{([^{}]*)\}")
MOST_FIGURES = 15
"""A number of so many figures is the same number as a float, and is written as it was."""


class _Source(BaseModel):
    model_config = ConfigDict(frozen=True)


class FieldSource(_Source):
    """The value of a field, or of a column of a table."""

    source: Literal["field"] = "field"
    key: str
    written: Written = "as_it_is"

    def text(self, values: Mapping[str, str | None]) -> str:
        return _WAYS[self.written](values.get(self.key) or "")

    def sentence(self, names: Mapping[str, str]) -> str:
        how = f", {WRITTEN[self.written]}" if self.written != "as_it_is" else ""
        return names.get(self.key, self.key) + how

    @property
    def used(self) -> frozenset[str]:
        return frozenset({self.key})


class FixedSource(_Source):
    """Always the same text."""

    source: Literal["fixed"] = "fixed"
    always: str

    def text(self, values: Mapping[str, str | None]) -> str:  # noqa: ARG002 - the same whatever they are
        return self.always

    def sentence(self, names: Mapping[str, str]) -> str:  # noqa: ARG002
        return f"always “{self.always}”"

    @property
    def used(self) -> frozenset[str]:
        return frozenset()


class JoinedSource(_Source):
    """Several values in one text, each named in braces: ``{supplier}, {invoice_number}``."""

    source: Literal["joined"] = "joined"
    pattern: str = Field(min_length=1, max_length=400)

    def text(self, values: Mapping[str, str | None]) -> str:
        """Nothing where none of the values is there."""
        if self.used and not any(values.get(key) for key in self.used):
            return ""
        return _NAMED.sub(lambda found: values.get(found[1]) or "", self.pattern).strip()

    def sentence(self, names: Mapping[str, str]) -> str:
        return "“" + _NAMED.sub(lambda found: f"[{names.get(found[1], found[1])}]", self.pattern) + "”"

    @property
    def used(self) -> frozenset[str]:
        return frozenset(_NAMED.findall(self.pattern))


class LookupSource(_Source):
    """What stands beside a value in a short list, such as a cost centre for a vessel."""

    source: Literal["lookup"] = "lookup"
    key: str
    entries: tuple[tuple[str, str], ...]
    otherwise: str = ""
    """What it is where the list does not have the value."""

    def text(self, values: Mapping[str, str | None]) -> str:
        wanted = (values.get(self.key) or "").strip().casefold()
        return next((there for ours, there in self.entries if ours.strip().casefold() == wanted), self.otherwise)

    def sentence(self, names: Mapping[str, str]) -> str:
        shown = ", ".join(f"{there} for {ours}" for ours, there in self.entries[:2])
        more = f" and {len(self.entries) - 2} more" if len(self.entries) > 2 else ""
        return f"by {names.get(self.key, self.key)}: {shown}{more}" + (
            f", else {self.otherwise}" if self.otherwise else ""
        )

    @property
    def used(self) -> frozenset[str]:
        return frozenset({self.key})


AnySource = Annotated[FieldSource | FixedSource | JoinedSource | LookupSource, Field(discriminator="source")]


class Tie(BaseModel):
    """What goes into one column."""

    model_config = ConfigDict(frozen=True)

    column: str
    value: AnySource

    def sentence(self, columns: Sequence[Column], names: Mapping[str, str]) -> str:
        """As a person would say it."""
        name = next((one.name for one in columns if one.key == self.column), self.column)
        return f"{name} is {self.value.sentence(names)}"


class TableTie(BaseModel):
    """A table whose rows become the smaller records of a list."""

    model_config = ConfigDict(frozen=True)

    list_key: str
    table: str
    ties: tuple[Tie, ...] = ()


class Ties(BaseModel):
    """All ties of a destination."""

    model_config = ConfigDict(frozen=True)

    ties: tuple[Tie, ...] = ()
    tables: tuple[TableTie, ...] = ()

    @property
    def used(self) -> frozenset[str]:
        """Keys of the fields that go somewhere."""
        return frozenset().union(*(tie.value.used for tie in self.ties))


@dataclass(frozen=True)
class Mapped:
    """A record as it would be sent, and why it cannot be."""

    record: dict[str, Value | list[dict[str, Value]]]
    problems: tuple[str, ...]


def mapped(
    mapping: Ties, columns: Columns, values: Mapping[str, str | None],
    rows: Mapping[str, Sequence[Mapping[str, str | None]]],
) -> Mapped:  # fmt: skip
    """The record of a document. Empty values are left out; what a required column lacks is a problem."""
    problems: list[str] = []
    record: dict[str, Any] = dict(_record(mapping.ties, columns.plain, values, "", problems))
    for tie in mapping.tables:
        there = columns.list_of(tie.list_key)
        if there is None:
            continue
        record[tie.list_key] = [
            dict(_record(tie.ties, there.columns, row, f"row {number} of {there.name}: ", problems))
            for number, row in enumerate(rows.get(tie.table, ()), 1)
        ]
    return Mapped(record, tuple(problems))


def _record(
    ties: Sequence[Tie], columns: Sequence[Column], values: Mapping[str, str | None], where: str, problems: list[str]
) -> Iterator[tuple[str, Value]]:
    by_column = {tie.column: tie for tie in ties}
    for column in columns:
        tie = by_column.get(column.key)
        text = tie.value.text(values) if tie else ""
        if not text:
            if column.required:
                problems.append(f"{where}{column.name} is required and is empty.")
            continue
        try:
            yield column.key, fitting(column, text)
        except ValueError as problem:
            problems.append(f"{where}{column.name} {problem}.")


def fitting(column: Column, text: str) -> Value:
    """The text as the column takes it. Raises ValueError with the reason, to follow the column's name."""
    if column.choices and text not in column.choices:
        raise ValueError(f"may be {' or '.join(column.choices[:5])}, and is “{text}”")
    if column.longest is not None and len(text) > column.longest:
        raise ValueError(f"takes {column.longest} characters, and “{text[:20]}…” has {len(text)}")
    match column.kind:
        case "number":
            return _number(text)
        case "yes_no":
            if text not in ("yes", "no"):
                raise ValueError(f"takes {KINDS['yes_no']}, and is “{text}”")
            return text == "yes"
        case "date":
            try:
                return date.fromisoformat(text).isoformat()
            except ValueError:
                raise ValueError(f"takes {KINDS['date']}, and is “{text}”") from None
        case _:
            return text


def _number(text: str) -> int | float:
    try:
        number = Decimal(text)
    except InvalidOperation:
        raise ValueError(f"takes {KINDS['number']}, and is “{text}”") from None
    if not number.is_finite() or len(number.as_tuple().digits) > MOST_FIGURES:
        raise ValueError(f"takes {KINDS['number']} of at most {MOST_FIGURES} figures, and is “{text}”")
    return int(number) if number == number.to_integral_value() else float(number)


def _day_first(text: str) -> str:
    try:
        return f"{date.fromisoformat(text):%d.%m.%Y}"
    except ValueError:
        return text


_WAYS: dict[Written, Callable[[str], str]] = {
    "as_it_is": lambda text: text, "upper_case": str.upper, "lower_case": str.lower,
    "figures_only": lambda text: "".join(c for c in text if c.isdigit()), "day_month_year": _day_first,
    "decimal_comma": lambda text: text.replace(".", ",") if re.fullmatch(r"-?\d+(\.\d+)?", text) else text,
}  # fmt: skip


@dataclass(frozen=True)
class Faults:
    """What a mapping leaves open, said before anything is sent."""

    not_tied: tuple[str, ...]
    """Names of required columns that nothing goes into."""
    gone: tuple[str, ...]
    """Keys of columns that are tied and that the other side does not have any more."""
    nowhere: tuple[str, ...]
    """Names of fields that are captured and go nowhere."""


def faults_of(mapping: Ties, columns: Columns, names: Mapping[str, str]) -> Faults:
    """What a mapping leaves open; ``names`` are those of the fields, by key."""
    tied = {tie.column for tie in mapping.ties}
    lists = {tie.list_key: tie for tie in mapping.tables}
    not_tied = [column.name for column in columns.plain if column.required and column.key not in tied]
    gone = [key for key in sorted(tied) if columns.of(key) is None]
    for key, tie in lists.items():
        there = columns.list_of(key)
        if there is None:
            gone.append(key)
            continue
        inner, known = {one.column for one in tie.ties}, {column.key for column in there.columns}
        not_tied += [f"{there.name}: {c.name}" for c in there.columns if c.required and c.key not in inner]
        gone += [f"{key}.{column}" for column in sorted(inner - known)]
    return Faults(tuple(not_tied), tuple(gone), tuple(name for key, name in names.items() if key not in mapping.used))
