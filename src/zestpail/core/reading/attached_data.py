"""Data that a PDF carries as a file in itself: a hybrid invoice has its XML so (PDF/A-3, ISO 19005-3)."""

from __future__ import annotations

import pypdfium2 as pdfium

MOST_FILES, MOST_BYTES = 50, 2_000_000
"""Files in a PDF that are looked at, and the largest XML that is kept with a reading."""


def xml_in(pdf: pdfium.PdfDocument) -> str:
    """The first XML that the PDF carries; "" where it carries none, or only damaged or very large ones."""
    for at in range(min(pdf.count_attachments(), MOST_FILES)):
        try:
            file = pdf.get_attachment(at)
            data = bytes(file.get_data()) if file.get_name().lower().endswith(".xml") else b""
        except pdfium.PdfiumError:
            continue
        if 0 < len(data) <= MOST_BYTES:
            try:
                return data.decode("utf-8-sig")
            except UnicodeDecodeError:
                continue
    return ""
