"""Six invoices of the demo as hybrid PDFs, which carry their data: ``python -m demo.hybrid_invoices`` writes them.

They are born-digital invoices of the demo with the XML of what is printed in them. The last one contradicts its paper:
its data have two figures of the total swapped.
"""

from __future__ import annotations

import json
from decimal import Decimal
from pathlib import Path

from demo.invoices import swapped
from zestpail.core.exchange.invoice import InvoiceData
from zestpail.core.exchange.of_values import invoice_of
from zestpail.core.exchange.write import write
from zestpail.core.writing.hybrid_pdf import with_data

FILES = Path(__file__).parent / "files"
OF = ("brevanne-01", "moewenbek-01", "norrhavn-01", "ostersiel-01", "tremarec-03", "tarnwick-03")
"""The invoices that are made hybrid; the last one's data say another total than its paper."""
TERMS = {
    "invoice_number": "number", "issue_date": "issue_date", "due_date": "due_date", "currency": "currency",
    "order_reference": "order_reference", "seller_iban": "iban", "seller_name": "seller.name",
    "seller_vat_id": "seller.vat_id", "buyer_name": "buyer.name", "net_total": "net_total", "tax_total": "tax_total",
    "grand_total": "grand_total",
}  # fmt: skip


def main() -> None:
    """Write the six, each with its truth."""
    folder = FILES / "hybrid-invoices"
    folder.mkdir(exist_ok=True)
    for at, name in enumerate(OF, 1):
        paper = FILES / "supplier-invoices" / f"{name}.pdf"
        truth = json.loads(paper.with_suffix(".pdf.truth.json").read_text("utf-8"))
        invoice = invoice_of({term: truth["fields"].get(key) for key, term in TERMS.items()}, truth["tables"]["lines"])
        data = write(_contradicting(invoice) if name == OF[-1] else invoice, "cii" if at % 2 else "ubl")
        made = folder / f"hybrid-{at:02}.pdf"
        made.write_bytes(with_data(paper.read_bytes(), data))
        made.with_suffix(".pdf.truth.json").write_text(json.dumps(truth, ensure_ascii=False, indent=1) + "\n", "utf-8")


def _contradicting(invoice: InvoiceData) -> InvoiceData:
    wrong = swapped(invoice.grand_total or Decimal(0))
    return invoice.model_copy(update={"grand_total": wrong, "payable": wrong})


if __name__ == "__main__":
    main()
