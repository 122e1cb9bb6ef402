"""What an electronic invoice says of itself, held against what was read off the paper."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.exchange.invoice import InvoiceLine
from zestpail.core.extraction.alternatives import OtherReading
from zestpail.core.extraction.extracted_value import ExtractedValue
from zestpail.core.finders import Candidate, SearchContext
from zestpail.core.finders.context import FieldTarget
from zestpail.core.finders.embedded_data import read_data
from zestpail.core.kinds.equality import same
from zestpail.core.kinds.kind import Kind
from zestpail.core.reading.geometry import Box
from zestpail.core.tables import Cell, ExtractedTable, Row, Table

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


LINES = {
    "item_code": "item", "description": "name", "quantity": "quantity", "unit_price": "price", "line_total": "total",
    "tax_rate": "rate",
}  # fmt: skip
"""What of an invoice's line the columns of a table say, by their keys."""
CENTS = 2
"""Decimals of an amount, at least: prices may have more."""
NOWHERE = Box(0, 0, 1, 1)


def rows_by_data(context: SearchContext, table: Table, paper: ExtractedTable) -> ExtractedTable:
    """The rows as the file's own data say, held against the paper's where these are as many; else the paper's."""
    columns = {column.key: column for column in table.columns if column.key in LINES}
    invoice = next((found for page in context.document.pages if (found := read_data(page.data))), None)
    if invoice is None or not invoice.lines or len(columns) < 2:
        return paper
    alike = len(paper.rows) == len(invoice.lines)
    rows = []
    for at, line in enumerate(invoice.lines):
        printed = paper.rows[at] if alike else Row(page=0, box=NOWHERE, cells={})
        said = {key: _said(line, LINES[key]) for key in columns}
        cells = {
            **printed.cells,
            **{key: _cell(columns[key].kind, printed.cells.get(key), text) for key, text in said.items() if text},
        }
        rows.append(printed.model_copy(update={"cells": cells}))
    return paper.model_copy(update={"rows": tuple(rows)})


def _said(line: InvoiceLine, term: str) -> str:
    value = getattr(line, term)
    if term == "name":
        return "\n".join(filter(None, (line.name, line.description)))
    return f"{value:f}" if isinstance(value, Decimal) else value or ""


def _cell(kind: Kind, printed: Cell | None, said: str) -> Cell:
    """A cell as the data say; doubtful where the paper has another figure."""
    value = said
    if kind.money and said:
        value = f"{Decimal(said):.{max(CENTS, -int(Decimal(said).as_tuple().exponent))}f}"
    if printed is None or not printed.value:
        return Cell(value=value, raw=said, confidence=ALONE, reason="as the invoice's data say")
    if same(printed.value, value):
        return printed.model_copy(update={"confidence": BOTH})
    if not kind.numeric:
        return printed.model_copy(update={"value": value, "confidence": ALONE, "reason": "as the invoice's data say"})
    why = f"the paper says {kind.show(printed.value)}, the data say {kind.show(value)}"
    return printed.model_copy(update={"value": value, "confidence": AGAINST, "reason": why})


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
