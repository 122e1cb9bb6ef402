"""A list that grows as a destination: a row of each document, or of each row of a table, in a shared spreadsheet."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from pathlib import PurePosixPath
from typing import ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.writing.growing_sheets import Cell, CellKind, headings_of, put_rows
from zestpail.delivery.columns import Column, ColumnKind, Columns
from zestpail.delivery.destination import Asked, Outgoing, Outlets, Plan, Receipt, Refused
from zestpail.delivery.filing import of_kind
from zestpail.delivery.mapped import MappedDestination


class ListColumn(BaseModel):
    """A heading, and the kind of what stands under it."""

    model_config = ConfigDict(frozen=True)

    heading: str
    kind: CellKind


class SheetPlan(Plan):
    """The rows of one document."""

    destination: Literal["sheet"] = "sheet"
    folder: str
    file: str
    columns: tuple[ListColumn, ...]
    rows: tuple[tuple[Cell, ...], ...]

    @property
    def can_be_recalled(self) -> bool:
        return True

    @property
    def told(self) -> str:
        headings = [column.heading for column in self.columns]
        rows = [[f"{heading}: {cell}" for heading, cell in zip(headings, row, strict=True)] for row in self.rows]
        return f"{self.folder}/{self.file}\n\n" + "\n\n".join("\n".join(row) for row in rows)

    def recall(self, outlets: Outlets) -> tuple[str, ...]:
        """The rows with its reference."""
        files = outlets.folder(self.folder)
        if not files.holds(PurePosixPath(self.file)):
            return ()
        return (f"{self.folder}/{self.file}",) if self.put(outlets, ()) else ()

    def put(self, outlets: Outlets, rows: Sequence[Sequence[Cell]]) -> bool:
        """These rows instead of those that it has there; returns whether that changed the file. Raises Refused."""
        headings = [(column.heading, column.kind) for column in self.columns]
        name = PurePosixPath(self.file)

        def changed(before: bytes) -> bytes:
            return put_rows(self.file, before, headings, self.reference, rows)

        return outlets.folder(self.folder).rewrite(name, changed)


class SheetDestination(MappedDestination):
    """A spreadsheet in a folder; it is begun where it is not there."""

    title: ClassVar[str] = "into a list"
    kind: ClassVar[str] = "List that grows"
    about: ClassVar[str] = "a row of each document in a spreadsheet (XLSX, ODS or CSV)"
    asks: ClassVar[tuple[Asked, ...]] = (
        Asked("folder", "Folder", "lists"),
        Asked("file", "File", "balances.ods"),
        Asked("each_row_of", "A row of", needed=False, of_tables=True),
    )
    destination: Literal["sheet"] = "sheet"
    folder: str = Field(min_length=1)
    file: str = Field(min_length=5, max_length=120, pattern=r"^[^/\\\x00-\x1f.][^/\\\x00-\x1f]*\.(xlsx|ods|csv)$")

    columns_can_be_named: ClassVar[bool] = True

    def new_column(self, name: str, kind: ColumnKind) -> Column:
        """Its key has no / in it, which would mean a list over there."""
        return Column(key=name.replace("/", "|"), name=name, kind=kind)

    @property
    def called(self) -> str:
        return self.name or self.file

    @property
    def shown(self) -> str:
        return f"into the list {self.called}"

    @property
    def can_be_tried(self) -> bool:
        return True

    def plan(
        self,
        document: Outgoing,
        is_taken: Callable[[str, PurePosixPath], bool],  # noqa: ARG002 - rows have no names
        outlets: Outlets,  # noqa: ARG002
    ) -> SheetPlan:
        """Raises Refused where a column that must be filled is empty, or a value does not fit."""
        tied = {tie.column for tie in self.ties.ties}
        columns = [column for column in self.columns.plain if column.key in tied]
        if not columns:
            raise Refused(f"No column of the list {self.called} is tied to anything.")
        kinds: dict[str, CellKind] = {"number": "number", "date": "date"}
        records = self.records_of(document)
        return SheetPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, folder=self.folder,
            file=self.file,
            columns=tuple(ListColumn(heading=one.name, kind=kinds.get(one.kind, "text")) for one in columns),
            rows=tuple(tuple(record.get(column.key) for column in columns) for record in records),
        )  # fmt: skip

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        there = of_kind(plan, SheetPlan)
        there.put(outlets, there.rows)
        data = repr(there.rows).encode("utf-8", "replace")
        return Receipt(
            reference=there.reference, version=there.version, bytes=len(data), sha256=hashlib.sha256(data).hexdigest(),
            rows=(f"{there.folder}/{there.file}",), records=len(there.rows),
        )  # fmt: skip

    def asked_columns(self, outlets: Outlets) -> Columns:
        """The headings of the file, with those that were named here."""
        try:
            headings = headings_of(self.file, outlets.folder(self.folder).read(PurePosixPath(self.file)))
        except ValueError as problem:
            raise Refused(str(problem)) from problem
        found = {one.key: one for one in (self.new_column(text, kind) for text, kind in headings)}
        return Columns(plain=(*found.values(), *(one for one in self.columns.plain if one.key not in found)))
