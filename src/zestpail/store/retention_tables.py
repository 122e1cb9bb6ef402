"""How long documents are kept: what is held back, what was erased, and what was taken along by whom."""

from __future__ import annotations

from datetime import date, datetime
from enum import StrEnum

from sqlalchemy import Column, ForeignKey
from sqlmodel import Field, SQLModel

from zestpail.store.columns import json_column, moment, states

# Outside of the classes: pydantic would copy such a column, and all tables with it, for each row that is made.
_HELD: Column[int] = Column("document_id", ForeignKey("document.id", ondelete="CASCADE"), primary_key=True)


class Held(SQLModel, table=True):
    """A document that is not erased, however long it is there."""

    document_id: int = Field(sa_column=_HELD)
    why: str
    person_id: int | None = Field(default=None, foreign_key="person.id")
    at: datetime = moment(default_now=True)


class GoneFile(SQLModel, table=True):
    """A file that something does not need any more: deleted as soon as nothing else does."""

    __tablename__ = "gone_file"

    name: str = Field(primary_key=True)
    erased: bool = False
    """Whether it was erased for good: then what was copied of it goes too."""


class ErasureState(StrEnum):
    """waiting → done."""

    WAITING = "waiting"
    DONE = "done"


class Erasure(SQLModel, table=True):
    """Documents that were erased together: when, by whom and by which rule."""

    id: int | None = Field(default=None, primary_key=True)
    rule: str
    """Why, as a sentence."""
    state: ErasureState = states(ErasureState, ErasureState.WAITING)
    wanted: list[int] = json_column([])
    """Numbers of the documents that are to be erased."""
    left: dict[str, str] = json_column({})
    """By number, why a document was left all the same."""
    person_id: int | None = Field(default=None, foreign_key="person.id")
    at: datetime = moment(default_now=True)
    done_at: datetime | None = moment()


class ErasedDocument(SQLModel, table=True):
    """What is said of a document that is gone: nothing that stood on it."""

    __tablename__ = "erased_document"

    id: int | None = Field(default=None, primary_key=True)
    erasure_id: int = Field(foreign_key="erasure.id", index=True)
    document: int
    batch: int
    type: str
    arrived: date
    pages: int
    sha256: str
    """Of the file that it arrived in."""
    samples: int = 0
    """Copies of it that types learned from, which are gone with it."""


class ExportState(StrEnum):
    """waiting → done | failed."""

    WAITING = "waiting"
    DONE = "done"
    FAILED = "failed"


class Export(SQLModel, table=True):
    """Documents of the archive taken along as files; forgotten after a week."""

    id: int | None = Field(default=None, primary_key=True)
    name: str
    wanted: dict[str, str] = json_column({})
    """What was looked for."""
    columns: list[str] = json_column([])
    """Keys of the fields that are columns; empty for all."""
    files: bool = False
    """Whether the documents themselves go along as PDFs."""
    base: str = ""
    """Where links lead to."""
    state: ExportState = states(ExportState, ExportState.WAITING)
    problem: str = ""
    documents: list[int] = json_column([])
    total: int = 0
    blob: str = ""
    person_id: int | None = Field(default=None, foreign_key="person.id")
    at: datetime = moment(default_now=True)
    done_at: datetime | None = moment()


class ArchiveView(SQLModel, table=True):
    """A search of the archive that was given a name, with columns of its own."""

    __tablename__ = "archive_view"

    id: int | None = Field(default=None, primary_key=True)
    name: str
    wanted: dict[str, str] = json_column({})
    columns: list[str] = json_column([])
    """Keys of the fields that are shown as columns."""
    person_id: int | None = Field(default=None, foreign_key="person.id")
    for_all: bool = False
    """Whether others see it too."""
    made_at: datetime = moment(default_now=True)
