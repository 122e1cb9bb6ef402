"""How enumerations, JSON and times are kept."""

from __future__ import annotations

from datetime import UTC, datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import Column, DateTime, Enum
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field


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
