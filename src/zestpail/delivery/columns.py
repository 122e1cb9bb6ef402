"""What a record over there is made of: its columns, as the other side describes them (JSON Schema, draft 2020-12)."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

ColumnKind = Literal["text", "number", "date", "yes_no"]
KINDS: dict[ColumnKind, str] = {"text": "a text", "number": "a number", "date": "a date", "yes_no": "yes or no"}
"""What is wanted in a column, as a person would say it."""
_TYPES: dict[str, ColumnKind] = {"string": "text", "number": "number", "integer": "number", "boolean": "yes_no"}
MOST_COLUMNS = 500


class Column(BaseModel):
    """One column of a record."""

    model_config = ConfigDict(frozen=True)

    key: str
    name: str
    kind: ColumnKind = "text"
    required: bool = False
    longest: int | None = None
    """Characters that it takes."""
    choices: tuple[str, ...] = ()
    """What may stand in it; empty where anything may."""


class SubRecords(BaseModel):
    """A column that takes a list of smaller records, one for each row of a table."""

    model_config = ConfigDict(frozen=True)

    key: str
    name: str
    columns: tuple[Column, ...]


class Columns(BaseModel):
    """All columns of a record."""

    model_config = ConfigDict(frozen=True)

    plain: tuple[Column, ...] = ()
    lists: tuple[SubRecords, ...] = ()

    def of(self, key: str) -> Column | None:
        """The plain column of that key."""
        return next((one for one in self.plain if one.key == key), None)

    def list_of(self, key: str) -> SubRecords | None:
        """The list of that key."""
        return next((one for one in self.lists if one.key == key), None)


def columns_of(schema: Mapping[str, Any]) -> Columns:
    """The columns that a JSON Schema of an object describes; what it describes in other ways is left out.

    Raises ValueError where it describes no object with properties.
    """
    plain, lists = _properties(schema)
    if not plain and not lists:
        raise ValueError("it describes no columns")
    return Columns(plain=tuple(plain), lists=tuple(lists))


def _properties(schema: Mapping[str, Any]) -> tuple[list[Column], list[SubRecords]]:
    properties, required = schema.get("properties"), schema.get("required")
    if not isinstance(properties, Mapping):
        return [], []
    needed = set(required) if isinstance(required, list) else set()
    plain, lists = [], []
    for key, told in list(properties.items())[:MOST_COLUMNS]:
        if not isinstance(told, Mapping) or told.get("readOnly"):
            continue
        name = str(told.get("title") or key)
        if told.get("type") == "array" and isinstance(told.get("items"), Mapping):
            columns, _ = _properties(told["items"])
            if columns:
                lists.append(SubRecords(key=str(key), name=name, columns=tuple(columns)))
        elif column := _column(str(key), name, told, required=key in needed):
            plain.append(column)
    return plain, lists


def _column(key: str, name: str, told: Mapping[str, Any], *, required: bool) -> Column | None:
    type_ = told.get("type", "string")
    if isinstance(type_, list):
        type_ = next((one for one in type_ if one != "null"), "string")
    kind = "date" if told.get("format") == "date" else _TYPES.get(str(type_))
    if kind is None:
        return None
    longest, choices = told.get("maxLength"), told.get("enum")
    return Column(
        key=key, name=name, kind=kind, required=required, longest=longest if isinstance(longest, int) else None,
        choices=tuple(map(str, choices)) if isinstance(choices, list) else (),
    )  # fmt: skip
