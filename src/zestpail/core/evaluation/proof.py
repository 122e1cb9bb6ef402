"""A rule judged on all samples at once: what it finds on each, whether that is right, and what an edit changed."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from copy import copy
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from zestpail.core.document_type import DocumentType
from zestpail.core.document_type.learned import Learned
from zestpail.core.extraction.extract import extract_in
from zestpail.core.extraction.extracted_value import ExtractedValue, Extraction
from zestpail.core.extraction.lookups import Lookups
from zestpail.core.finders import SearchContext
from zestpail.core.finders.memory import SearchMemory
from zestpail.core.kinds.equality import same
from zestpail.core.landmarks import AnyLandmark
from zestpail.core.landmarks.labels import Label
from zestpail.core.learning.memory import memory_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reference.held import NO_LISTS
from zestpail.core.reference.reference_list import ListSource
from zestpail.core.tables import ExtractedTable

Outcome = Literal["right", "wrong", "missing", "absent", "open"]
"""Open: nobody has said yet what is right. Missing: a value is there to be found and was not. Absent: rightly none."""
Turn = Literal["fixed", "broken", "changed", "same"]

OUTCOMES: dict[Outcome, str] = {
    "right": "right", "wrong": "wrong", "missing": "missing", "absent": "correctly empty", "open": "not labelled",
}  # fmt: skip
TURNS: dict[Turn, str] = {"fixed": "fixed", "broken": "broken", "changed": "changed", "same": "as before"}
Truth = Mapping[str, str | None]
"""What is right, for the fields of a sample that somebody labelled; None where rightly nothing is there."""
_GOOD: tuple[Outcome, ...] = ("right", "absent")


@dataclass(frozen=True)
class Sample:
    """A document with what is known to be right about it."""

    id: int
    document: DocumentReading
    truth: Truth


@dataclass(frozen=True)
class Proven:
    """What the rules find for one field on one sample, and how that compares with the truth."""

    found: ExtractedValue
    outcome: Outcome


@dataclass(frozen=True)
class Asked:
    """A type, so that it can be told whether the same was asked before: its rules as JSON, and what it learned."""

    rules: str
    learned: Learned | None

    @classmethod
    def of(cls, doc_type: DocumentType) -> Asked:
        """The type as it is asked."""
        return cls(doc_type.model_dump_json(exclude={"learned"}), doc_type.learned)


Proof = dict[int, dict[str, Proven]]
"""By sample and field."""


def prove(doc_type: DocumentType, samples: Sequence[Sample], lists: ListSource = NO_LISTS) -> Proof:
    """What the type finds on every sample, from readings that are kept: nothing is read again, nor proven twice."""
    asked = Asked.of(doc_type)
    return {
        sample.id: {v.key: Proven(v, _outcome(v, sample.truth)) for v in _values(sample.document, asked, lists)}
        for sample in samples
    }


def tables_on(doc_type: DocumentType, document: DocumentReading) -> tuple[ExtractedTable, ...]:
    """The tables that the type finds on a sample."""
    return _extracted(document, Asked.of(doc_type), NO_LISTS).tables


def turn(before: Proven | None, after: Proven) -> Turn:
    """What became of a value by an edit."""
    if before is None:
        return "changed" if after.found.value else "same"
    good, was_good = after.outcome in _GOOD, before.outcome in _GOOD
    if good != was_good and "open" not in (after.outcome, before.outcome):
        return "fixed" if good else "broken"
    return "same" if before.found.value == after.found.value else "changed"


def turns(before: Proof, after: Proof, key: str | None = None) -> dict[Turn, int]:
    """How many values were mended, broken, changed or left as before; of one field, or of all."""
    count: dict[Turn, int] = {"fixed": 0, "broken": 0, "changed": 0, "same": 0}
    for sample, fields in after.items():
        for field, proven in fields.items():
            if key in (None, field):
                count[turn(before.get(sample, {}).get(field), proven)] += 1
    return count


def _values(document: DocumentReading, asked: Asked, lists: ListSource) -> tuple[ExtractedValue, ...]:
    """The values of the fields, and of each table its rows as one value."""
    found = _extracted(document, asked, lists)
    return (*found.values, *map(_as_value, found.tables))


@lru_cache(maxsize=4000)
def _extracted(document: DocumentReading, asked: Asked, lists: ListSource) -> Extraction:
    doc_type = _kind(asked.rules)
    context, memory = _context(document, doc_type.labels, doc_type.landmarks, asked.learned)
    if lists is not NO_LISTS:
        context = copy(context)  # the one that is kept serves other types at the same time
        context.lists = Lookups(lists, doc_type)
    return extract_in(context, doc_type, memory, with_readings=False)


def _as_value(table: ExtractedTable) -> ExtractedValue:
    if not table.rows:
        return ExtractedValue(key=table.key)
    proven = [row.proven for row in table.rows]
    count = f"{len(proven)} row{'s' if len(proven) > 1 else ''}"
    failing = proven.count(False)
    proof = f", {failing} not proven" if failing else ", all proven" if all(proven) else ""
    return ExtractedValue(
        key=table.key, value=json.dumps(table.values, ensure_ascii=False, sort_keys=True), raw=f"{count}{proof}",
        confidence=1 - failing / len(proven), page=table.rows[0].page, box=table.rows[0].box, finder="table",
    )  # fmt: skip


@lru_cache(maxsize=64)
def _kind(asked: str) -> DocumentType:
    return DocumentType.model_validate_json(asked)


@lru_cache(maxsize=1200)
def _context(
    document: DocumentReading, labels: tuple[Label, ...], landmarks: tuple[AnyLandmark, ...], learned: Learned | None
) -> tuple[SearchContext, SearchMemory]:
    """Labels and landmarks are looked for once for all edits that do not touch them, and so are unchanged rules."""
    return SearchContext(document, labels, landmarks, memory_of(learned)), SearchMemory()


def _outcome(value: ExtractedValue, truth: Truth) -> Outcome:
    if value.key not in truth:
        return "open"
    wanted = truth[value.key]
    if wanted is None:
        return "wrong" if value.value else "absent"
    if value.value is None:
        return "missing"
    return "right" if same(value.value, wanted) else "wrong"
