"""A lane as data: its letter of instruction."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.reading.preparation.cleaning import Cleaning
from zestpail.core.reading.read import Way
from zestpail.core.separation import AtPrintedSheet, Separation
from zestpail.core.writing.file_names import (
    DatePart,
    FieldPart,
    Naming,
    TextPart,
)
from zestpail.core.writing.notes import NotesOut


class RowsOut(BaseModel):
    """How the rows of one table are delivered; a table that is not spoken of goes as this says by itself."""

    model_config = ConfigDict(frozen=True)

    table: str
    way: Literal["added to one sheet", "a sheet for each document", "not at all"] = "added to one sheet"
    repeat: tuple[str, ...] | None = None
    """Fields of the document that stand on each of its rows; None for those that the document must have."""
    leave_out: tuple[str, ...] = ()
    """Columns that a person said are not delivered."""


class TypeUsed(BaseModel):
    """A published revision of a document type."""

    model_config = ConfigDict(frozen=True)

    key: str
    revision: int = 1


class Letter(BaseModel):
    """From arrival to delivery, in the order in which things happen."""

    model_config = ConfigDict(frozen=True)

    format: Literal["zestpail lane 1"] = "zestpail lane 1"
    type: str
    """Key of the document type that reads what arrives."""
    revision: int = 1
    other_types: tuple[TypeUsed, ...] = ()
    """Types that sheets may name for single documents."""
    separation: Separation = Separation()
    """How what arrives is cut into documents."""
    cleaning: Cleaning = Cleaning()
    """What is done to scanned pages before they are read."""
    reading: Way = "ordinary"
    """How pages are read that have no text of their own."""
    review_below: float = Field(default=0.9, ge=0, le=1)
    """Needed values less sure than this are shown to a person."""
    review_others_below: float = Field(default=0.6, ge=0, le=1)
    """And values that need not be there, if less sure than this."""
    take_back_seconds: int = Field(default=5, ge=0)
    """How long a reviewed document waits before it is delivered, so that it can be taken back."""
    folder: str
    """Where documents go, under the folder for deliveries."""
    naming: Naming
    csv: str
    xlsx: str
    rows: tuple[RowsOut, ...] = ()
    notes: NotesOut = "kept here"
    """What becomes of notes and highlights when a document is delivered."""

    mail_to: tuple[str, ...] = ()
    """Addresses, and domains as ``@example.org``, to which sheets may have documents sent."""

    hand_on: str = ""
    """Key of a lane to which delivered documents are handed on; "" for none."""

    def may_mail(self, address: str) -> bool:
        """Whether a sheet may have documents sent there."""
        wanted = address.strip().lower()
        return wanted in self.mail_to or f"@{wanted.rpartition('@')[2]}" in self.mail_to

    def used(self, type_key: str) -> TypeUsed | None:
        """The type of that name among those that the lane reads with; no name means its own."""
        own = TypeUsed(key=self.type, revision=self.revision)
        return next((used for used in (own, *self.other_types) if used.key == (type_key or self.type)), None)

    def sheet_of(self, name: str, type_key: str) -> str:
        """The file that rows of documents go to: those of another type than the lane's own have one of their own."""
        stem, dot, extension = name.rpartition(".")
        return name if type_key == self.type else f"{stem}-{type_key}{dot}{extension}"

    def rows_out(self, table: str) -> RowsOut:
        """How the rows of that table are delivered."""
        return next((out for out in self.rows if out.table == table), RowsOut(table=table))


def supplier_invoices() -> Letter:
    """The demo's lane, and a good first one."""
    return Letter(
        type="supplier-invoice",
        folder="supplier-invoices",
        naming=Naming(
            folders=((DatePart(key="issue_date", pattern="YYYY-MM"),),),
            file=(FieldPart(key="seller_name", instead="unknown supplier"), TextPart(text=" "),
                  FieldPart(key="invoice_number", instead="without number")),
        ),
        csv="supplier-invoices.csv",
        xlsx="supplier-invoices.xlsx",
    )  # fmt: skip


def supplier_statements() -> Letter:
    """The demo's second lane: long tables with a balance."""
    return Letter(
        type="supplier-statement",
        folder="supplier-statements",
        naming=Naming(
            folders=((DatePart(key="statement_date", pattern="YYYY-MM"),),),
            file=(FieldPart(key="seller_name", instead="unknown supplier"), TextPart(text=" "),
                  FieldPart(key="statement_date", instead="without date")),
        ),
        csv="supplier-statements.csv",
        xlsx="supplier-statements.xlsx",
    )  # fmt: skip


def vessel_calls() -> Letter:
    """The demo's third lane: bundles in one pile, cut by printed sheets, filed by what the cover sheet says."""
    kinds = ("stores-list", "waste-receipt", "pilot-ticket", "port-clearance", "cargo-manifest", "health-declaration")
    return Letter(
        type="crew-list",
        other_types=tuple(TypeUsed(key=key) for key in kinds),
        separation=Separation(bundles=AtPrintedSheet(), documents=AtPrintedSheet(), blank_pages="left out"),
        folder="vessel-calls",
        naming=Naming(
            folders=((FieldPart(key="vessel", instead="unknown vessel"),), (FieldPart(key="year", instead="no year"),),
                     (FieldPart(key="month", instead="no month"),)),
            file=(FieldPart(key="document_type"),),
        ),
        csv="vessel-calls.csv",
        xlsx="vessel-calls.xlsx",
    )  # fmt: skip
