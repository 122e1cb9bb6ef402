"""How enumerations, JSON and times are kept."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import UTC, datetime
from enum import StrEnum
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Column, DateTime, Dialect, Enum, inspect
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.types import TypeDecorator
from sqlmodel import Field, SQLModel


def now() -> datetime:
    return datetime.now(UTC)


def states(kind: type[StrEnum], default: StrEnum) -> Any:
    """A column of one of the named states, guarded by a check constraint."""
    guarded = Enum(
        kind,
        native_enum=False,
        validate_strings=True,
        create_constraint=True,
        length=24,
        values_callable=lambda values: [value.value for value in values],
        name=kind.__name__.lower(),
    )
    return Field(default=default, sa_column=Column(guarded, nullable=False, index=True))


def json_column(default: Any) -> Any:
    """A JSONB column. Changes in place are not seen: assign a new value."""
    return Field(default_factory=default.copy, sa_column=Column(JSONB, nullable=False))


def moment(default_now: bool = False) -> Any:
    """A point in time with its zone."""
    if default_now:
        return Field(default_factory=now, sa_column=Column(DateTime(timezone=True), nullable=False, index=True))
    return Field(default=None, sa_column=Column(DateTime(timezone=True), nullable=True))


class Typed(TypeDecorator[Any]):
    """A JSONB column whose values are Pydantic models, or what is made of them; ``{}`` in the database stands for None.

    Models are frozen, so that a change is always a new value.
    """

    impl = JSONB
    cache_ok = True

    def __init__(self, of: Any, empty: str = "{}", key: str = "") -> None:
        super().__init__()
        self.empty, self.key = empty, key or repr(of)  # what statements are cached by; a type may have no hash
        self.adapter: TypeAdapter[Any] = TypeAdapter(of)

    def process_bind_param(self, value: Any, dialect: Dialect) -> Any:  # noqa: ARG002
        """As JSON."""
        return {} if value is None else self.adapter.dump_python(value, mode="json")

    def process_result_value(self, value: Any, dialect: Dialect) -> Any:  # noqa: ARG002
        """As a model."""
        nothing = value is None or (value == {} and self.empty == "{}")  # also of a row that an outer join lacks
        return None if nothing else self.adapter.validate_python(value)

    def coerce_compared_value(self, op: Any, value: Any) -> Any:
        """Paths into the JSON are asked for as of any JSONB column."""
        return self.impl_instance.coerce_compared_value(op, value)


def typed_column(of: Any, default: Any = ...) -> Any:
    """A column of that model; with a default of None, or made by the function ``default``, it may be left out."""
    column: Column[Any] = Column(Typed(of, "{}" if default is None else "model"), nullable=False)
    if default is None:
        return Field(default=None, sa_column=column)
    return Field(sa_column=column) if default is ... else Field(default_factory=default, sa_column=column)


def saved(row: SQLModel, names: Iterable[str]) -> dict[str, Any]:
    """These fields of a row as plain values that can be kept in JSON."""
    types = {column.key: column.type for column in inspect(type(row)).columns}
    return {
        name: kind.process_bind_param(getattr(row, name), None) if isinstance(kind := types[name], Typed)  # type: ignore[arg-type]
        else getattr(row, name)
        for name in names
    }  # fmt: skip


def put_back(row: SQLModel, values: Mapping[str, Any]) -> None:
    """Set the fields of a row to what :func:`saved` kept."""
    types = {column.key: column.type for column in inspect(type(row)).columns}
    for name, value in values.items():
        kind = types[name]
        setattr(row, name, kind.process_result_value(value, None) if isinstance(kind, Typed) else value)  # type: ignore[arg-type]
