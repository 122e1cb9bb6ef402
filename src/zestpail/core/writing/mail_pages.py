"""E-mails and plain texts as files that can be read: pages with their words, and who wrote them when."""

from __future__ import annotations

from zestpail.core.problems import Unreadable
from zestpail.core.reading.limits import USUAL_LIMITS, Limits
from zestpail.core.reading.unpacking import Packed, plain_text, unpacked_files
from zestpail.core.writing.invoice_pages import invoice_pdf
from zestpail.core.writing.text_pages import text_pdf


def readable(name: str, data: bytes, limits: Limits = USUAL_LIMITS) -> bytes:
    """The file itself, or as a PDF the text of an e-mail that holds nothing else. Raises Unreadable with the reason."""
    package = plain_text(name, data) or unpacked_files(data, limits)
    if package is None:
        return data
    if len(package.files) != 1:
        raise Unreadable(f"{len(package.files)} files are packed in it. Unpack it, and take one of them.")
    [packed] = package.files
    return as_pages(packed, name)


def as_pages(packed: Packed, name: str) -> bytes:
    """The file itself; plain text, and the data of an invoice, as a PDF. Raises Unreadable with the reason."""
    if packed.data_alone:
        return invoice_pdf(packed.data, name)
    return text_pdf(packed.data.decode("utf-8", "replace"), name) if packed.text else packed.data
