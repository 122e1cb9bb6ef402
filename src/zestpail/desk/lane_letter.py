"""A lane as data: its letter of instruction."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.naming import DatePart, FieldPart, Naming, TextPart
from zestpail.core.reading.read import Way


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
