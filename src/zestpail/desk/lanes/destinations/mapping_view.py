"""The mapping of a destination as a page shows it: our values, their columns, and one document's values at both."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zestpail.core.document_type import DocumentType
from zestpail.delivery import MappedDestination, Outgoing
from zestpail.delivery.columns import KINDS, Column
from zestpail.delivery.mapped import about_names
from zestpail.delivery.mapping import WRITTEN, Faults, Tie, faults_of, fitting

Rows = Mapping[str, Sequence[Mapping[str, str | None]]]


@dataclass(frozen=True)
class OurValue:
    """One of our values, with that of the document that is looked at."""

    key: str
    """A field's key, or ``table/column``."""
    name: str
    value: str
    used: bool


@dataclass(frozen=True)
class TheirColumn:
    """One of their columns, what goes into it, and what that is for the document that is looked at."""

    place: str
    """Its key, or ``list/column``."""
    name: str
    kind: str
    required: bool
    sentence: str
    """What goes into it; "" for nothing."""
    value: str
    problem: str
    tie: Tie | None


@dataclass(frozen=True)
class MappingView:
    """Our values and their columns."""

    ours: list[OurValue]
    theirs: list[TheirColumn]
    faults: Faults
    written: list[tuple[str, str]]
    can_be_added: bool
    """Whether columns can be named here."""


def mapping_view(there: MappedDestination, doc_type: DocumentType, document: Outgoing | None) -> MappingView:
    """What goes into which column, on the values of a document; without values where there is none."""
    rows = document.rows if document else {}
    values = there.values_of(document) if document else {}
    first = (rows.get(there.each_row_of) or [{}])[0]
    values |= {f"{there.each_row_of}/{key}": value for key, value in first.items()}
    names = {field.key: field.name for field in doc_type.fields}
    return MappingView(
        _ours(doc_type, there, values, rows), _theirs(doc_type, there, values, rows),
        faults_of(there.ties, there.columns, names), list(WRITTEN.items()), there.columns_can_be_named,
    )  # fmt: skip


def _ours(
    doc_type: DocumentType, there: MappedDestination, values: Mapping[str, str | None],
    rows: Rows,
) -> list[OurValue]:  # fmt: skip
    used = there.ties.used
    ours = [OurValue(f.key, f.name, _shown(values.get(f.key)), f.key in used) for f in doc_type.fields]
    ours += [OurValue(key, name, _shown(values.get(key)), key in used) for key, name in about_names().items()]
    for table in doc_type.tables:
        first = (rows.get(table.key) or [{}])[0]
        tied = {name.partition("/")[2] for name in used if name.startswith(f"{table.key}/")}
        tied |= {key for one in there.ties.tables if one.table == table.key for t in one.ties for key in t.value.used}
        ours += [OurValue(f"{table.key}/{c.key}", f"{table.name}: {c.name}", _shown(first.get(c.key)), c.key in tied)
                 for c in table.columns]  # fmt: skip
    return ours


def _theirs(
    doc_type: DocumentType, there: MappedDestination, values: Mapping[str, str | None],
    rows: Rows,
) -> list[TheirColumn]:  # fmt: skip
    names = {field.key: field.name for field in doc_type.fields} | about_names()
    names |= {f"{one.key}/{c.key}": f"{one.name}: {c.name}" for one in doc_type.tables for c in one.columns}
    ties = {one.column: one for one in there.ties.ties}
    columns = [_their(c, c.key, c.name, ties.get(c.key), values, names) for c in there.columns.plain]
    for several in there.columns.lists:
        own = next((one for one in there.ties.tables if one.list_key == several.key), None)
        inner = {one.column: one for one in own.ties} if own else {}
        table = next((one for one in doc_type.tables if own and one.key == own.table), None)
        first = (rows.get(table.key) or [{}])[0] if table else {}
        called = {c.key: f"{table.name}: {c.name}" for c in table.columns} if table else {}
        inside = [c if own else c.model_copy(update={"required": False}) for c in several.columns]
        columns += [_their(c, f"{several.key}/{c.key}", f"{several.name}: {c.name}", inner.get(c.key), first, called)
                    for c in inside]  # fmt: skip
    return columns


def _their(
    column: Column, place: str, name: str, tie: Tie | None, values: Mapping[str, str | None], names: Mapping[str, str]
) -> TheirColumn:
    text = tie.value.text(values) if tie else ""
    problem = ""
    if text:
        try:
            fitting(column, text)
        except ValueError as wrong:
            problem = str(wrong)
    elif tie and column.required and values:
        problem = "is empty"
    kind = KINDS[column.kind] + (f", {column.longest} characters" if column.longest else "")
    sentence = tie.value.sentence(names) if tie else ""
    return TheirColumn(place, name, kind, column.required, sentence, _shown(text), problem, tie)


def _shown(value: str | None) -> str:
    return (value or "").replace("\n", " ")[:60]
