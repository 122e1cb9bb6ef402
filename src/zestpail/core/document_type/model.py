"""A document type is data: its fields with their finders, and its checks. One model, one JSON file format.

The JSON Schema is ``DocumentType.model_json_schema()``; the sentences in the interface come from the same models.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Collection, Mapping
from graphlib import CycleError, TopologicalSorter
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from zestpail.core.checks import AnyCheck
from zestpail.core.document_type.learned import Learned
from zestpail.core.document_type.upgrade import FORMAT_1, upgraded
from zestpail.core.finders import AnyFinder, Area, ValueProfile
from zestpail.core.kinds import AnyKind
from zestpail.core.landmarks import AnyLandmark
from zestpail.core.landmarks.labels import Label
from zestpail.core.landmarks.wordings import usual_labels
from zestpail.core.tables.table import Table
from zestpail.core.writing.value_formats import ValueFormat

Tries = Literal["competing", "in_order"]
TRIES: dict[str, str] = {
    "competing": "compete: the best place wins",
    "in_order": "go in order: the first that finds wins",
}


_WORDED: deque[tuple[tuple[object, ...], tuple[Label, ...]]] = deque(maxlen=16)
"""The labels of the types that were asked last, by the very tuples that they come from: thousands of words each."""


class FieldRule(BaseModel):
    """One field: what it is called, what kind of value it has, and how it is found."""

    model_config = ConfigDict(frozen=True)

    key: str = Field(pattern=r"^[a-z][a-z0-9_]*$")
    name: str
    kind: AnyKind
    finders: tuple[AnyFinder, ...]
    tries: Tries = "competing"
    """Whether the best candidate of all finders wins, or the first finder that has a good one."""
    judged: bool = False
    """Whether the judge has learned such a field from papers of many makers: then its word counts."""
    profile: ValueProfile | None = None
    within: Area | None = None
    export_as: ValueFormat = "as_kept"
    review_below: float | None = Field(default=None, ge=0, le=1)
    """A person looks at values that are less sure than this; None where the lane says how sure."""

    @property
    def tied_to(self) -> set[str]:
        """The landmarks that its rules measure from."""
        held = {key for finder in self.finders for key in finder.landmarks}
        return held | set(self.within.landmarks if self.within else ())


class DocumentType(BaseModel):
    """How one type of document is read."""

    model_config = ConfigDict(frozen=True)

    format: Literal["zestpail document type 2"] = "zestpail document type 2"
    key: str = Field(pattern=r"^[a-z][a-z0-9-]*$")
    name: str
    about: str = Field(default="", max_length=400)
    """What papers it is for, in a sentence."""
    revision: int = 1
    fields: tuple[FieldRule, ...]
    landmarks: tuple[AnyLandmark, ...] = ()
    other_labels: tuple[str, ...] = ()
    """Labels that belong to no field; what stands beside them is theirs."""
    other_meanings: tuple[str, ...] = ()
    """Meanings whose usual words belong to no field either."""
    checks: tuple[AnyCheck, ...] = ()
    tables: tuple[Table, ...] = ()
    learned: Learned | None = None
    """What its samples taught."""

    @model_validator(mode="before")
    @classmethod
    def _of_today(cls, body: Any) -> Any:
        """Types that were written in format 1 are read as if they had been written today."""
        return upgraded(body) if isinstance(body, Mapping) and body.get("format") == FORMAT_1 else body

    @model_validator(mode="after")
    def _consistent(self) -> DocumentType:
        keys = [field.key for field in self.fields]
        if len(set(keys)) != len(keys):
            raise ValueError("two fields have the same key")
        unknown = {key for check in self.checks for key in check.touches} - set(keys)
        if unknown:
            raise ValueError(f"checks speak of fields that are not there: {', '.join(sorted(unknown))}")
        self._tables_consistent(set(keys))
        kinds, names = {field.key: field.kind.kind for field in self.fields}, self.names
        for field in self.fields:
            for finder in field.finders:
                _within_reach(field, finder.needs(field.key), kinds, names)
        self.in_order()
        marks = [landmark.key for landmark in self.landmarks]
        if len(set(marks)) != len(marks):
            raise ValueError("two landmarks have the same key")
        tied = {key for field in self.fields for key in field.tied_to} - set(marks)
        if tied:
            raise ValueError(f"rules speak of landmarks that are not there: {', '.join(sorted(tied))}")
        return self

    def _tables_consistent(self, fields: set[str]) -> None:
        tables = [table.key for table in self.tables]
        if len(set(tables)) != len(tables) or fields & set(tables):
            raise ValueError("two tables, or a table and a field, have the same key")
        there = {(table.key, column.key) for table in self.tables for column in table.columns}
        for check in self.checks:
            unknown = [f"{table}.{column}" for table, column in check.columns if (table, column) not in there]
            if unknown:
                raise ValueError(f"checks speak of columns that are not there: {', '.join(unknown)}")
        ends = {table.ends_at for table in self.tables if table.ends_at} - {mark.key for mark in self.landmarks}
        if ends:
            raise ValueError(f"tables end at landmarks that are not there: {', '.join(sorted(ends))}")

    def in_order(self) -> tuple[FieldRule, ...]:
        """The fields, each after those that it is computed from. Raises ValueError where they go in a circle."""
        at = {field.key: number for number, field in enumerate(self.fields)}
        needs = {
            field.key: {key for f in field.finders if f.stage == "choice" for key in f.needs(field.key)}
            for field in self.fields
        }
        sorter = TopologicalSorter(needs)
        try:
            sorter.prepare()
        except CycleError as circle:
            raise ValueError(f"computed fields go by each other in a circle: {', '.join(circle.args[1])}") from circle
        ordered: list[str] = []
        while sorter.is_active():
            ready = sorted(sorter.get_ready(), key=at.__getitem__)
            sorter.done(*ready)
            ordered += ready
        return tuple(self.fields[at[key]] for key in ordered)

    def required(self, there: Collection[str] = ()) -> set[str]:
        """The fields that must have a value, where those in ``there`` have one."""
        return {key for check in self.checks for key in check.requires(there)}

    def check(self, check_id: str) -> AnyCheck | None:
        """The check of that code, if the type has it."""
        return next((check for check in self.checks if check.id == check_id), None)

    @property
    def labels(self) -> tuple[Label, ...]:
        """All wordings of all fields, and those of none."""
        said_by = (self.fields, self.other_labels, self.other_meanings)
        for known, labels in tuple(_WORDED):
            if all(one is other for one, other in zip(known, said_by, strict=True)):
                return labels
        own = [label for field in self.fields for finder in field.finders for label in finder.wordings(field.key)]
        others = (*(Label(text, None) for text in self.other_labels), *usual_labels(self.other_meanings, None))
        _WORDED.append((said_by, tuple(dict.fromkeys((*own, *others)))))
        return _WORDED[-1][1]

    @property
    def names(self) -> dict[str, str]:
        return {field.key: field.name for field in self.fields}

    @property
    def all_names(self) -> dict[str, str]:
        """Fields, tables and columns (“table.column”) by their keys."""
        columns = {f"{table.key}.{key}": name for table in self.tables for key, name in table.names.items()}
        return self.names | {table.key: table.name for table in self.tables} | columns

    def table(self, key: str) -> Table:
        """The table of that key. Raises KeyError."""
        return next((t for t in self.tables if t.key == key), None) or _no_table(self.name, key)

    def field(self, key: str) -> FieldRule:
        """The field of that key. Raises KeyError."""
        return next((f for f in self.fields if f.key == key), None) or _no_field(self.name, key)


def _within_reach(
    field: FieldRule, needs: Mapping[str, str | None], kinds: Mapping[str, str], names: Mapping[str, str]
) -> None:
    for key, kind in needs.items():
        if key not in kinds:
            raise ValueError(f"the rule of {field.name} goes by a field that is not there: {key}")
        if kind and kinds[key] != kind:
            raise ValueError(f"by the rule of {field.name}, {names[key]} must be of the kind {kind}")


def _no_field(name: str, key: str) -> FieldRule:
    raise KeyError(f"{name} has no field {key}")


def _no_table(name: str, key: str) -> Table:
    raise KeyError(f"{name} has no table {key}")
