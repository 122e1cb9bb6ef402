"""Hybrid invoices: a PDF that carries its own data as an XML file (PDF/A-3)."""

from __future__ import annotations

import io
from collections.abc import Iterator

import pikepdf

from zestpail.core.exchange.parse import MOST_BYTES, is_invoice

MOST_ATTACHED = 50
"""Files in a PDF that are looked at."""


def attached_invoice(pdf: bytes) -> bytes | None:
    """The XML of the invoice that a PDF carries, whatever its name; None where it carries none, or is no PDF."""
    return next((data for data in _attached(pdf) if is_invoice(data)), None)


def _attached(pdf: bytes) -> Iterator[bytes]:
    """The files in a PDF that may be XML."""
    try:
        with pikepdf.open(io.BytesIO(pdf)) as opened:
            for name in list(opened.attachments)[:MOST_ATTACHED]:
                if name.lower().endswith(".xml"):
                    stream = opened.attachments[name].get_file()
                    if stream.size <= MOST_BYTES:
                        yield stream.read_bytes()
    except (pikepdf.PdfError, ValueError, RuntimeError):
        return
