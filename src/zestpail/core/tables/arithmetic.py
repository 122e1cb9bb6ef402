"""Arithmetic over rows, used to judge what was read and to repair it.

A quantity that was not read is the amount by the price; a figure that was misread is the one that OCR was torn about
and that makes the row come out. What is put right says so, and what comes out is proven.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from decimal import Decimal
from math import prod

from zestpail.core.checks.over_rows import RowProduct, RunningBalance, number
from zestpail.core.kinds import Style
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import PageReading, Symbol
from zestpail.core.tables.body import value_in
from zestpail.core.tables.found import Cell, ExtractedTable, Row
from zestpail.core.tables.sum_lines import opening
from zestpail.core.tables.table import Table

PROVEN, REPAIRED = 0.99, 0.9
"""How sure a cell is that arithmetic proves, and one that it mends."""
UNPROVEN = 0.55
"""What is left of the confidence of a cell in a row whose arithmetic fails."""
LEAST_SHARE = 0.05
"""Alternatives of a character with a smaller share than this are not tried."""


def reckoned(
    found: ExtractedTable, table: Table, checks: Iterable[object], pages: Sequence[PageReading], style: Style
) -> ExtractedTable:
    """The table with its rows judged and, where one value is plainly wrong or missing, put right."""
    rows = list(found.rows)
    for check in checks:
        if isinstance(check, RowProduct) and check.table == table.key:
            rows = [_multiplied(row, table, check, pages, style) for row in rows]
        elif isinstance(check, RunningBalance) and check.table == table.key:
            rows = _balanced(rows, found, table, check, pages, style)
    return found.model_copy(update={"rows": tuple(rows)})


def _multiplied(row: Row, table: Table, check: RowProduct, pages: Sequence[PageReading], style: Style) -> Row:
    if check.holds(_plain(row)):
        return _proven(row, (*check.multiply, check.equals))
    for mended in (*_worked_out(row, check), *_respelled(row, table, (*check.multiply, check.equals), pages, style)):
        if check.holds(_plain(mended)):
            instead = _instead_of_print(row, mended, pages)
            return _doubting(mended, instead) if instead else mended.model_copy(update={"proven": True})
    if check.holds(_plain(row)) is None:
        return row
    return _doubted(row, (*check.multiply, check.equals))


def _instead_of_print(row: Row, mended: Row, pages: Sequence[PageReading]) -> list[str]:
    """The columns in which figures that stand there for certain were replaced: a page with text of its own tells."""
    exact = row.page < len(pages) and pages[row.page].source == "text_layer"
    before = {key: cell for key, cell in row.cells.items() if any(c.isdigit() for c in cell.raw)}
    changed = [key for key, cell in before.items() if mended.cells[key].value != cell.value]
    return [key for key in changed if exact or before[key].value is None]


def _doubting(row: Row, keys: Iterable[str]) -> Row:
    doubted = {key: row.cells[key].model_copy(update={"confidence": UNPROVEN}) for key in keys}
    return row.model_copy(update={"cells": {**row.cells, **doubted}, "proven": None})


def _worked_out(row: Row, check: RowProduct) -> Iterator[Row]:
    """The row with its one missing factor, if that comes out as a short number."""
    values = _plain(row)
    missing = [key for key in check.multiply if number(values.get(key)) is None]
    stated = number(values.get(check.equals))
    if stated is None and not missing:
        product = prod(Decimal(values[key] or 0) for key in check.multiply)
        yield _with(row, check.equals, f"{product:.2f}", "calculated from the rest of the row")
    if len(check.multiply) != 2 or stated is None:
        return
    if len(missing) == 1:
        other = number(values.get(next(key for key in check.multiply if key not in missing)))
        if other:
            factor = stated / other
            if factor == factor.quantize(Decimal("0.01")):
                yield _with(row, missing[0], f"{factor.normalize():f}", "calculated from the rest of the row")
    first, second = check.multiply
    if number(values.get(first)) is None and second in row.cells:
        yield from _torn(row, first, second)


def _torn(row: Row, first: str, second: str) -> Iterator[Row]:
    """A quantity that was read into the price beside it: 13,200.00 for 1 and 3,200.00."""
    figures = (row.value(second) or "").partition(".")
    for at in range(1, len(figures[0])):
        parted = _with(row, second, f"{figures[0][at:]}.{figures[2]}", "parted from the figure before it")
        yield _with(parted, first, figures[0][:at], "parted from the figure after it")


def _balanced(
    rows: Sequence[Row],
    found: ExtractedTable,
    table: Table,
    check: RunningBalance,
    pages: Sequence[PageReading],
    style: Style,
) -> list[Row]:
    """Each row judged by the balance before and the one after it."""
    done: list[Row] = []
    last = _opening_balance(found, check, table, style)
    for row in rows:
        now, change = number(row.value(check.balance)), check.change(_plain(row))
        if last is None:
            done.append(row)
        elif now is not None and change is not None and abs(last + change - now) <= check.tolerance:
            done.append(_proven(row, tuple(key for key in (check.balance, check.add, check.subtract) if key)))
        else:
            done.append(_mended(row, last, table, check, pages, style))
        last = number(done[-1].value(check.balance))
    return done


def _mended(
    row: Row, last: Decimal, table: Table, check: RunningBalance, pages: Sequence[PageReading], style: Style
) -> Row:
    """The row with what makes its balance follow: another spelling, else a missing value worked out."""
    keys = tuple(key for key in (check.balance, check.add, check.subtract) if key)
    before = {check.balance: f"{last:f}"}
    for mended in _respelled(row, table, keys, pages, style):
        if check.holds(before, _plain(mended)):
            return mended.model_copy(update={"proven": True})
    now, change = number(row.value(check.balance)), check.change(_plain(row))
    if now is None and change is not None:
        return _with(row, check.balance, f"{last + change:.2f}", "calculated from the balance before")
    if now is not None and change is None and now != last:
        side = check.add if now > last else check.subtract
        if side:
            return _with(row, side, f"{abs(now - last):.2f}", "calculated from the balances")
    return _doubted(row, keys) if now is not None and change is not None else row


def _opening_balance(found: ExtractedTable, check: RunningBalance, table: Table, style: Style) -> Decimal | None:
    """The balance that the first row goes on from: of a line that brings it forward."""
    first = next((line for line in found.left_out if opening(line.text)), None)
    if first is None:
        return None
    kind = table.column(check.balance).kind
    texts = first.text.split()
    return next((number(v) for text in reversed(texts) if (v := value_in(kind, text, style)) is not None), None)


def _respelled(
    row: Row, table: Table, keys: Iterable[str], pages: Sequence[PageReading], style: Style
) -> Iterator[Row]:
    """The row with one unsure character of one of its values replaced by another that OCR thought of."""
    for key in keys:
        cell = row.cells.get(key)
        if cell is None or cell.box is None or cell.page is None:
            continue
        symbols = _symbols(pages[cell.page], cell.box)
        texts = [symbol.text for symbol in symbols]
        swaps = ((at, other) for at, s in enumerate(symbols) for other, share in s.alternatives if share >= LEAST_SHARE)
        for at, other in swaps:
            value = value_in(table.column(key).kind, "".join([*texts[:at], other, *texts[at + 1 :]]), style)
            if value is not None and value != cell.value:
                yield _with(row, key, value, f"“{other}” for “{texts[at]}”, as then the row comes out")


def _symbols(page: PageReading, box: Box) -> list[Symbol]:
    inside = [s for w in page.words for s in w.symbols if box.grown(0.5).covers_centre_of(s.box)]
    return sorted(inside, key=lambda s: s.box.x0)


def _with(row: Row, key: str, value: str, reason: str) -> Row:
    cell = row.cells.get(key, Cell(page=row.page))
    printed = any(c.isdigit() for c in cell.raw) and cell.value is None
    sure = UNPROVEN if printed else REPAIRED  # something stands there that was not understood
    mended = cell.model_copy(update={"value": value, "reason": reason, "confidence": sure})
    return row.model_copy(update={"cells": {**row.cells, key: mended}})


def _proven(row: Row, keys: Iterable[str]) -> Row:
    cells = {
        key: cell.model_copy(update={"confidence": max(cell.confidence, PROVEN)}) if key in keys else cell
        for key, cell in row.cells.items()
    }
    return row.model_copy(update={"cells": cells, "proven": True})


def _doubted(row: Row, keys: Iterable[str]) -> Row:
    cells = {
        key: cell.model_copy(update={"confidence": round(UNPROVEN * cell.confidence, 3)}) if key in keys else cell
        for key, cell in row.cells.items()
    }
    return row.model_copy(update={"cells": cells, "proven": False})


def _plain(row: Row) -> dict[str, str | None]:
    return {key: cell.value for key, cell in row.cells.items()}
