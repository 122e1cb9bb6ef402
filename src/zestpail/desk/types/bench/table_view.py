"""A table as the bench shows it: its card, its settings, and its rows on the sample in the middle."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from zestpail.core.evaluation.proof import Outcome, Proven
from zestpail.core.reading.geometry import Box
from zestpail.core.tables import ExtractedTable, Grid, Row, Table
from zestpail.desk.documents.table_dividers import Divider, dividers_of
from zestpail.desk.types.bench.tables import TableForm, offered_grids

SHOWN = 60
"""Rows that are shown at once."""


@dataclass(frozen=True)
class RowLine:
    number: int
    state: str
    page: int
    box: Box
    cells: list[tuple[str, bool, str]]
    """What is shown, whether it is of figures, and why it is not as read."""


@dataclass(frozen=True)
class TableCard:
    key: str
    name: str
    message: str
    outcome: Outcome
    sentence: str
    rows_begin: str
    shown_by_hand: bool
    header: str
    """What was taken for its header on this sample."""
    page: int | None
    box: Box | None
    headings: list[tuple[str, bool]]
    rows: list[RowLine]
    total: int
    left_out: list[str]
    dividers: list[Divider]
    form: TableForm
    filled: dict[str, int]
    """By column, in how many rows of all samples it holds a value."""
    samples: int
    moved_in_review: list[str]
    """Header lines of the layouts whose dividers were moved in review and could be taken over."""


def table_card(
    table: Table, extracted: ExtractedTable, proven: Proven, everywhere: Sequence[ExtractedTable],
    moved_in_review: Iterable[Grid],
) -> TableCard:  # fmt: skip
    """The table with what it finds on a sample, and how much it finds ``everywhere``, on all samples."""
    first = extracted.strips[0] if extracted.strips else None
    return TableCard(
        key=table.key,
        name=table.name,
        message=proven.found.raw,
        outcome=proven.outcome,
        sentence=table.sentence,
        rows_begin=extracted.rows_begin,
        shown_by_hand=table.rows_begin is not None,
        header=first.header if first else "",
        page=first.page if first else None,
        box=_area(extracted) if first else None,
        headings=[(column.name, column.kind.numeric) for column in table.columns],
        rows=[_line(table, row, at) for at, row in enumerate(extracted.rows[:SHOWN], start=1)],
        total=len(extracted.rows),
        left_out=[f"{line.text}: {line.why}" for line in extracted.left_out],
        dividers=dividers_of(table, extracted.strips, [(row.page, row.box.y1) for row in extracted.rows]),
        form=_form(table),
        filled={
            column.key: sum(row.value(column.key) is not None for found in everywhere for row in found.rows)
            for column in table.columns
        },
        samples=len(everywhere),
        moved_in_review=[grid.header for grid in offered_grids(table, moved_in_review)],
    )


def _area(extracted: ExtractedTable) -> Box:
    """The table on its first page, from its header to its last row."""
    strip = extracted.strips[0]
    foot = max((row.box.y1 for row in extracted.rows if row.page == strip.page), default=strip.box.y0 + 20)
    return Box(strip.box.x0, strip.box.y0 - 12, strip.box.x1, foot + 3)


def _line(table: Table, row: Row, at: int) -> RowLine:
    cells = []
    for column in table.columns:
        cell = row.cells.get(column.key)
        value = cell.value if cell else None
        unread = cell.raw.replace("\n", " / ") if cell and value is None else ""
        shown = column.kind.show(value) if value else f"? {unread}" if unread else ""
        cells.append((shown, column.kind.numeric, cell.reason if cell else ""))
    state = {True: "settled", False: "fails", None: "none"}[row.proven]
    return RowLine(at, state, row.page, row.box, cells)


def _form(table: Table) -> TableForm:
    return TableForm(
        name=table.name,
        ends_at=table.ends_at,
        ends_at_words="\n".join(table.ends_at_words),
        ends_after_gap=table.ends_after_gap,
        leave_out="\n".join(table.leave_out),
        column=[column.key for column in table.columns],
        called=[column.name for column in table.columns],
        kind=[column.kind.kind for column in table.columns],
        headers=[" | ".join(column.headers) for column in table.columns],
        of=[column.of for column in table.columns],
        part=[column.part for column in table.columns],
        decimals=[column.decimals for column in table.columns],
        needed=[column.key for column in table.columns if column.needed],
    )
