"""A lane as data: its letter of instruction."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.naming import DatePart, FieldPart, Naming, TextPart
from zestpail.core.reading.read import Way


class RowsOut(BaseModel):
    """How the rows of one table are delivered; a table that is not spoken of goes as this says by itself."""

    model_config = ConfigDict(frozen=True)

    table: str
    way: Literal["added to one sheet", "a sheet for each document", "not at all"] = "added to one sheet"
    repeat: tuple[str, ...] | None = None
    """Fields of the document that stand on each of its rows; None for those that the document must have."""
    leave_out: tuple[str, ...] = ()
    """Columns that a person said are not delivered."""


class Letter(BaseModel):
    """From arrival to delivery, in the order in which things happen."""

    model_config = ConfigDict(frozen=True)

    format: Literal["zestpail lane 1"] = "zestpail lane 1"
    type: str
    """Key of the document type that reads what arrives."""
    revision: int = 1
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
