"""The tables. State machines are enumerations here; the transitions are in the desk."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, Column, ForeignKey, Index, Integer, UniqueConstraint
from sqlalchemy import text as sql
from sqlalchemy.dialects.postgresql import BIT
from sqlmodel import Field, SQLModel

from zestpail.core.checks.control_total import ControlTotal
from zestpail.core.classification.pile import Sorted
from zestpail.core.extraction.choose import RunnerUp
from zestpail.core.kinds import Style
from zestpail.core.reading.preparation.edits import PageEdits
from zestpail.core.tables import ExtractedTable, Grid
from zestpail.core.writing.notes import Note
from zestpail.delivery import AnyPlan, Receipt
from zestpail.store.columns import json_column, moment, states, typed_column
from zestpail.store.document_origin import DocumentOrigin
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.sample_page import SamplePage
from zestpail.store.states import (
    DeliveryState,
    DocumentState,
    FileState,
    PageState,
    Role,
    SampleRole,
    SampleState,
    ValueState,
)

# Outside of the classes: pydantic would copy such a column, and all tables with it, for each row that is made.
_DOCUMENT_VERSION, _DRAFT_VERSION = (Column("version", Integer, nullable=False) for _ in range(2))
_PRINT = Column("print", BIT(256), nullable=True)
_SAME_PAPER: Column[int] = Column(
    "same_paper_id", ForeignKey("document.id", ondelete="SET NULL"), nullable=True, index=True
)


class Person(SQLModel, table=True):
    """Somebody who can sign in."""

    id: int | None = Field(default=None, primary_key=True)
    login: str = Field(unique=True, index=True)
    name: str
    password_hash: str
    disabled_at: datetime | None = moment()
    """Since when the person cannot sign in any more; what the person did stays in the trail."""
    session: int = 1
    """Number of the sessions that are open; those of another number have ended."""
    roles: tuple[Role, ...] = typed_column(tuple[Role, ...], tuple)


class TypeRevision(SQLModel, table=True):
    """A frozen, numbered state of a document type."""

    __tablename__ = "type_revision"
    __table_args__ = (UniqueConstraint("key", "number"),)

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(index=True)
    number: int
    body: dict[str, Any] = json_column({})
    learned: str = ""
    """Digest of what its samples taught; empty where it learned nothing."""
    note: str = ""
    published_at: datetime = moment(default_now=True)
    person_id: int | None = Field(default=None, foreign_key="person.id")


class TypeDraft(SQLModel, table=True):
    """A document type as it is being worked on; lanes read with its published revisions."""

    __tablename__ = "type_draft"

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(unique=True, index=True)
    body: dict[str, Any] = json_column({})
    learned: str = ""
    """Digest of what its samples taught; empty where it learned nothing."""
    based_on: int | None = None
    """Number of the revision that it was begun from."""
    version: int = Field(default=1, sa_column=_DRAFT_VERSION)
    changed_at: datetime = moment(default_now=True)
    retired_at: datetime | None = moment()

    __mapper_args__ = {"version_id_col": _DRAFT_VERSION}


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
    document_id: int | None = Field(default=None, foreign_key="document.id", index=True)
    """The document of a batch that it was."""
    thrown: list[str] = json_column([])
    """Proposals that were thrown away, by where they stand."""
    added_at: datetime = moment(default_now=True)


class Lane(SQLModel, table=True):
    """One way of working from arrival to delivery."""

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(unique=True)
    name: str
    settings: LaneSettings = typed_column(LaneSettings)
    """What is active."""
    draft: LaneSettings | None = typed_column(LaneSettings, None)
    """The settings as they are being changed; None if they are not."""
    counter: int = 0


class SortingSample(SQLModel, table=True):
    """A document that a lane's types are told apart by, or that this is tried on; never changed once it is read."""

    __tablename__ = "sorting_sample"

    id: int | None = Field(default=None, primary_key=True)
    lane_id: int = Field(foreign_key="lane.id", index=True)
    type_key: str
    """The type that it was said to be of."""
    name: str
    blob: str = ""
    """Its file; empty where it was taken over as it was read."""
    role: SampleRole = states(SampleRole, SampleRole.TRAINING)
    state: SampleState = states(SampleState, SampleState.WAITING)
    problem: str | None = None
    pages: tuple[SamplePage, ...] = typed_column(tuple[SamplePage, ...], tuple)
    person_id: int | None = Field(default=None, foreign_key="person.id")
    added_at: datetime = moment(default_now=True)


class LaneTrial(SQLModel, table=True):
    """A letter tried on a file; what came of it is only told, never delivered."""

    __tablename__ = "lane_trial"

    id: int | None = Field(default=None, primary_key=True)
    lane_id: int = Field(foreign_key="lane.id", index=True)
    name: str
    blob: str
    given: dict[str, str] = json_column({})
    """What the e-mail or package that it was in says of it."""
    settings: LaneSettings = typed_column(LaneSettings)
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
    control: ControlTotal | None = typed_column(ControlTotal, None)
    """What somebody counted and added up beforehand; None if nobody did."""


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
    version: int = Field(default=1, sa_column=_DOCUMENT_VERSION)
    style: Style | None = typed_column(Style, None)
    second_best: RunnerUp | None = typed_column(RunnerUp, None)
    """The combination of values that nearly won, and why it lost."""
    tables: dict[str, ExtractedTable] = typed_column(dict[str, ExtractedTable], dict)
    """By table: where it lies on the pages, its dividers, and the lines that are no rows; its rows are kept apart."""
    origin: DocumentOrigin = typed_column(DocumentOrigin, DocumentOrigin)
    """How it was split out of a stack, and what sheets said of it."""
    same_paper_id: int | None = Field(default=None, sa_column=_SAME_PAPER)
    """Another document, of which the first page is a scan of the same paper."""
    sorted: Sorted | None = typed_column(Sorted, None)
    """What it was taken for by its look; None where nobody had to tell."""
    holder_id: int | None = Field(default=None, foreign_key="person.id")
    held_at: datetime | None = moment()
    settled_by_id: int | None = Field(default=None, foreign_key="person.id")
    arrived_at: datetime = moment(default_now=True)
    review_since: datetime | None = moment()
    settled_at: datetime | None = moment()
    delivered_at: datetime | None = moment()

    __mapper_args__ = {"version_id_col": _DOCUMENT_VERSION}


class Page(SQLModel, table=True):
    """One page of a file: what it looked like when prepared, and what was read off it."""

    __table_args__ = (
        UniqueConstraint("document_id", "position", deferrable=True, initially="DEFERRED"),
        Index(
            "ix_page_first_prints", "print", postgresql_include=["document_id"],
            postgresql_where=sql("position = 0 AND print IS NOT NULL"),
        ),
        *(Index(f"ix_page_{name}", name, postgresql_using="hash") for name in ("image", "thumbnail", "reading")),
    )  # fmt: skip

    id: int | None = Field(default=None, primary_key=True)
    document_id: int | None = Field(default=None, foreign_key="document.id", index=True)
    sample_id: int | None = Field(default=None, foreign_key="sample.id", index=True)
    """A page belongs to a document or to a sample."""
    file_id: int | None = Field(default=None, foreign_key="arrived_file.id", index=True)
    stack_id: int | None = Field(default=None, foreign_key="arrived_file.id", index=True)
    """The file in whose pile it lies: its own, as long as nobody laid it into another."""
    position: int
    """Its place in the document or sample, from 0."""
    file_index: int
    """Its place in the file, from 0."""
    place: int = 0
    """Its place in the pile as it lies now, from 0."""
    edits: PageEdits = typed_column(PageEdits, PageEdits)
    """What a person did to it before it was read."""
    notes: tuple[Note, ...] = typed_column(tuple[Note, ...], tuple)
    """What a person noted on it."""
    left_out: str | None = None
    """Why it belongs to no document; None if it does, or if that is not decided yet."""
    state: PageState = states(PageState, PageState.WAITING)
    problem: str | None = None
    image: str | None = None
    thumbnail: str | None = None
    reading: str | None = None
    print: str | None = Field(default=None, sa_column=_PRINT)
    """What it looks like from afar (:mod:`zestpail.core.reading.features.page_print`)."""
    width: float = 0
    height: float = 0
    source: str = ""


class ReadingText(SQLModel, table=True):
    """The words of a page as text, for the archive; kept beside its reading, and gone with it."""

    __tablename__ = "reading_text"

    reading: str = Field(primary_key=True)
    """The hash under which the reading is kept."""
    text: str


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
    __table_args__ = (UniqueConstraint("type_key", "table", "header"),)

    id: int | None = Field(default=None, primary_key=True)
    type_key: str = Field(index=True)
    table: str
    header: str
    grid: Grid = typed_column(Grid)
    person_id: int | None = Field(default=None, foreign_key="person.id")


ABOUT_PAGES = "pages:"
"""What the codes begin with of results that tell what befell the pages of a document."""
SPLIT_DOUBT = f"{ABOUT_PAGES}split"


class CheckResult(SQLModel, table=True):
    """What a check said of the document's values as they stand."""

    __tablename__ = "check_result"

    id: int | None = Field(default=None, primary_key=True)
    document_id: int = Field(foreign_key="document.id", index=True)
    check: str
    """The code of the check, or of what befell the pages (``pages:…``)."""
    passed: bool
    message: str
    fields: list[str] = json_column([])
    offers: list[dict[str, Any]] = json_column([])
    waived_by_id: int | None = Field(default=None, foreign_key="person.id")

    @property
    def about_pages(self) -> bool:
        """Whether it tells what befell the pages, and no check of the type says it."""
        return self.check.startswith(ABOUT_PAGES)


PLANNED_FILES = (
    "jsonb_path_query_array(plan, "
    """'strict $.**?(@.type() == "string" && @ like_regex "^[0-9a-f]{64}$")'::jsonpath)"""
)
"""The files that a plan names, as PostgreSQL picks them out of it."""


class Delivery(SQLModel, table=True):
    """One hand-over of a version of a document to one destination of its lane, with its receipt."""

    __table_args__ = (
        UniqueConstraint("document_id", "destination", "version"),
        Index("ix_delivery_files", sql(PLANNED_FILES), postgresql_using="gin"),
    )

    id: int | None = Field(default=None, primary_key=True)
    document_id: int = Field(foreign_key="document.id", index=True)
    destination: str
    """The destination's id within the lane."""
    version: int = 1
    """Counts up where a document was corrected after it had been sent."""
    content: str = ""
    """Digest of what the document was made of when this was planned; empty if that was not kept."""
    terms: str = ""
    """Digest of the settings that it was planned by."""
    state: DeliveryState = states(DeliveryState, DeliveryState.WAITING)
    attempts: int = 0
    counter: int = 0
    place: str = Field(default="", index=True)
    path: str = ""
    """The place and the name there that are promised to it; empty where names are free."""
    plan: AnyPlan | None = typed_column(AnyPlan, None)
    """What will be sent: decided once, so that a second attempt sends the same."""
    receipt: Receipt | None = typed_column(Receipt, None)
    problem: str | None = None
    next_at: datetime | None = moment()
    """When it is tried again by itself; None where it is not."""
    sent_at: datetime | None = moment()
