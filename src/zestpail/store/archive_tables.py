"""The archive: what of each document is searched, in one row, and the words of all of them."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal

from sqlalchemy import BigInteger, Column, ForeignKey, Index, Integer, Numeric
from sqlalchemy.dialects.postgresql import ARRAY, TSVECTOR
from sqlmodel import Field, SQLModel

from zestpail.store.columns import moment
from zestpail.store.states import DocumentState

# Outside of the classes: pydantic would copy such a column, and all tables with it, for each row that is made.
_VECTOR = Column("vector", TSVECTOR, nullable=False)
_STUBS: Column[list[int]] = Column("stubs", ARRAY(Integer), nullable=False)
_DUE = Column("id", BigInteger, primary_key=True, autoincrement=True)
_ENTRY_ID: Column[int] = Column("document_id", ForeignKey("document.id", ondelete="CASCADE"), primary_key=True)
_VALUE_ID: Column[int] = Column("document_id", ForeignKey("document.id", ondelete="CASCADE"), primary_key=True)
_AMOUNT, _VALUE_AMOUNT = (Column("amount", Numeric(18, 4), nullable=True) for _ in range(2))


class ArchiveDue(SQLModel, table=True):
    """A document that was changed since it was entered; a trigger of the database writes it."""

    __tablename__ = "archive_due"

    id: int | None = Field(default=None, sa_column=_DUE)
    document_id: int


class ArchiveEntry(SQLModel, table=True):
    """A document as it is searched: its words, and what it is narrowed by."""

    __tablename__ = "archive_entry"
    __table_args__ = (
        Index("ix_archive_entry_vector", "vector", postgresql_using="gin"),
        Index("ix_archive_entry_lane", "lane_id", "document_id"),
        Index("ix_archive_entry_type", "type_key", "document_id"),
        Index("ix_archive_entry_state", "state", "document_id"),
        Index("ix_archive_entry_person", "person_id", "document_id"),
        Index("ix_archive_entry_party", "party_plain", "document_id"),
        Index("ix_archive_entry_day", "day", "document_id"),
        Index("ix_archive_entry_amount", "amount", "document_id"),
    )

    document_id: int = Field(sa_column=_ENTRY_ID)
    batch_id: int
    lane_id: int
    type_key: str
    state: str = DocumentState.READING.value
    person_id: int | None = None
    """Who settled it."""
    arrived_at: datetime = moment(default_now=True)
    party: str = ""
    """The first name among its values: the supplier of an invoice."""
    party_plain: str = ""
    day: date | None = None
    """Its first date."""
    amount: Decimal | None = Field(default=None, sa_column=_AMOUNT)
    """What it comes to: the last amount among its values."""
    vector: str = Field(sa_column=_VECTOR)


class ArchiveValue(SQLModel, table=True):
    """The value of a field as it is compared, by its kind."""

    __tablename__ = "archive_value"
    __table_args__ = (
        Index("ix_archive_value_text", "key", "plain", "document_id"),
        Index("ix_archive_value_day", "key", "day", "document_id"),
        Index("ix_archive_value_amount", "key", "amount", "document_id"),
    )

    document_id: int = Field(sa_column=_VALUE_ID)
    key: str = Field(primary_key=True)
    plain: str = ""
    day: date | None = None
    amount: Decimal | None = Field(default=None, sa_column=_VALUE_AMOUNT)


class SearchWord(SQLModel, table=True):
    """A word that stands in some document; by it, others that are like it are found."""

    __tablename__ = "search_word"
    __table_args__ = (
        Index("ix_search_word_alike", "word", postgresql_using="gin", postgresql_ops={"word": "gin_trgm_ops"}),
        Index("ix_search_word_stubs", "stubs", postgresql_using="gin"),
    )

    word: str = Field(primary_key=True)
    stubs: list[int] = Field(sa_column=_STUBS)
    """What it may be misread by (:mod:`zestpail.core.reading.misread_words`)."""
