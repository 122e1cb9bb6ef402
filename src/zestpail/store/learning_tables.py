"""What document types learned from samples."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import UniqueConstraint
from sqlmodel import Field, SQLModel

from zestpail.store.columns import json_column, moment


class LearnedBody(SQLModel, table=True):
    """All that was learned at once, under its digest: never changed, and kept once however many refer to it."""

    __tablename__ = "learned_body"

    digest: str = Field(primary_key=True)
    body: dict[str, Any] = json_column({})


class TypeLearning(SQLModel, table=True):
    """A numbered learning of a type: from which samples, and what came of it."""

    __tablename__ = "type_learning"
    __table_args__ = (UniqueConstraint("type_key", "number"),)

    id: int | None = Field(default=None, primary_key=True)
    type_key: str = Field(index=True)
    number: int
    digest: str
    """Of what was learned."""
    samples: list[str] = json_column([])
    """Names of the samples that taught it."""
    layouts: int = 0
    """How many unlike layouts are remembered."""
    faults: list[str] = json_column([])
    """What of the samples contradicted itself or could not be used, a sentence each."""
    learned_at: datetime = moment(default_now=True)
    person_id: int | None = Field(default=None, foreign_key="person.id")
