"""Which column of money is which, where headers do not say: by what multiplies out, and by what is there at all."""

from __future__ import annotations

import re
from collections.abc import Sequence
from decimal import Decimal
from itertools import permutations

from zestpail.core.checks import RowProduct
from zestpail.core.kinds import Amount, Style
from zestpail.core.reading.lines import Line
from zestpail.core.tables.body import value_in
from zestpail.core.tables.found import Row, Strip
from zestpail.core.tables.sum_lines import carried, total
from zestpail.core.tables.table import Table

MOSTLY = 0.7
"""The share of rows that must multiply out for their columns to change places."""
LEAST_ROWS = 2
"""Rows from which positions are known: a single "1" before a text may belong to it."""
COUNTED = 0.8
"""The share of rows whose number is the next one: one or the other is misread."""
_POSITION = re.compile(r"(\d{1,3}|[SBOIlZ])[.)]?\s+(?=\S)")
"""A number before a text, or a letter that a figure is misread as."""


def settled(lines: Sequence[Line], table: Table, strip: Strip, products: Sequence[RowProduct], style: Style) -> Strip:
    """The strip with its columns of money in the places that the rows' own arithmetic gives them."""
    columns = list(strip.columns)
    for check in products:
        factors = [key for key in check.multiply if key in columns]
        money = [key for key in factors if table.column(key).kind.money]
        if check.equals not in columns and money and factors == money:  # a price and nothing to multiply it with
            columns[columns.index(money[0])] = check.equals
        elif len(check.multiply) == 2 and len(factors) == 2:
            columns = _multiplied(_rows_in(lines, strip), columns, check, style)
    return strip if tuple(columns) == strip.columns else strip.model_copy(update={"columns": tuple(columns)})


def _rows_in(lines: Sequence[Line], strip: Strip) -> list[list[str]]:
    """The texts of the lines of a strip by column, without those of sums."""
    bounds = [strip.box.x0, *strip.dividers, strip.box.x1]
    inside = [line for line in lines if line.page == strip.page and strip.box.covers_centre_of(line.box)]
    return [
        [
            " ".join(word.text for word in line.words if bounds[at] <= word.box.cx <= bounds[at + 1])
            for at in range(len(strip.columns))
        ]
        for line in inside
        if any(c.isdigit() for c in line.text) and not (carried(line.text) or total(line.text))
    ]


def _multiplied(rows: Sequence[Sequence[str]], columns: list[str], check: RowProduct, style: Style) -> list[str]:
    """The columns with price and amount where quantity times price is the amount in most rows."""
    quantity, price = check.multiply
    table = [[_number(text, style) for text in row] for row in rows]
    times = columns.index(quantity)
    there = {at for at in range(len(columns)) if at != times and columns[at] in ("", price, check.equals)}

    def right(at: int, product: int) -> float:
        full = [(row[times], row[at], row[product]) for row in table if row[times] and row[at] and row[product]]
        holds = sum(abs(q * p - a) <= check.tolerance for q, p, a in full if q and p and a)
        return holds / len(full) if len(full) >= LEAST_ROWS else 0.0

    now = right(columns.index(price), columns.index(check.equals)) if check.equals in columns else 0.0
    pairs = [(right(at, product), at, product) for at, product in permutations(sorted(there), 2)]
    best = max(pairs, default=(0.0, 0, 0), key=lambda pair: (pair[0], -pair[1], -pair[2]))
    if best[0] < MOSTLY or now >= MOSTLY:
        return columns
    changed = ["" if key in (price, check.equals) else key for key in columns]
    changed[best[1]], changed[best[2]] = price, check.equals
    return changed


def _number(text: str, style: Style) -> Decimal | None:
    value = value_in(Amount(), text, style) if text else None
    return Decimal(value) if value is not None else None


def without_positions(rows: Sequence[Row], table: Table) -> list[Row]:
    """The rows without the numbers that only count them, where nearly each text begins with the next number."""
    text = next((column.key for column in table.columns if column.needed and not column.kind.narrow), None)
    if text is None or len(rows) < LEAST_ROWS or any(text not in row.cells for row in rows):
        return list(rows)
    found = [_POSITION.match(row.cells[text].raw) for row in rows]
    numbers = [int(one[1]) if one and one[1].isdigit() else 0 for one in found]
    counted = sum(number == at for at, number in enumerate(numbers, start=1))
    if counted < max(COUNTED * len(rows), LEAST_ROWS):
        return list(rows)
    return [_shortened(row, text, one.end()) if one else row for row, one in zip(rows, found, strict=True)]


def _shortened(row: Row, key: str, by: int) -> Row:
    cell = row.cells[key]
    value = cell.value[by:] if cell.value else cell.value
    return row.model_copy(
        update={"cells": {**row.cells, key: cell.model_copy(update={"value": value, "raw": cell.raw[by:]})}}
    )
