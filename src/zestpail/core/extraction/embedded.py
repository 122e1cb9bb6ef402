"""What an electronic invoice says of itself, held against what was read off the paper."""

from __future__ import annotations

from collections.abc import Mapping

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.alternatives import OtherReading
from zestpail.core.extraction.extracted_value import ExtractedValue
from zestpail.core.finders import Candidate, SearchContext
from zestpail.core.finders.context import FieldTarget
from zestpail.core.kinds.equality import same

BOTH, ALONE, AGAINST = 0.999, 0.97, 0.4
"""How sure a value of the data is that the paper says too, does not say, or says otherwise."""
SAYS_OTHERWISE = 0.5
"""How surely something else must be read off the paper for it to speak against the data."""


def said_by_data(context: SearchContext, doc_type: DocumentType) -> dict[str, Candidate]:
    """By field what the file's own data say; nothing where it carries none."""
    said: dict[str, Candidate] = {}
    for field in doc_type.fields if any(page.data for page in context.document.pages) else ():
        for finder in field.finders:
            if finder.stage == "data":
                found = next(finder.candidates(context, FieldTarget(field.key, field.kind)), None)
                if found and field.key not in said:
                    said[field.key] = found
    return said


def paper_alone(doc_type: DocumentType) -> DocumentType:
    """The type as it reads what is printed, whatever the file's own data say."""
    fields = (
        field.model_copy(update={"finders": tuple(one for one in field.finders if one.stage != "data")})
        for field in doc_type.fields
    )
    return doc_type.model_copy(update={"fields": tuple(fields)})


def held_against(field: FieldRule, value: ExtractedValue, said: Mapping[str, Candidate]) -> ExtractedValue:
    """The data's value of a field with how far the paper bears it out; the paper's where the data say nothing."""
    data = said.get(field.key)
    if data is None:
        return value
    otherwise = bool(value.value) and not same(value.value, data.value) and value.confidence >= SAYS_OTHERWISE
    taken: dict[str, object] = {
        "value": data.value, "raw": data.raw, "finder": data.finder, "reason": data.reason, "doubt": "",
        "doubtful": (), "readings": (), "page": None if data.made else data.page,
        "box": None if data.made else data.box, "confidence": ALONE if data.made else BOTH,
        "candidates": (data, *value.candidates),
    }  # fmt: skip
    if otherwise:
        shown, wanted = field.kind.show(str(value.value)), field.kind.show(data.value)
        taken |= {
            "confidence": AGAINST, "doubt": f"the paper says {shown}, the data say {wanted}", "raw": value.raw,
            "page": value.page, "box": value.box, "readings": _as_printed(value),
        }  # fmt: skip
    return value.model_copy(update=taken)


def _as_printed(value: ExtractedValue) -> tuple[OtherReading, ...]:
    """What the paper says, to be picked instead."""
    if value.value is None or value.page is None or value.box is None:
        return ()
    return (OtherReading(value=value.value, raw=value.raw, page=value.page, box=value.box, why="as printed"),)
