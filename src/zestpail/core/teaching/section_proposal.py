"""What the engine proposes for prose that a person draws round: the whole section under its heading."""

from __future__ import annotations

from collections.abc import Collection

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import Section
from zestpail.core.finders.printed.section import MOST_WORDS, NUMBERED
from zestpail.core.kinds import Paragraph
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.teaching.field_proposal import key_for, name_of

LEAST_LINES, LEAST_WORDS = 2, 14
"""What is drawn round is prose if it has so many lines and words."""


def propose_section(document: DocumentReading, page: int, box: Box, taken: Collection[str]) -> FieldRule | None:
    """A field for the text under the heading over ``box``, or within it at its top; None where that is no prose."""
    inside = [line for line in document.lines if line.page == page and box.covers_centre_of(line.box)]
    if len(inside) < LEAST_LINES or sum(len(line.words) for line in inside) < LEAST_WORDS:
        return None
    if sum("\t" in line.text for line in inside) > len(inside) / 3:
        return None
    over = [line for line in document.lines if line.page == page and line.box.cy < inside[0].box.cy]
    headers = [inside[0], *reversed(over[-1:])]
    header = next(
        (line for line in headers if len(line.words) <= MOST_WORDS and not line.text.rstrip().endswith(".")), None
    )
    if header is None or "\t" in header.text:
        return None
    message = NUMBERED.sub("", header.text.strip(), count=1).strip(" .:")
    name = name_of(message.capitalize() if message.isupper() else message)
    return FieldRule(key=key_for(name, taken), name=name, kind=Paragraph(), finders=(Section(headings=(message,)),))
