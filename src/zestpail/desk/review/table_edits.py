"""What a person does to rows on the review desk: every gesture is one change, and can be taken back."""

from __future__ import annotations

from collections.abc import Mapping

from zestpail.core.document_type import DocumentType
from zestpail.core.kinds import Style
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.page import Word
from zestpail.core.reading.read import read_clip
from zestpail.core.tables import Column, Table
from zestpail.core.tables.body import value_in
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_images import page_pixels
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.table_rows import (
    empty_cell,
    plain,
)
from zestpail.desk.review.desk import Change, Seen, changing
from zestpail.store import Store
from zestpail.store.queries.documents import pages_of
from zestpail.store.states import ValueState
from zestpail.store.tables import TableRow

PlainRow = Mapping[str, str | None]
BY_HAND = "set by a person"


def enter_cell(store: Store, seen: Seen, row_id: int, column: str, text: str) -> None:
    """Set a cell by typing; nothing typed empties it. Raises NotDone if it is not of the column's kind."""
    with changing(store, seen, "typed into a row") as change:
        rows, row, table = _row(change, row_id)
        details = _column(table, column)
        entered = details.kind.as_entered(text, change.typed_style) if text.strip() else None
        if text.strip() and entered is None:
            raise NotDone(f"“{text.strip()}” is not {details.kind.words}. Look at the strip, or leave it empty.")
        _put(row, column, entered[0] if entered else None, text.strip())
        _settle(change, table, rows, row)


def take_words_into(store: Store, seen: Seen, row_id: int, column: str, page: int, numbers: list[int]) -> None:
    """Set a cell to words clicked on the page, by their numbers in the page's reading."""
    with changing(store, seen, "taken from the page into a row") as change:
        if not 0 <= page < len(change.pages):
            raise Missing("The document has no such page.")
        words = reading_of(store, change.pages[page]).words
        _take(change, row_id, column, page, [words[n] for n in sorted(set(numbers)) if 0 <= n < len(words)])


def take_box_into(store: Store, seen: Seen, row_id: int, column: str, page: int, box: Box) -> None:
    """Read again what stands in a drawn box, into a cell."""
    with store.transaction() as session:
        pages = pages_of(session, seen.document_id)
    if not 0 <= page < len(pages):
        raise Missing("The document has no such page.")
    words = list(read_clip(*page_pixels(store, pages[page]), box))
    with changing(store, seen, "read from a drawn box into a row") as change:
        if not words:
            raise NotDone("There is nothing to read in that box; draw it round the value.")
        _take(change, row_id, column, page, words)


def accept_row(store: Store, seen: Seen, row_id: int) -> None:
    """The row stands as it is."""
    with changing(store, seen, "accepted a row") as change:
        _, row, _ = _row(change, row_id)
        row.cells = {key: {**cell, "doubtful": False} for key, cell in row.cells.items()}
        row.state = ValueState.SETTLED


def add_row(store: Store, seen: Seen, table: str, after: int | None) -> None:
    """A new row after the given one, or at the end."""
    with changing(store, seen, "added a row") as change:
        found = next((one for one in change.doc_type.tables if one.key == table), None)
        if found is None:
            raise Missing("This document type has no such table.")
        rows = change.rows.of(table)
        at = next((n for n, row in enumerate(rows, start=1) if row.id == after), len(rows))
        cells = {column.key: empty_cell(column.needed) for column in found.columns}
        new = TableRow(document_id=change.document.id or 0, table=table, position=at, cells=cells)
        _number([*rows[:at], new, *rows[at:]])
        change.rows.add(new)


def delete_row(store: Store, seen: Seen, row_id: int) -> None:
    """Take a row out."""
    with changing(store, seen, "deleted a row") as change:
        rows, row, table = _row(change, row_id)
        left = [other for other in rows if other is not row]
        _number(left)
        change.rows.remove(row)
        _settle(change, table, left, None)


def split_row(store: Store, seen: Seen, row_id: int) -> None:
    """Two rows of one: the first line of every cell stays, the other lines go into a new row. Raises NotDone."""
    with changing(store, seen, "split a row") as change:
        rows, row, table = _row(change, row_id)
        parted = {key: cell["raw"].split("\n") for key, cell in row.cells.items()}
        if all(len(lines) < 2 for lines in parted.values()):
            raise NotDone("Every cell of this row has one line only; there is nothing to split.")
        new = TableRow(document_id=row.document_id, table=row.table, position=0, page=row.page, box=row.box, cells={})
        for key, lines in parted.items():
            column = _column(table, key)
            _put(new, key, _read(column, lines[1:], change.style), "\n".join(lines[1:]))
            _put(row, key, _read(column, lines[:1], change.style), lines[0])
        at = rows.index(row) + 1
        _number([*rows[:at], new, *rows[at:]])
        change.rows.add(new)
        _settle(change, table, [*rows[:at], new, *rows[at:]], row)
        _judge_cells(new, table)


def join_rows(store: Store, seen: Seen, row_id: int) -> None:
    """One row of this one and the next. Raises NotDone at the last row."""
    with changing(store, seen, "joined two rows") as change:
        rows, row, table = _row(change, row_id)
        at = rows.index(row) + 1
        if at == len(rows):
            raise NotDone("There is no row after this one to join it with.")
        other = rows[at]
        for key in {**row.cells, **other.cells}:
            lines = [cell["raw"] for cell in (row.cells.get(key), other.cells.get(key)) if cell and cell["raw"]]
            column = _column(table, key)
            text = lines if column.kind.block or not lines else [lines[0]] if len(lines) == 1 else [" ".join(lines)]
            _put(row, key, _read(column, text, change.style), "\n".join(text))
        if row.box and other.box and row.page == other.page:
            row.box = list(around([Box(*row.box), Box(*other.box)]))
        left = [one for one in rows if one is not other]
        _number(left)
        change.rows.remove(other)
        _settle(change, table, left, row)


def move_cell(store: Store, seen: Seen, row_id: int, column: str, by: int) -> None:
    """Move what stands in a cell to the column beside it; what is there trades places. Raises NotDone at the edge."""
    with changing(store, seen, "moved a cell") as change:
        rows, row, table = _row(change, row_id)
        keys = [one.key for one in table.columns]
        at = keys.index(_column(table, column).key) + by
        if not 0 <= at < len(keys):
            raise NotDone("There is no column beside it on that side.")
        here, there = row.cells.get(column, empty_cell()), row.cells.get(keys[at], empty_cell())
        for key, cell in ((keys[at], here), (column, there)):
            _put(row, key, _read(_column(table, key), cell["raw"].split("\n"), change.style), cell["raw"])
        _settle(change, table, rows, row)


def fill_down(store: Store, seen: Seen, row_id: int, column: str) -> None:
    """Copy a cell into the empty cells under it, down to the next that holds something. Raises NotDone."""
    with changing(store, seen, "filled down") as change:
        rows, row, table = _row(change, row_id)
        cell = row.cells.get(column)
        if not cell or not cell["value"]:
            raise NotDone("There is nothing in this cell to fill down.")
        filled = 0
        for under in rows[rows.index(row) + 1 :]:
            if (under.cells.get(column) or {}).get("value"):
                break
            _put(under, column, cell["value"], cell["raw"])
            _judge_cells(under, table)
            filled += 1
        if not filled:
            raise NotDone("The cell under it holds something already.")
        _settle(change, table, rows, None)


def row_problem(doc_type: DocumentType, table: str, before: PlainRow | None, row: PlainRow) -> str:
    """What the checks of its table find wrong with a row, in a few words; "" for nothing."""
    about = (check for check in doc_type.checks if any(key == table for key, _ in check.columns))
    names = doc_type.all_names
    return next((problem for check in about if (problem := check.row_problem(before, row, names))), "")


def _row(change: Change, row_id: int) -> tuple[list[TableRow], TableRow, Table]:
    all_rows = change.rows.all()
    row = next((one for one in all_rows if one.id == row_id), None)
    if row is None:
        raise Missing("There is no such row any more.")
    return [one for one in all_rows if one.table == row.table], row, change.doc_type.table(row.table)


def _column(table: Table, key: str) -> Column:
    try:
        return table.column(key)
    except KeyError as problem:
        raise Missing("This table has no such column.") from problem


def _take(change: Change, row_id: int, key: str, page: int, words: list[Word]) -> None:
    rows, row, table = _row(change, row_id)
    column = _column(table, key)
    if not words:
        raise NotDone("Select a word first.")
    text = " ".join(word.text for word in words)
    value = _read(column, [text], change.style)
    if value is None:
        raise NotDone(f"“{text[:60]}” is not {column.kind.words}.")
    box = around(word.box for word in words)
    _put(row, key, value, text, page, box)
    if row.page is None:
        row.page, row.box = page, list(box)
    _settle(change, table, rows, row)


def _read(column: Column, lines: list[str], style: Style) -> str | None:
    text = "\n".join(lines).strip()
    if not text:
        return None
    return column.kind.parse(text, style) if column.kind.block else value_in(column.kind, " ".join(text.split()), style)


def _put(row: TableRow, key: str, value: str | None, raw: str, page: int | None = None, box: Box | None = None) -> None:
    before = row.cells.get(key, empty_cell())
    placed = {"page": page, "box": list(box)} if box else {"page": before["page"], "box": before["box"]}
    cell = {"value": value, "raw": raw.replace("\0", ""), "confidence": 1.0, "reason": BY_HAND, "doubtful": False}
    row.cells = {**row.cells, key: {**cell, **placed}}


def _number(rows: list[TableRow]) -> None:
    for at, row in enumerate(rows):
        row.position = at


def _judge_cells(row: TableRow, table: Table) -> None:
    """A row is doubtful as long as one of its cells is, or one is lacking that must be there."""
    lacking = [c.key for c in table.columns if c.needed and not (row.cells.get(c.key) or {}).get("value")]
    row.cells = {**row.cells, **{key: {**row.cells.get(key, empty_cell()), "doubtful": True} for key in lacking}}
    doubtful = any(cell["doubtful"] for cell in row.cells.values())
    row.state = ValueState.DOUBTFUL if doubtful else ValueState.SETTLED


def _settle(change: Change, table: Table, rows: list[TableRow], touched: TableRow | None) -> None:
    """Judge the row that was touched anew; rows that only arithmetic spoke against are settled where it holds now."""
    if touched is not None:
        _judge_cells(touched, table)
    values = plain(change.doc_type, rows)[table.key]
    for at, row in enumerate(rows):
        if row is not touched and row.state == ValueState.SETTLED:
            continue
        wrong = row_problem(change.doc_type, table.key, values[at - 1] if at else None, values[at])
        doubtful = any(cell["doubtful"] for cell in row.cells.values())
        if wrong and row is touched:
            row.state = ValueState.DOUBTFUL
        elif not wrong and not doubtful and row.state == ValueState.DOUBTFUL:
            row.state = ValueState.SETTLED
