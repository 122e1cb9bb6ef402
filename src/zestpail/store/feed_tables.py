"""What programs are told of: news in one order, the addresses that are called with it, and what programs took."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum

from sqlalchemy import BigInteger, Column, ForeignKey, Index, UniqueConstraint
from sqlalchemy import text as sql
from sqlmodel import Field, SQLModel

from zestpail.store.columns import moment, states, typed_column

# Outside of the classes: pydantic would copy such a column, and all tables with it, for each row that is made.
_NEWS_ID: Column[int] = Column("id", BigInteger, primary_key=True, autoincrement=True)
_SEQ = Column("seq", BigInteger, nullable=True, unique=True)
_POSITION = Column("position", BigInteger, nullable=False)
_NEWS_SEQ = Column("seq", BigInteger, nullable=False)
_TAKEN_TOKEN: Column[int] = Column("token_id", ForeignKey("api_token.id"), primary_key=True)
_TAKEN_DOCUMENT: Column[int] = Column(
    "document_id", ForeignKey("document.id", ondelete="CASCADE"), primary_key=True, index=True
)


class News(SQLModel, table=True):
    """Something that happened to a document, file or batch, as programs are told of it."""

    __table_args__ = (Index("ix_news_unnumbered", "id", postgresql_where=sql("seq IS NULL")),)

    id: int | None = Field(default=None, sa_column=_NEWS_ID)
    seq: int | None = Field(default=None, sa_column=_SEQ)
    """Its place in the order in which it is told; given when somebody asks, so that none is passed over."""
    kind: str
    at: datetime = moment(default_now=True)
    lane_id: int | None = Field(default=None, foreign_key="lane.id")
    """None for what belongs to no lane: a file that a program had read directly."""
    batch_id: int | None = None
    document_id: int | None = None
    job_id: int | None = None
    token_id: int | None = Field(default=None, foreign_key="api_token.id")
    """Whose job it is; None where it is none."""


class HookCallState(StrEnum):
    """waiting → done | failed → waiting."""

    WAITING = "waiting"
    DONE = "done"
    FAILED = "failed"


class Hook(SQLModel, table=True):
    """An address that is called with news."""

    id: int | None = Field(default=None, primary_key=True)
    address: str
    secret: str
    """Name of the secret that calls are signed with."""
    kinds: tuple[str, ...] = typed_column(tuple[str, ...], tuple)
    """What it is told of; empty for all."""
    lanes: tuple[str, ...] = typed_column(tuple[str, ...], tuple)
    """Keys of lanes; empty for all."""
    position: int = Field(default=0, sa_column=_POSITION)
    """The place in the order up to which calls were planned."""
    person_id: int | None = Field(default=None, foreign_key="person.id")
    made_at: datetime = moment(default_now=True)
    ended_at: datetime | None = moment()


class HookCall(SQLModel, table=True):
    """One call of an address, as it was or will be made."""

    __tablename__ = "hook_call"
    __table_args__ = (
        UniqueConstraint("hook_id", "seq"),
        Index("ix_hook_call_due", "next_at", postgresql_where=sql("state = 'waiting'")),
    )

    id: int | None = Field(default=None, primary_key=True)
    hook_id: int = Field(foreign_key="hook.id")
    seq: int = Field(sa_column=_NEWS_SEQ)
    """Of the news that it tells."""
    kind: str
    document_id: int | None = Field(default=None, index=True)
    body: str
    state: HookCallState = states(HookCallState, HookCallState.WAITING)
    attempts: int = 0
    answered: int | None = None
    """The status (RFC 9110) of the last answer."""
    problem: str = ""
    next_at: datetime | None = moment()
    made_at: datetime = moment(default_now=True)
    called_at: datetime | None = moment()


class Taken(SQLModel, table=True):
    """That a program fetched a document and has it."""

    token_id: int = Field(sa_column=_TAKEN_TOKEN)
    document_id: int = Field(sa_column=_TAKEN_DOCUMENT)
    reference: str = ""
    """What the program calls it."""
    at: datetime = moment(default_now=True)
