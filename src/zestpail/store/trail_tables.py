"""What was done: changes that can be undone, and the trail of all that happened."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import Index
from sqlalchemy import text as sql
from sqlmodel import Field, SQLModel

from zestpail.store.columns import json_column, moment


class JournalEntry(SQLModel, table=True):
    """A change that can be undone, with what it takes to put back what was before."""

    __tablename__ = "journal_entry"

    id: int | None = Field(default=None, primary_key=True)
    subject: str = Field(index=True)
    """What was changed: ``document 12``, ``batch 3``, ``type fuel-note``."""
    message: str
    """What was done, as a person would say it."""
    before: dict[str, Any] = json_column({})
    person_id: int | None = Field(default=None, foreign_key="person.id")
    at: datetime = moment(default_now=True)
    undone_at: datetime | None = moment()


class Event(SQLModel, table=True):
    """The audit trail: who, when, what, before and after. Only ever added to."""

    __table_args__ = (Index("ix_event_of_no_batch", "what", postgresql_where=sql("batch_id IS NULL")),)

    id: int | None = Field(default=None, primary_key=True)
    at: datetime = moment(default_now=True)
    person_id: int | None = Field(default=None, foreign_key="person.id")
    batch_id: int | None = Field(default=None, foreign_key="batch.id", index=True)
    document_id: int | None = Field(default=None, foreign_key="document.id", index=True)
    what: str
    before: dict[str, Any] = json_column({})
    after: dict[str, Any] = json_column({})
