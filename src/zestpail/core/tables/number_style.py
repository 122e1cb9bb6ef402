"""Which mark stands before the decimals in a column: told by all its numbers together, and doubted where nothing tells.

"2.620" is 2620 where points part thousands, and 2.62 where they stand before decimals. A document may write its money
one way and its weights another, so that a column's own numbers count for more than the document's style.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from decimal import Decimal

from zestpail.core.kinds import Style
from zestpail.core.tables.body import value_in
from zestpail.core.tables.found import Cell, Row
from zestpail.core.tables.table import Column, Table

_EITHER = re.compile(r"(?<![\d.,])[1-9]\d{0,2}([.,])\d{3}(?![\d.,])")
"""One mark before three figures: thousands, or decimals."""
_THREE = re.compile(r"\d[.,]\d{3}(?!\d)")
_DECIMALS = re.compile(r"(?<![\d.,])(?:0([.,])\d+|\d+([.,])(?:\d{1,2}|\d{4,})|\d{4,}([.,])\d+)(?![\d.,])")
_THOUSANDS = re.compile(r"(?<![\d.,])\d{1,3}([.,])\d{3}(?:\1\d{3})+(?!\d)")
UNTOLD = 0.5
"""How sure a number is that may be a thousand times another, where nothing tells; below what is settled unseen."""
_MARK = {"point": ".", "comma": ","}


def restyled(rows: Sequence[Row], table: Table, style: Style) -> list[Row]:
    """The rows with the numbers of each column read by the mark that the column itself tells."""
    done = list(rows)
    for column in table.columns:
        if column.kind.numeric and not column.of:
            raws = [row.cells[column.key].raw for row in done if column.key in row.cells]
            mark = _MARK.get(column.decimals) or told_by(raws)
            done = [_read(row, column, style, mark) for row in done]
    return done


def told_by(texts: Sequence[str]) -> str:
    """The mark before decimals that these numbers speak for; empty where they tell nothing or contradict each other."""
    marks = set()
    for text in texts:
        marks |= {mark for found in _DECIMALS.finditer(text) for mark in found.groups() if mark}
        marks |= {"," if found[1] == "." else "." for found in _THOUSANDS.finditer(text)}
    return marks.pop() if len(marks) == 1 else ""


def _read(row: Row, column: Column, style: Style, mark: str) -> Row:
    cell = row.cells.get(column.key)
    if cell is None or not (_THREE if mark else _EITHER).search(cell.raw):
        return row
    fresh = _told(cell, column, style, mark) if mark else _untold(cell, column)
    return row.model_copy(update={"cells": {**row.cells, column.key: fresh}})


def _told(cell: Cell, column: Column, style: Style, mark: str) -> Cell:
    value = _decimal(cell.raw, mark) if not column.kind.money else None
    value = value or value_in(column.kind, cell.raw.replace("\n", " "), style.model_copy(update={"decimal_mark": mark}))
    return cell if value is None else cell.model_copy(update={"value": value})


def _untold(cell: Cell, column: Column) -> Cell:
    """Money without decimals is common; of other numbers nobody knows."""
    other = _decimal(cell.raw, ".") or _decimal(cell.raw, ",")
    if column.kind.money or other is None or other == cell.value:
        return cell
    reason = f"{cell.raw} may be {other} or {cell.value}"
    return cell.model_copy(update={"confidence": min(cell.confidence, UNTOLD), "reason": reason})


def _decimal(text: str, mark: str) -> str | None:
    """The number with three decimals after that mark; None where there is none."""
    found = re.search(rf"(?<![\d.,])(\d{{1,3}}){re.escape(mark)}(\d{{3}})(?![\d.,])", text)
    return f"{Decimal(f'{found[1]}.{found[2]}').normalize():f}" if found else None
