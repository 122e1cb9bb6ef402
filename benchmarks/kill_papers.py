"""Papers that differ in their number alone, some of them scans, some without a number to be found."""

from __future__ import annotations

import io

import pypdfium2 as pdfium

from zestpail.core.writing.text_pages import text_pdf

TEXT = """Reederei Falkenstrand GmbH
Am Deich 4, 26725 Emden
VAT number: DE811569869

{number}
Invoice date: 2026-05-04
Due date: 2026-06-03

Bill to: Quillon Harbour Board, 1 Custom House Quay

Description                        Quantity      Price      Amount
Mooring line, 40 mm                       2      50.00      100.00

Net total                                                   100.00
VAT 19 %                                                     19.00
Total EUR                                                   119.00
"""


def number_of(name: str) -> str:
    """The number of the paper in the file of that name."""
    return name.split(".", maxsplit=1)[0].upper()


def paper(number: int) -> bytes:
    """A page with a text layer; every third a scan; every tenth says no number."""
    line = f"Invoice number: {number_of(f'k-{number:05}')}" if number % 10 else "Invoice"
    data = text_pdf(TEXT.format(number=line), "bill")
    if number % 3:
        return data
    out = io.BytesIO()
    pdfium.PdfDocument(data)[0].render(scale=200 / 72).to_pil().convert("L").save(out, "PDF", resolution=200)
    return out.getvalue()
