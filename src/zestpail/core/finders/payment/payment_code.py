"""The finder that reads a code for payment on the paper: who is paid, into which account, how much."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Literal

from pydantic import Field

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.payment.standards import What, payment_in

SAYS: Mapping[What, str] = {
    "payee": "who is paid",
    "iban": "the account that is paid into",
    "amount": "how much is paid",
    "currency": "the currency",
    "payer": "who pays",
    "tax_number": "the tax number of who is paid",
    "number": "the number of the paper",
    "date": "the date of the paper",
    "tax": "the tax",
}


class PaymentCode(Finder):
    """Take what a payment code on the paper says."""

    finder: Literal["payment_code"] = "payment_code"
    what: What
    weight: float = Field(default=0.9, gt=0, le=1)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece(f"Take {SAYS[self.what]} from a payment code on the paper.")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:  # noqa: ARG002 - it knows its kind
        """What each code says."""
        for page, reading in enumerate(context.document.pages):
            for code in reading.barcodes:
                value = payment_in(code.text).get(self.what)
                if value:
                    yield Candidate(
                        value=value,
                        raw=value,
                        page=page,
                        box=code.box,
                        confidence=1.0,
                        finder=self.finder,
                        made=True,
                        parts={"code": self.weight},
                        reason="as the payment code says",
                    )

    def said(self, context: SearchContext) -> tuple[str, ...]:
        """All that codes on the paper say of it."""
        found = (payment_in(code.text).get(self.what) for page in context.document.pages for code in page.barcodes)
        return tuple(value for value in found if value)
