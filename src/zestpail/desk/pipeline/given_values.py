"""Values that sheets and barcodes gave a document: they stand over what is found on its pages."""

from __future__ import annotations

from collections.abc import Mapping

from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extracted_value import ExtractedValue, Extraction
from zestpail.core.kinds import Style

BY_SHEET = "sheet"
"""The finder of what a sheet or barcode gave."""


def with_given(found: Extraction, doc_type: DocumentType, given: Mapping[str, str]) -> Extraction:
    """The capture with the given values in the fields of their names; what is not of a field's kind is not taken."""
    values = tuple(_given(value, doc_type, given.get(value.key, "")) for value in found.values)
    return found.model_copy(update={"values": values})


def _given(value: ExtractedValue, doc_type: DocumentType, text: str) -> ExtractedValue:
    parsed = doc_type.field(value.key).kind.parse(text, Style()) if text else None
    if parsed is None:
        return value
    details = f"given by a sheet or barcode: {text}"
    return ExtractedValue(key=value.key, value=parsed, raw=text, confidence=1.0, finder=BY_SHEET, reason=details)
