"""From the lines of a row to its cells."""

from __future__ import annotations

import re
from collections.abc import Sequence

from zestpail.core.kinds import Style
from zestpail.core.reading.geometry import around
from zestpail.core.reading.legibility import read_rightly
from zestpail.core.tables.body import BodyLine, value_in
from zestpail.core.tables.found import Cell, Row
from zestpail.core.tables.table import Column, Table

_FIGURES = re.compile(r"[-–]?\d[\d.,'’ ]*")


def row_of(group: Sequence[BodyLine], table: Table, style: Style) -> Row:
    """The row that these lines make."""
    cells: dict[str, Cell] = {}
    for column in table.columns:
        if any(column.key in line.words for line in group):
            cells[column.key] = _cell(group, column, style)
    for column in table.columns:
        if column.of and column.key not in cells and column.of in cells:
            parts = _cut(cells[column.of], column, table.column(column.of), style)
            if parts:
                cells[column.of], cells[column.key] = parts
    return Row(page=group[0].line.page, box=around(line.box for line in group), cells=cells)


def _cell(group: Sequence[BodyLine], column: Column, style: Style) -> Cell:
    lines = [line for line in group if column.key in line.words]
    texts = [text for text in (line.raw(column.key) for line in lines) if any(c.isalnum() for c in text)]
    words = [word for line in lines for word in line.words[column.key]]
    raw = "\n".join(texts)
    return Cell(
        value=_value(column, texts, style),
        raw=raw,
        confidence=round(read_rightly(min(word.confidence for word in words)), 3),
        page=group[0].line.page,
        box=around(word.box for word in words),
    )


def _value(column: Column, texts: Sequence[str], style: Style) -> str | None:
    if column.kind.block:
        return column.kind.joined([text for text in texts if text.strip()]) or None
    whole = value_in(column.kind, " ".join(texts), style)
    if whole is not None or not column.kind.narrow:
        return whole
    return next((value for text in texts if (value := value_in(column.kind, text, style)) is not None), None)


def _cut(whole: Cell, column: Column, of: Column, style: Style) -> tuple[Cell, Cell] | None:
    """What is left of a cell and what another column takes of it; None where there is nothing to take."""
    first, _, others = whole.raw.partition("\n")
    if column.part in ("first_line", "other_lines"):
        taken, left = (first, others) if column.part == "first_line" else (others, first)
    else:
        figures = _FIGURES.search(whole.raw)
        if figures is None:
            return None
        number = figures[0].strip()
        letters = (whole.raw[: figures.start()] + whole.raw[figures.end() :]).strip()
        taken, left = (number, letters) if column.part == "figures" else (letters, number)
    if not taken.strip():
        return None
    return (
        whole.model_copy(update={"value": _value(of, left.split("\n"), style), "raw": left}),
        whole.model_copy(update={"value": _value(column, taken.split("\n"), style), "raw": taken}),
    )
