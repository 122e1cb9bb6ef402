"""The tables. State machines are enumerations here; the transitions are in the desk."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import BigInteger, Column, Integer, UniqueConstraint
from sqlmodel import Field, SQLModel

from zestpail.store.columns import json_column, moment, states


class FileState(StrEnum):
    """waiting → opened (→ cut → opened) | refused."""

    WAITING = "waiting"
    OPENED = "opened"
    CUT = "cut"
    """Cut into documents, which go on when a person has looked at the cuts."""
    REFUSED = "refused"


class PageState(StrEnum):
    """waiting → read | failed."""

    WAITING = "waiting"
    READ = "read"
    FAILED = "failed"


class DocumentState(StrEnum):
    """reading → review ⇄ settled → delivered; settled → stuck → settled; reading → unreadable.

    reading | review ⇄ dissolved: all of its pages went to other documents.
    """

    READING = "reading"
    UNREADABLE = "unreadable"
    REVIEW = "review"
    SETTLED = "settled"
    DELIVERED = "delivered"
    STUCK = "stuck"
    DISSOLVED = "dissolved"


class SampleState(StrEnum):
    WAITING = "waiting"
    READY = "ready"
    REFUSED = "refused"


class SampleRole(StrEnum):
    TRAINING = "training"
    TEST = "test"


class ValueState(StrEnum):
    """doubtful ⇄ settled."""

    DOUBTFUL = "doubtful"
    SETTLED = "settled"


class DeliveryState(StrEnum):
    """waiting → sent | failed → waiting."""

    WAITING = "waiting"
    SENT = "sent"
    FAILED = "failed"


class Person(SQLModel, table=True):
    """Somebody who can sign in."""

    id: int | None = Field(default=None, primary_key=True)
    login: str = Field(unique=True, index=True)
    name: str
    password_hash: str


class TypeRevision(SQLModel, table=True):
    """A frozen, numbered state of a document type."""

    __tablename__ = "type_revision"
    __table_args__ = (UniqueConstraint("key", "number"),)

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(index=True)
    number: int
    body: dict[str, Any] = json_column({})
    note: str = ""
    published_at: datetime = moment(default_now=True)
    person_id: int | None = Field(default=None, foreign_key="person.id")


class TypeDraft(SQLModel, table=True):
    """A document type as it is being worked on; lanes read with its published revisions."""

    __tablename__ = "type_draft"

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(unique=True, index=True)
    body: dict[str, Any] = json_column({})
    based_on: int | None = None
    """Number of the revision that it was begun from."""
    version: int = Field(default=1, sa_column=(_version := Column(Integer, nullable=False)))
    changed_at: datetime = moment(default_now=True)
    retired_at: datetime | None = moment()

    __mapper_args__ = {"version_id_col": _version}


class DraftStep(SQLModel, table=True):
    """One change of a draft, with the body before it: what taking back goes by."""

    __tablename__ = "draft_step"

    id: int | None = Field(default=None, primary_key=True)
    draft_id: int = Field(foreign_key="type_draft.id", index=True)
    before: dict[str, Any] = json_column({})
    labels: list[dict[str, Any]] = json_column([])
    """What was said of samples in this step: sample, field, and what was said before (null for nothing)."""
    said: str
    person_id: int | None = Field(default=None, foreign_key="person.id")
    at: datetime = moment(default_now=True)


class Sample(SQLModel, table=True):
    """A document that a type is set up with, and what somebody said is right about it."""

    id: int | None = Field(default=None, primary_key=True)
    type_key: str = Field(index=True)
    name: str
    blob: str
    state: SampleState = states(SampleState, SampleState.WAITING)
    problem: str | None = None
    role: SampleRole = states(SampleRole, SampleRole.TRAINING)
    truth: dict[str, Any] = json_column({})
    """By field: value, page and box; a value of null where rightly nothing is there."""
    added_at: datetime = moment(default_now=True)


class Lane(SQLModel, table=True):
    """One way of working from arrival to delivery."""

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(unique=True)
    name: str
    letter: dict[str, Any] = json_column({})
    """What is in force."""
    draft: dict[str, Any] = json_column({})
    """The letter as it is being changed; empty if it is not."""
    counter: int = 0


class LaneTrial(SQLModel, table=True):
    """A letter tried on a file; what came of it is only told, never delivered."""

    __tablename__ = "lane_trial"

    id: int | None = Field(default=None, primary_key=True)
    lane_id: int = Field(foreign_key="lane.id", index=True)
    name: str
    blob: str
    letter: dict[str, Any] = json_column({})
    pages: int = 0
    read: int = 0
    problem: str = ""
    result: dict[str, Any] = json_column({})
    person_id: int | None = Field(default=None, foreign_key="person.id")


class Batch(SQLModel, table=True):
    """What arrived at a lane together."""

    id: int | None = Field(default=None, primary_key=True)
    lane_id: int = Field(foreign_key="lane.id", index=True)
    person_id: int | None = Field(default=None, foreign_key="person.id")
    arrived_at: datetime = moment(default_now=True)
    channel: str = ""
    """By which way it came, if nobody dropped it."""
    control: dict[str, Any] = json_column({})
    """What somebody counted and added up beforehand; empty if nobody did."""


class ArrivedFile(SQLModel, table=True):
    """One file as it arrived; its bytes are a blob and are never changed."""

    __tablename__ = "arrived_file"

    id: int | None = Field(default=None, primary_key=True)
    batch_id: int = Field(foreign_key="batch.id", index=True)
    name: str
    blob: str
    size: int = Field(sa_column=Column(BigInteger, nullable=False))
    of_id: int | None = Field(default=None, foreign_key="arrived_file.id", index=True)
    """The zip or e-mail that it was packed in."""
    given: dict[str, str] = json_column({})
    """What that said of all that was in it."""
    state: FileState = states(FileState, FileState.WAITING)
    problem: str | None = None


class Document(SQLModel, table=True):
    """Pages that belong together, their type, and where they stand."""

    id: int | None = Field(default=None, primary_key=True)
    batch_id: int = Field(foreign_key="batch.id", index=True)
    file_id: int = Field(foreign_key="arrived_file.id", index=True)
    revision_id: int = Field(foreign_key="type_revision.id")
    state: DocumentState = states(DocumentState, DocumentState.READING)
    version: int = Field(default=1, sa_column=(_version := Column(Integer, nullable=False)))
    style: dict[str, Any] = json_column({})
    second_best: dict[str, Any] = json_column({})
    """The combination of values that nearly won, and why it lost."""
    tables: dict[str, Any] = json_column({})
    """By table: where it lies on the pages, its dividers, and the lines that are no rows."""
    cut: dict[str, Any] = json_column({})
    """How it was cut out of a pile: why, what sheets said of it, its bundle; empty for a file that is one document."""
    holder_id: int | None = Field(default=None, foreign_key="person.id")
    held_at: datetime | None = moment()
    settled_by_id: int | None = Field(default=None, foreign_key="person.id")
    arrived_at: datetime = moment(default_now=True)
    review_since: datetime | None = moment()
    settled_at: datetime | None = moment()
    delivered_at: datetime | None = moment()

    __mapper_args__ = {"version_id_col": _version}


class Page(SQLModel, table=True):
    """One page of a file: what it looked like when prepared, and what was read off it."""

    __table_args__ = (UniqueConstraint("document_id", "position", deferrable=True, initially="DEFERRED"),)

    id: int | None = Field(default=None, primary_key=True)
    document_id: int | None = Field(default=None, foreign_key="document.id", index=True)
    sample_id: int | None = Field(default=None, foreign_key="sample.id", index=True)
    """A page belongs to a document or to a sample."""
    file_id: int | None = Field(default=None, foreign_key="arrived_file.id", index=True)
    pile_id: int | None = Field(default=None, foreign_key="arrived_file.id", index=True)
    """The file in whose pile it lies: its own, as long as nobody laid it into another."""
    position: int
    """Its place in the document or sample, from 0."""
    file_index: int
    """Its place in the file, from 0."""
    place: int = 0
    """Its place in the pile as it lies now, from 0."""
    by_hand: dict[str, Any] = json_column({})
    """What a person did to it before it was read; see ``core.reading.by_hand``."""
    notes: list[dict[str, Any]] = json_column([])
    """What a person noted on it; see ``core.notes``."""
    left_out: str | None = None
    """Why it belongs to no document; None if it does, or if that is not decided yet."""
    state: PageState = states(PageState, PageState.WAITING)
    problem: str | None = None
    image: str | None = None
    thumbnail: str | None = None
    reading: str | None = None
    width: float = 0
    height: float = 0
    source: str = ""


class FieldValue(SQLModel, table=True):
    """The value of one field of a document, where it came from and who settled it."""

    __tablename__ = "field_value"
    __table_args__ = (UniqueConstraint("document_id", "key"),)

    id: int | None = Field(default=None, primary_key=True)
    document_id: int = Field(foreign_key="document.id", index=True)
    position: int
    key: str
    state: ValueState = states(ValueState, ValueState.DOUBTFUL)
    value: str | None = None
    raw: str = ""
    confidence: float = 0
    page: int | None = None
    """Number of the page in the document, from 0."""
    box: list[float] = json_column([])
    finder: str = ""
    reason: str = ""
    doubt: str = ""
    doubtful: list[int] = json_column([])
    readings: list[dict[str, Any]] = json_column([])
    candidates: list[dict[str, Any]] = json_column([])
    settled_by_id: int | None = Field(default=None, foreign_key="person.id")


class TableRow(SQLModel, table=True):
    """One row of a table of a document."""

    __tablename__ = "table_row"

    id: int | None = Field(default=None, primary_key=True)
    document_id: int = Field(foreign_key="document.id", index=True)
    table: str
    position: int
    page: int | None = None
    """Number of the page in the document, from 0; None for a row that a person added."""
    box: list[float] = json_column([])
    cells: dict[str, Any] = json_column({})
    """By column: value, raw text, confidence, page, box, reason, and whether it is doubtful."""
    state: ValueState = states(ValueState, ValueState.DOUBTFUL)


class MovedDividers(SQLModel, table=True):
    """Column dividers that a reviewer moved: they hold for every document of that layout."""

    __tablename__ = "moved_dividers"
    __table_args__ = (UniqueConstraint("type_key", "table", "head"),)

    id: int | None = Field(default=None, primary_key=True)
    type_key: str = Field(index=True)
    table: str
    head: str
    grid: dict[str, Any] = json_column({})
    person_id: int | None = Field(default=None, foreign_key="person.id")


class CheckResult(SQLModel, table=True):
    """What a check said of the document's values as they stand."""

    __tablename__ = "check_result"

    id: int | None = Field(default=None, primary_key=True)
    document_id: int = Field(foreign_key="document.id", index=True)
    name: str
    passed: bool
    message: str
    fields: list[str] = json_column([])
    offers: list[dict[str, Any]] = json_column([])
    waived_by_id: int | None = Field(default=None, foreign_key="person.id")


class Delivery(SQLModel, table=True):
    """One hand-over of a document to one destination, with its receipt."""

    __table_args__ = (UniqueConstraint("document_id", "destination"),)

    id: int | None = Field(default=None, primary_key=True)
    document_id: int = Field(foreign_key="document.id", index=True)
    destination: str
    state: DeliveryState = states(DeliveryState, DeliveryState.WAITING)
    attempts: int = 0
    counter: int = 0
    planned: dict[str, Any] = json_column({})
    """What will be written where: decided once, so that a second attempt writes the same."""
    receipt: dict[str, Any] = json_column({})
    problem: str | None = None
    sent_at: datetime | None = moment()


class Event(SQLModel, table=True):
    """The audit trail: who, when, what, before and after. Only ever added to."""

    id: int | None = Field(default=None, primary_key=True)
    at: datetime = moment(default_now=True)
    person_id: int | None = Field(default=None, foreign_key="person.id")
    batch_id: int | None = Field(default=None, foreign_key="batch.id", index=True)
    document_id: int | None = Field(default=None, foreign_key="document.id", index=True)
    what: str
    before: dict[str, Any] = json_column({})
    after: dict[str, Any] = json_column({})
