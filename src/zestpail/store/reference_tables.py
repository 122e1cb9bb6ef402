"""Reference lists as they are kept: rows with the revisions from which and until which they held, and other names."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict
from sqlalchemy import Column, Index, String, UniqueConstraint
from sqlalchemy import text as sql
from sqlalchemy.dialects.postgresql import ARRAY
from sqlmodel import Field, SQLModel

from zestpail.core.reference.list_match import ListMatch
from zestpail.core.reference.reference_list import ReferenceList
from zestpail.store.columns import json_column, moment, states, typed_column


class ListState(StrEnum):
    """reading → ready | held | failed → reading."""

    READING = "reading"
    """A new revision of it is being read."""
    READY = "ready"
    HELD = "held"
    """A new revision would drop so much that a person is asked."""
    FAILED = "failed"
    """A new revision could not be read; the one before holds."""


class AskedFrom(BaseModel):
    """An address that is asked for a list, and how often."""

    model_config = ConfigDict(frozen=True)

    address: str
    secret: str = ""
    """The name of the secret that opens it; "" for none."""
    every: Literal["hour", "day", "by_hand"] = "hour"


class KnownList(SQLModel, table=True):
    """A reference list; what its columns say holds for all of its revisions."""

    __tablename__ = "reference_list"

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(unique=True)
    name: str
    model: ReferenceList | None = typed_column(ReferenceList, None)
    """None until its first file was read."""
    asked: AskedFrom | None = typed_column(AskedFrom, None)
    state: ListState = states(ListState, ListState.READING)
    problem: str = ""
    revision: int = 0
    """The number of the one that holds; 0 for none yet."""
    rows: int = 0
    waiting: str = ""
    """The blob of the file that is read, or that waits for a person's word."""
    waiting_name: str = ""
    accepted: bool = False
    """Whether a person said that it is taken whatever it drops."""
    stale: bool = False
    """Whether what its columns say was changed since its rows were made ready to be searched."""
    next_at: datetime | None = moment()
    """When it is asked for next; None where it is not asked for by itself."""
    person_id: int | None = Field(default=None, foreign_key="person.id")


class ListRevision(SQLModel, table=True):
    """A numbered state of a list: what came, changed and went with it."""

    __tablename__ = "list_revision"
    __table_args__ = (UniqueConstraint("list_id", "number"),)

    id: int | None = Field(default=None, primary_key=True)
    list_id: int = Field(foreign_key="reference_list.id", index=True)
    number: int
    source: str
    """The file or the address that it came from."""
    blob: str
    told: str = ""
    """How the file was read."""
    rows: int
    added: int
    changed: int
    gone: int
    faults: list[str] = json_column([])
    """What of it was not taken, a sentence each."""
    at: datetime = moment(default_now=True)
    person_id: int | None = Field(default=None, foreign_key="person.id")


class ListRow(SQLModel, table=True):
    """One row of a list, as it was from one revision on until another."""

    __tablename__ = "list_row"
    __table_args__ = (
        Index("ix_list_row_key", "list_id", "key"),
        Index("ix_list_row_tokens", "tokens", postgresql_using="gin", postgresql_where=sql("until IS NULL")),
        Index(
            "ix_list_row_names", "names", postgresql_using="gin", postgresql_where=sql("until IS NULL"),
            postgresql_ops={"names": "gin_trgm_ops"},
        ),
    )  # fmt: skip

    id: int | None = Field(default=None, primary_key=True)
    list_id: int = Field(foreign_key="reference_list.id")
    key: str
    """What identifies its entry."""
    position: int
    values: dict[str, Any] = json_column({})
    """By column, as the list has it."""
    digest: str = ""
    """Of its values: by it a changed row is told."""
    names: str = ""
    """The entry's names as they are searched."""
    tokens: list[str] = Field(default_factory=list, sa_column=Column(ARRAY(String), nullable=False))
    since: int
    """The revision with which it came."""
    until: int | None = None
    """The revision with which it went; None while it holds."""


class ListAlias(SQLModel, table=True):
    """What a person told to be an entry's own besides what the list says: another name, account or host."""

    __tablename__ = "list_alias"
    __table_args__ = (UniqueConstraint("list_id", "key", "says", "text"),)

    id: int | None = Field(default=None, primary_key=True)
    list_id: int = Field(foreign_key="reference_list.id", index=True)
    key: str
    says: str
    text: str
    token: str = Field(index=True)
    """How it is compared."""
    document_id: int | None = Field(default=None, foreign_key="document.id", index=True)
    """The document at which it was told."""
    person_id: int | None = Field(default=None, foreign_key="person.id")
    at: datetime = moment(default_now=True)


class DocumentEntry(SQLModel, table=True):
    """The entry of a list that a document speaks of: what was found, and what a person said instead."""

    __tablename__ = "document_entry"
    __table_args__ = (UniqueConstraint("document_id", "list"), Index("ix_document_entry_used", "list", "entry"))

    id: int | None = Field(default=None, primary_key=True)
    document_id: int = Field(foreign_key="document.id", index=True)
    list: str
    """The list's key."""
    entry: str | None = None
    """What identifies the entry; None where none was taken."""
    found: ListMatch = typed_column(ListMatch)
    person_id: int | None = Field(default=None, foreign_key="person.id")
    """Who said that it is this one; None where the machine found it."""
