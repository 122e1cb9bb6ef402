"""In which forms a document can be delivered: each form is a file, made of its pages or of its values."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Literal, get_args

from zestpail.core.exchange.invoice import InvoiceData
from zestpail.core.exchange.of_values import invoice_of
from zestpail.core.exchange.write import write
from zestpail.core.writing.hybrid_pdf import hybrid_pdf
from zestpail.core.writing.page_texts import alto, hocr, plain_text
from zestpail.core.writing.page_tiff import page_tiff
from zestpail.core.writing.searchable_pdf import PageToWrite, searchable_pdf
from zestpail.core.writing.value_files import DocumentValues, values_csv, values_json, values_json_lines, values_xml

Rendition = Literal[
    "searchable_pdf",
    "pdf_a",
    "original",
    "tiff",
    "text",
    "hocr",
    "alto",
    "values_json",
    "values_json_lines",
    "values_xml",
    "values_csv",
    "invoice_ubl",
    "invoice_cii",
    "invoice_hybrid",
]
RENDITIONS: dict[Rendition, str] = {
    "searchable_pdf": "Searchable PDF, pages with text of their own as they came",
    "pdf_a": "PDF/A, every page as a picture with its text",
    "original": "Pages as they came",
    "tiff": "TIFF of several pages",
    "text": "Text",
    "hocr": "Words with their places (hOCR)",
    "alto": "Words with their places (ALTO)",
    "values_json": "Values as JSON",
    "values_json_lines": "Values as JSON Lines",
    "values_xml": "Values as XML",
    "values_csv": "Values as CSV",
    "invoice_ubl": "Electronic invoice (UBL 2.1)",
    "invoice_cii": "Electronic invoice (UN/CEFACT CII)",
    "invoice_hybrid": "Hybrid invoice: PDF/A-3 with its data",
}
"""What each is called, by code."""
_SUFFIXES: dict[Rendition, str] = {
    "searchable_pdf": ".pdf", "pdf_a": ".pdf", "tiff": ".tif", "text": ".txt", "hocr": ".hocr", "alto": ".xml",
    "values_json": ".json", "values_json_lines": ".jsonl", "values_xml": ".xml", "values_csv": ".csv",
    "invoice_ubl": ".xml", "invoice_cii": ".xml", "invoice_hybrid": ".pdf",
}  # fmt: skip
_ADDED: dict[Rendition, str] = {"pdf_a": "archive", "original": "original", "values_xml": "values",
    "invoice_ubl": "UBL", "invoice_cii": "CII", "invoice_hybrid": "hybrid",
}  # fmt: skip
"""What a name gets that another form has already."""
_TYPES = {
    ".pdf": "application/pdf", ".tif": "image/tiff", ".jpg": "image/jpeg", ".png": "image/png", ".txt": "text/plain",
    ".hocr": "application/xhtml+xml", ".xml": "application/xml", ".json": "application/json",
    ".jsonl": "application/jsonl", ".csv": "text/csv",
}  # fmt: skip
_BEGINNINGS = {b"%PDF": ".pdf", b"II*\0": ".tif", b"MM\0*": ".tif", b"\xff\xd8\xff": ".jpg", b"\x89PNG": ".png"}


@dataclass(frozen=True)
class Rendered:
    """A file of a document; ``suffix`` is what its name ends with."""

    suffix: str
    data: bytes


@dataclass(frozen=True)
class Written:
    """A document as it is delivered."""

    pages: Sequence[PageToWrite]
    title: str
    values: DocumentValues | None = None
    """Needed for those forms that are made of them."""
    arrived: bytes | None = None
    """The file that it arrived as, where it is all of that and nothing was done to its pages."""


def rendered(document: Written, wanted: Rendition) -> Rendered:
    """The document in that form. Pages that came otherwise than alone, or were changed, come as a PDF of them.

    Raises ValueError for a form of values that are not given, and Unwritable for values that make no invoice.
    """
    if wanted == "original":
        suffix = suffix_of(document.arrived) if document.arrived else ""
        if document.arrived and suffix:
            return Rendered(suffix, document.arrived)
        return Rendered(".pdf", searchable_pdf(document.pages, document.title))
    if wanted in OF_VALUES and document.values is None:
        raise ValueError("the values of the document are not known")
    if wanted in _OF_VALUES and document.values:
        return Rendered(_SUFFIXES[wanted], _OF_VALUES[wanted](document.values))
    return Rendered(_SUFFIXES[wanted], _WAYS[wanted](document))


def told_apart(suffixes: Mapping[Rendition, str]) -> dict[Rendition, str]:
    """The suffixes of one document's files, of which no two are the same."""
    apart: dict[Rendition, str] = {}
    for form, suffix in suffixes.items():
        apart[form] = f" {_ADDED[form]}{suffix}" if suffix in apart.values() else suffix
    return apart


def usual_suffix(form: Rendition) -> str:
    """What the name of a file in that form ends with, most times."""
    return _SUFFIXES.get(form, ".pdf")


def suffix_of(data: bytes) -> str:
    """What the name of a file with that content ends with; "" for one that is none of those that arrive."""
    return next((suffix for beginning, suffix in _BEGINNINGS.items() if data.startswith(beginning)), "")


def media_type(name: str) -> str:
    """The media type (RFC 6838) of a file of that name."""
    return next((of for suffix, of in _TYPES.items() if name.lower().endswith(suffix)), "application/octet-stream")


def media_types() -> tuple[str, ...]:
    """All media types that a form can have."""
    return tuple(dict.fromkeys(_TYPES.values()))


def in_order(wanted: Sequence[str]) -> tuple[Rendition, ...]:
    """Those forms among codes, each once, in the order in which they are offered."""
    return tuple(one for one in get_args(Rendition) if one in wanted)


def _pdf_a(document: Written) -> bytes:
    return searchable_pdf([replace(one, original=None) for one in document.pages], document.title)


def _invoice(values: DocumentValues | None) -> InvoiceData:
    """The values as an electronic invoice. Raises Unwritable."""
    rows = values.tables[0].rows if values and values.tables else ()
    return invoice_of(values.terms if values else {}, rows)


def _hybrid(document: Written) -> bytes:
    invoice = _invoice(document.values)
    return hybrid_pdf(_pdf_a(document), write(invoice, "cii"), invoice.issue_date or date.min)


_WAYS: dict[Rendition, Callable[[Written], bytes]] = {
    "searchable_pdf": lambda document: searchable_pdf(document.pages, document.title),
    "pdf_a": _pdf_a,
    "invoice_hybrid": _hybrid,
    "tiff": lambda document: page_tiff(document.pages),
    "text": lambda document: plain_text([page.reading for page in document.pages]),
    "hocr": lambda document: hocr([page.reading for page in document.pages], document.title),
    "alto": lambda document: alto([page.reading for page in document.pages], document.title),
}


_OF_VALUES: dict[Rendition, Callable[[DocumentValues], bytes]] = {
    "values_json": values_json, "values_json_lines": values_json_lines, "values_xml": values_xml,
    "values_csv": values_csv,
    "invoice_ubl": lambda values: write(_invoice(values), "ubl"),
    "invoice_cii": lambda values: write(_invoice(values), "cii"),
}  # fmt: skip
OF_VALUES: frozenset[Rendition] = frozenset((*_OF_VALUES, "invoice_hybrid"))
"""Forms that values are needed for."""
