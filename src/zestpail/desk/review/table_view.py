"""The table drawer: a window on the rows of a table, each with the strip of the page that it was read from."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Literal

from sqlmodel import Session

from zestpail.core.checks import DocumentValues
from zestpail.core.checks.over_rows import number
from zestpail.core.document_type import DocumentType
from zestpail.core.reading.geometry import Box
from zestpail.core.tables import ExtractedTable, Table
from zestpail.core.tables.found import Strip
from zestpail.desk.documents.entries import entries_meant
from zestpail.desk.documents.stored_lists import lists_within
from zestpail.desk.documents.table_dividers import Divider, dividers_of
from zestpail.desk.documents.table_rows import plain
from zestpail.desk.review.table_edits import row_problem
from zestpail.store.states import ValueState
from zestpail.store.tables import TableRow

CENTS = Decimal("0.02")
"""How far rounding may take a sum from what it should make."""
WINDOW = 40
"""Rows that are shown at once."""


@dataclass(frozen=True)
class CellView:
    key: str
    name: str
    shown: str
    doubtful: bool
    figures: bool
    page: int | None
    box: Box | None
    reason: str


@dataclass(frozen=True)
class LineView:
    id: int
    number: int
    state: Literal["settled", "doubtful", "fails"]
    why: str
    page: int | None
    box: Box | None
    strip: Box | None
    cells: list[CellView]


@dataclass(frozen=True)
class ColumnView:
    """A column; ``share`` is its part of the strip's width, in [0, 1], where the page has the columns in this order."""

    key: str
    name: str
    figures: bool
    share: float


@dataclass(frozen=True)
class TableView:
    """One table with a window on its rows."""

    key: str
    name: str
    columns: list[ColumnView]
    lines: list[LineView]
    first: int
    total: int
    open_rows: list[int]
    """Numbers of the rows that need a person."""
    sums: list[str]
    rows_begin: str
    left_out: list[str]
    dividers: list[Divider]

    @property
    def last(self) -> int:
        return self.first + len(self.lines) - 1

    @property
    def next_first(self) -> int | None:
        return self.first + WINDOW if self.first + WINDOW <= self.total else None

    @property
    def earlier_first(self) -> int | None:
        return max(self.first - WINDOW, 1) if self.first > 1 else None


def table_views(
    doc_type: DocumentType,
    rows: Sequence[TableRow],
    about: Mapping[str, ExtractedTable],
    values: dict[str, str | None],
    widths: Sequence[float],
    window: tuple[str, int],
    told: Mapping[str, Mapping[int, str]],
) -> list[TableView]:
    """All tables of a document; of the one that ``window`` names, from that row on (counted from 1).

    ``told`` is what :func:`rows_told` says.
    """
    return [
        _view(doc_type, table, [row for row in rows if row.table == table.key], about.get(table.key), values, widths,
              window[1] if window[0] == table.key else 1, told.get(table.key, {}))
        for table in doc_type.tables
    ]  # fmt: skip


def rows_told(
    session: Session, document_id: int, doc_type: DocumentType, failed: Collection[str], rows: Sequence[TableRow]
) -> dict[str, Mapping[int, str]]:
    """By table, what failed checks say of its rows for what stands outside of them, such as an order."""
    checks = [check for check in doc_type.checks if check.id in failed and check.columns]
    if not checks:
        return {}
    lists = lists_within(session)
    entries = entries_meant(session, document_id, lists)
    document = DocumentValues({}, doc_type.all_names, plain(doc_type, rows), lists=lists, entries=entries)
    return {check.columns[0][0]: told for check in checks if (told := check.rows_told(document))}


def _view(
    doc_type: DocumentType, table: Table, rows: list[TableRow], about: ExtractedTable | None,
    values: dict[str, str | None], widths: Sequence[float], first: int, told: Mapping[int, str],
) -> TableView:  # fmt: skip
    worth = plain(doc_type, rows)[table.key]
    first = min(max(first, 1), max(len(rows), 1))
    strips = about.strips if about else ()
    shown = range(first - 1, min(first - 1 + WINDOW, len(rows)))
    return TableView(
        key=table.key,
        name=table.name,
        columns=_columns(table, strips),
        lines=[
            _line(
                table,
                rows[at],
                at + 1,
                row_problem(doc_type, table.key, worth[at - 1] if at else None, worth[at]),
                told.get(at + 1, ""),
                widths,
                strips,
            )
            for at in shown
        ],
        first=first,
        total=len(rows),
        open_rows=[at for at, row in enumerate(rows, start=1) if row.state == ValueState.DOUBTFUL],
        sums=list(_sums(doc_type, table, worth, values)),
        rows_begin=about.rows_begin if about else "",
        left_out=[f"{line.text}: {line.why}" for line in about.left_out] if about else [],
        dividers=dividers_of(table, strips, [(row.page, row.box[3]) for row in rows if row.page is not None]),
    )


def _columns(table: Table, strips: Sequence[Strip]) -> list[ColumnView]:
    """The columns, as wide as they are on the first page if they stand there in the table's own order."""
    shares: dict[str, float] = {}
    if strips:
        strip = strips[0]
        bounds = [strip.box.x0, *strip.dividers, strip.box.x1]
        wide = {key: bounds[at + 1] - bounds[at] for at, key in enumerate(strip.columns) if key}
        if list(wide) == [c.key for c in table.columns if c.key in wide]:
            shares = {key: width / strip.box.width for key, width in wide.items()}
    return [ColumnView(c.key, c.name, c.kind.numeric, shares.get(c.key, 0.0)) for c in table.columns]


def _line(
    table: Table, row: TableRow, at: int, wrong: str, told: str, widths: Sequence[float], strips: Sequence[Strip]
) -> LineView:
    open_ = row.state == ValueState.DOUBTFUL
    box, strip = Box(*row.box) if row.box else None, None
    if box and row.page is not None:
        on_page = next((one.box for one in strips if one.page == row.page), None)
        x0, x1 = (on_page.x0, on_page.x1) if on_page else (0.0, widths[row.page])
        strip = Box(x0, box.y0 - 2.5, min(x1, widths[row.page]), box.y1 + 2.5)
    return LineView(
        id=row.id or 0,
        number=at,
        state="fails" if told or (open_ and wrong) else "doubtful" if open_ else "settled",
        why=" ".join(one for one in (wrong if open_ else "", told) if one),
        page=row.page,
        box=box,
        strip=strip,
        cells=[_cell(table, row, column.key) for column in table.columns],
    )


def _cell(table: Table, row: TableRow, key: str) -> CellView:
    column, cell = table.column(key), row.cells.get(key)
    value = cell["value"] if cell else None
    unread = cell["raw"].replace("\n", " / ") if cell and value is None else ""
    return CellView(
        key=key,
        name=column.name,
        shown=column.kind.show(value) if value else unread,
        doubtful=bool(cell and cell["doubtful"]),
        figures=column.kind.numeric,
        page=cell["page"] if cell else None,
        box=Box(*cell["box"]) if cell and cell["box"] else None,
        reason=cell["reason"] if cell else "",
    )


def _sums(
    doc_type: DocumentType, table: Table, rows: list[dict[str, str | None]], values: dict[str, str | None]
) -> Any:
    """The sum of each column of money, and how it stands to the field that it should make."""
    for column in table.columns:
        cells = [number(row.get(column.key)) for row in rows]
        if not column.kind.money or not rows or all(cell is None for cell in cells):
            continue
        totals = [check for check in doc_type.checks if check.column_total and check.column_total[0] == column.key]
        if not totals or totals[0].column_total is None:
            continue
        equals = totals[0].column_total[1]
        total = sum((cell for cell in cells if cell is not None), Decimal(0))
        stated = number(values.get(equals))
        name = doc_type.names[equals].lower()
        if stated is None:
            yield f"{column.name} makes {total:,.2f}"
        elif abs(total - stated) <= CENTS:
            yield f"{column.name} adds up to {name}, {total:,.2f}"
        else:
            apart = f"{abs(stated - total):,.2f} {'less' if total < stated else 'more'}"
            yield f"{column.name} makes {total:,.2f}, {apart} than {name}"
