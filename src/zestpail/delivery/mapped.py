"""Destinations that have columns of their own: what of a document goes into them is said by ties."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar, Self

from pydantic import Field

from zestpail.delivery.columns import Column, ColumnKind, Columns
from zestpail.delivery.destination import Destination, Outgoing, Outlets, Refused, Shown
from zestpail.delivery.mapping import Ties, mapped


class MappedDestination(Destination):
    """A place whose columns are tied to our values."""

    name: str = Field(default="", max_length=80)
    """What the other side is called here."""
    columns: Columns = Columns()
    """As the other side described them last."""
    ties: Ties = Ties()
    each_row_of: str = ""
    """The table of which each row is a record of its own; "" where a document is one."""

    columns_can_be_named: ClassVar[bool] = False
    """Whether a person may name columns that are not there yet."""

    def new_column(self, name: str, kind: ColumnKind) -> Column:
        """A column that is not there yet. Raises ValueError for a name that it cannot have."""
        return Column(key=name, name=name, kind=kind)

    @property
    def called(self) -> str:
        """What the other side is called in sentences."""
        return self.name or self.title

    def asked_columns(self, outlets: Outlets) -> Columns:
        """Its columns, asked now. Raises Refused, Later."""
        raise NotImplementedError

    def record_of(self, document: Outgoing) -> dict[str, Any]:
        """What of the document goes into its columns. Raises Refused where the other side could not take it."""
        return self._record(document, {})

    def records_of(self, document: Outgoing) -> list[dict[str, Any]]:
        """The same for each row, where each is a record of its own; else the one record of the document."""
        return [self._record(document, row) for row in self.rows_shown(document)]

    def rows_shown(self, document: Outgoing) -> list[dict[str, str | None]]:
        """The rows of which each is a record, their columns named as ``table/column``; one empty row for a document."""
        if not self.each_row_of:
            return [{}]
        rows = document.rows.get(self.each_row_of, ())
        return [{f"{self.each_row_of}/{key}": value for key, value in row.items()} for row in rows]

    def _record(self, document: Outgoing, row: Mapping[str, str | None]) -> dict[str, Any]:
        made = mapped(self.ties, self.columns, {**self.values_of(document), **row}, document.rows)
        if made.problems:
            raise Refused(" ".join(made.problems))
        return made.record

    def met(self, outlets: Outlets) -> Self:
        return self.model_copy(update={"columns": self.asked_columns(outlets)})

    def shown_of(self, document: Outgoing) -> Shown:
        """The columns that something goes into, what goes into them, and what does not fit."""
        tied = {tie.column for tie in self.ties.ties}
        columns = [one for one in self.columns.plain if one.key in tied]
        rows, problems = list[tuple[str, ...]](), list[str]()
        for row in self.rows_shown(document):
            made = mapped(self.ties, self.columns, {**self.values_of(document), **row}, document.rows)
            rows.append(tuple(str(made.record.get(column.key, "")) for column in columns))
            problems += made.problems
        return Shown(self.shown, (), tuple(one.name for one in columns), tuple(rows), tuple(dict.fromkeys(problems)))

    def values_of(self, document: Outgoing) -> dict[str, str | None]:
        """Everything of the document that can be tied."""
        return {**document.given, **document.values, **document.about}


def about_names() -> dict[str, str]:
    """What can be tied besides fields, and what it is called."""
    return {"document": "Document’s number", "document_type": "Document type", "batch": "Batch", "lane": "Lane"}
