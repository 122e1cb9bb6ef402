"""The finder of what an electronic invoice in the file itself says: its data are taken as they are."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date
from decimal import Decimal
from functools import lru_cache
from operator import attrgetter
from typing import Annotated, ClassVar, Literal

from zestpail.core.exchange.invoice import InvoiceData
from zestpail.core.exchange.parse import parse
from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece, Stage
from zestpail.core.kinds.equality import same
from zestpail.core.kinds.kind import Kind
from zestpail.core.problems import Unreadable
from zestpail.core.reading.geometry import Box
from zestpail.core.setting import Setting

Term = Literal[
    "", "number", "issue_date", "due_date", "currency", "order_reference", "buyer_reference", "iban", "seller.name",
    "seller.vat_id", "buyer.name", "buyer.vat_id", "net_total", "tax_total", "grand_total", "payable",
]  # fmt: skip
SAYS: Mapping[str, str] = {
    "": "nothing",
    "number": "its number",
    "issue_date": "its date",
    "due_date": "when it is due",
    "currency": "its currency",
    "order_reference": "the order",
    "buyer_reference": "the buyer's reference",
    "iban": "the account to pay into",
    "seller.name": "the seller's name",
    "seller.vat_id": "the seller's VAT number",
    "buyer.name": "the buyer's name",
    "buyer.vat_id": "the buyer's VAT number",
    "net_total": "the total without tax",
    "tax_total": "the tax",
    "grand_total": "the total with tax",
    "payable": "what is to be paid",
}
TYPED = 0.999
"""Data were never read off paper."""


class EmbeddedData(Finder):
    """Take what the electronic invoice in the file says; nothing where there is none."""

    title: ClassVar[str] = "In the data of an electronic invoice"
    added_by: ClassVar[str] = "term"
    stage: ClassVar[Stage] = "data"
    finder: Literal["embedded_data"] = "embedded_data"
    term: Annotated[Term, Setting("What the data say", "choice", options=SAYS)] = ""

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take ")
        yield Piece(SAYS[self.term], "embedded_data.term")
        yield Piece(" from the data, if the file is an electronic invoice.")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What the data say, at the place where the paper says the same; made up of nothing where it does not."""
        invoice = next((found for page in context.document.pages if (found := read_data(page.data))), None)
        said = attrgetter(self.term)(invoice) if invoice and self.term else None
        if said in (None, ""):
            return
        value = _normalised(said, target.kind, context)
        if value:
            page, box = _printed(context, target.kind, value)
            yield Candidate(
                value=value, raw=str(said), page=page, box=box or Box(0, 0, 0, 0), confidence=TYPED,
                finder=self.finder, parts={"data": TYPED}, made=box is None, agreed=True,
                reason="as the invoice's data say" + ("" if box else ", not printed so"),
            )  # fmt: skip


@lru_cache(maxsize=32)
def read_data(data: str) -> InvoiceData | None:
    """The invoice that a file carries; None for none, and for data that cannot be read."""
    try:
        return parse(data.encode()) if data else None
    except Unreadable:
        return None


def _normalised(said: object, kind: Kind, context: SearchContext) -> str | None:
    """As the kind keeps it; None for what cannot be of the kind, as a day for an amount."""
    if isinstance(said, date):
        return said.isoformat() if kind.sheet in ("date", "text") else None
    if isinstance(said, Decimal):
        return f"{said:.2f}" if kind.sheet in ("money", "number", "text") else None
    return kind.parse(str(said), context.style) or (str(said) if kind.sheet == "text" else None)


def _printed(context: SearchContext, kind: Kind, value: str) -> tuple[int, Box | None]:
    """Where the page says the same."""
    for line in context.lines:
        for span in context.spans(line, kind):
            if same(span.value, value):
                return line.page, span.box
    return 0, None
