"""Cells of the proof strip and the proof sheet: one value on one sample, its snippet, and what became of it."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.evaluation.proof import Outcome, Proof, Proven, Turn, prove, turn
from zestpail.core.extraction.extracted_value import ExtractedValue
from zestpail.core.reading.geometry import Box
from zestpail.core.tables import Table
from zestpail.desk.documents.stored_lists import lists_for
from zestpail.desk.types.drafts import draft_of, type_of_draft
from zestpail.desk.types.samples import proof_samples
from zestpail.store import Store
from zestpail.store.queries.samples import pages_of_sample, samples_of
from zestpail.store.states import PageState, SampleState
from zestpail.store.tables import Sample

AROUND = 6.0
"""Points of paper around a value."""

PageIds = Mapping[int, Sequence[int]]
"""The pages of each sample that were read, in order."""


@dataclass(frozen=True)
class Rows:
    """How the rows of a table are shown where a field's value is."""

    def show(self, value: str) -> str:
        """How many there are."""
        return f"{len(json.loads(value))} rows"


@dataclass(frozen=True)
class TableLine:
    """A table as a line of the proof sheet."""

    key: str
    name: str
    kind: Rows


Provable = FieldRule | TableLine


def line_of(table: Table) -> TableLine:
    """The table as it is proven."""
    return TableLine(table.key, table.name, Rows())


@dataclass(frozen=True)
class Cell:
    """One value on one sample: where its snippet is cut, what was found, and what became of it."""

    sample: int
    sample_name: str
    key: str
    field: str
    shown: str
    outcome: Outcome
    turn: Turn
    was: str
    wanted: str
    page_id: int | None
    box: Box | None


@dataclass(frozen=True)
class Sheet:
    """The whole proof sheet, fields down and samples across."""

    doc_type: DocumentType
    samples: list[Sample]
    lines: list[list[Cell]]


def sheet(store: Store, key: str, against: DocumentType | None = None) -> Sheet:
    """Every field on every sample that is read, with what changed against a revision if given. Raises Missing."""
    with store.transaction() as session:
        doc_type = type_of_draft(draft_of(session, key))
        rows = [row for row in samples_of(session, key) if row.state == SampleState.READY]
        page_ids = {
            row.id or 0: [p.id or 0 for p in pages_of_sample(session, row.id or 0) if p.state == PageState.READ]
            for row in rows
        }
        samples = proof_samples(store, session, key)
    lists = lists_for(store, (doc_type, against or doc_type))
    proof, before = prove(doc_type, samples, lists), prove(against or doc_type, samples, lists)
    provable: list[Provable] = [*doc_type.fields, *map(line_of, doc_type.tables)]
    return Sheet(doc_type, rows, [cells(rule, rows, proof, before, page_ids) for rule in provable])


def strip(rule: Provable, rows: Sequence[Sample], proof: Proof, before: Proof, page_ids: PageIds) -> list[Cell]:
    """The field on every sample; what an edit changed comes first, then what is wrong."""
    return sorted(cells(rule, rows, proof, before, page_ids), key=trouble)


def cells(rule: Provable, rows: Sequence[Sample], proof: Proof, before: Proof, page_ids: PageIds) -> list[Cell]:
    """The field on every sample that is read, in the samples' order."""
    read = [(row, row.id or 0) for row in rows if row.id in proof]
    return [
        _cell(rule, row, proof[number][rule.key], before.get(number, {}).get(rule.key), page_ids.get(number, ()))
        for row, number in read
    ]


def trouble(cell: Cell) -> tuple[int, int]:
    """What wants looking at first sorts first."""
    by_turn = {"broken": 0, "fixed": 1, "changed": 2, "same": 3}[cell.turn]
    return by_turn, {"wrong": 0, "missing": 0, "open": 1, "right": 2, "absent": 2}[cell.outcome]


def shown_value(rule: Provable, value: str | None) -> str:
    """A kept value as a person reads it; "none" where rightly nothing is there."""
    if not value:
        return "none"
    try:
        return rule.kind.show(value)
    except (ArithmeticError, ValueError):  # a label given while the field was of another kind
        return value


def _shown(rule: Provable, found: ExtractedValue) -> str:
    if not found.value:
        return ""
    return found.raw if isinstance(rule, TableLine) else rule.kind.show(found.value)


def _cell(rule: Provable, row: Sample, proven: Proven, before: Proven | None, pages: Sequence[int]) -> Cell:
    found, wanted = proven.found, row.truth.get(rule.key)
    place = Box(*wanted["box"]) if found.box is None and wanted and wanted["box"] else found.box
    number = found.page if found.box is not None else (wanted or {}).get("page")
    was = before.found.value if before else None
    return Cell(
        sample=row.id or 0,
        sample_name=row.name,
        key=rule.key,
        field=rule.name,
        shown=_shown(rule, found),
        outcome=proven.outcome,
        turn=turn(before, proven),
        was=shown_value(rule, was) if was != found.value else "",
        wanted=shown_value(rule, wanted["value"]) if wanted else "",
        page_id=pages[number] if place is not None and number is not None and number < len(pages) else None,
        box=_around(place) if place is not None else None,
    )


def _around(box: Box) -> Box:
    """The value with what stands left of it, so that its label can be seen."""
    wide = max(box.width + 2 * AROUND, 14 * box.height)
    return Box(box.x1 + AROUND - wide, box.y0 - AROUND, box.x1 + AROUND, box.y1 + AROUND)
