"""An electronic invoice that came as XML alone, as a page that a person can look at: a PDF that carries the XML."""

from __future__ import annotations

from collections.abc import Iterator

from zestpail.core.exchange.invoice import InvoiceData, Party
from zestpail.core.exchange.parse import parse
from zestpail.core.writing.hybrid_pdf import with_data
from zestpail.core.writing.text_pages import text_pdf

FILE = "invoice.xml"
MOST_LINES = 1_000
"""Lines of the invoice that are shown; all of them are in the data."""


def invoice_pdf(data: bytes, name: str) -> bytes:
    """The invoice as pages, with its data. Raises Unreadable for XML that is no invoice, or hostile."""
    return with_data(text_pdf("\n".join(_told(parse(data))), name), data, FILE)


def _told(invoice: InvoiceData) -> Iterator[str]:
    yield from ("Credit note" if invoice.credit_note else "Invoice", "")
    yield from ("These are the data of an electronic invoice; no paper came with them.", "")
    for label, said in (
        ("Invoice number", invoice.number), ("Invoice date", invoice.issue_date), ("Due date", invoice.due_date),
        ("Order number", invoice.order_reference), ("Currency", invoice.currency),
    ):  # fmt: skip
        if said:
            yield f"{label}: {said}"
    yield from ("", *_party("Seller", invoice.seller), *_party("Buyer", invoice.buyer))
    if invoice.iban:
        yield f"IBAN: {invoice.iban}"
    yield ""
    for line in invoice.lines[:MOST_LINES]:
        unit = f" {line.unit}" if line.unit else ""
        yield f"{line.number}  {' '.join(filter(None, (line.item, line.name, line.description)))}"
        yield f"      {line.quantity}{unit} at {line.price}: {line.total}"
    if len(invoice.lines) > MOST_LINES:
        yield f"… and {len(invoice.lines) - MOST_LINES} more lines"
    yield ""
    for label, amount in (
        ("Total without tax", invoice.net_total), ("VAT", invoice.tax_total), ("Total", invoice.grand_total),
        ("To be paid", invoice.payable),
    ):  # fmt: skip
        if amount is not None:
            yield f"{label}: {amount:.2f}"


def _party(label: str, party: Party) -> Iterator[str]:
    place = " ".join(filter(None, (party.postcode, party.city, party.country)))
    yield f"{label}: {party.name}"
    yield from filter(None, (party.street, place, f"VAT number: {party.vat_id}" if party.vat_id else ""))
    yield ""
