"""Values that sheets and barcodes gave a document: they stand over what is found on its pages."""

from __future__ import annotations

from collections.abc import Mapping

from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.extract import Capture, CapturedValue
from zestpail.core.kinds import Style

BY_SHEET = "the sheet"


def with_given(found: Capture, kind: DocumentType, given: Mapping[str, str]) -> Capture:
    """The capture with the given values in the fields of their names; what is not of a field's kind is not taken."""
    values = tuple(_given(value, kind, given.get(value.key, "")) for value in found.values)
    return found.model_copy(update={"values": values})


def _given(value: CapturedValue, kind: DocumentType, text: str) -> CapturedValue:
    parsed = kind.field(value.key).kind.parse(text, Style()) if text else None
    if parsed is None:
        return value
    told = f"given by a sheet or barcode: {text}"
    return CapturedValue(key=value.key, value=parsed, raw=text, confidence=1.0, finder=BY_SHEET, reason=told)
