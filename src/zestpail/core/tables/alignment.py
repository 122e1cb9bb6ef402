"""Columns that no header names: told by what is in them, by their order and by their arithmetic."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

from zestpail.core.finders import SearchContext
from zestpail.core.kinds import Amount, Currency, Style
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line, line_of_text
from zestpail.core.tables.body import value_in
from zestpail.core.tables.dividers import print_over
from zestpail.core.tables.found import Strip
from zestpail.core.tables.sum_lines import carried, total
from zestpail.core.tables.table import Column, Table

LEAST_ROWS = 2
"""One row shows no columns."""
LEAST_SHARE = 0.6
"""The share of rows in which a column must hold a value of its kind."""
NARROWEST = 3.0
"""Points of paper between columns."""


def aligned_strip(lines: Sequence[Line], table: Table, style: Style) -> Strip | None:
    """Where on a page without any header lines stand in columns that fit the table's; None where none do."""
    rows = list(_alike(lines, style))
    if len(rows) < LEAST_ROWS:
        return None
    area = around(line.box for line in rows)
    edges = _columns(rows, area)
    columns = _named([[_texts(line, edge) for line in rows] for edge in edges], list(table.columns), style)
    if sum(bool(key) for key in columns) < 2:
        return None
    dividers = tuple((one[1] + other[0]) / 2 for one, other in pairwise(edges))
    return Strip(page=rows[0].page, box=Box(area.x0 - 4, area.y0 - 1, area.x1 + 4, area.y1 + 1), dividers=dividers,
                 columns=tuple(columns), left=area.x0)  # fmt: skip


def named_by_kind(context: SearchContext, table: Table, strip: Strip) -> Strip:
    """The strip with columns under unknown headers given to those of the table's that are still missing.

    Where a text is missing that every row needs, a column of codes in which hardly a code stands is that text: "Item"
    heads either.
    """
    missing = [c for c in table.columns if c.key not in strip.columns and not c.of and (c.kind.narrow or c.needed)]
    if not missing:
        return strip
    lines = [line for line in context.lines if line.page == strip.page and strip.box.covers_centre_of(line.box)]
    lines = [line for line in lines if any(c.isdigit() for c in line.text) and not _a_sum(line)]
    bounds = [strip.box.x0, *strip.dividers, strip.box.x1]
    columns = list(strip.columns)

    def cells(at: int) -> list[str]:
        return [_texts(line, (bounds[at], bounds[at + 1])) for line in lines]

    unknown = [at for at, key in enumerate(columns) if not key]
    found = _named([cells(at) for at in unknown], missing, context.style, LEAST_SHARE + 0.15)
    for at, key in zip(unknown, found, strict=True):
        columns[at] = "" if key and table.column(key).kind.identifies and _no_codes(cells(at)) else key
    text = next((c.key for c in missing if c.needed and not c.kind.narrow and c.key not in columns), None)
    no_codes = (at for at, key in enumerate(columns) if key and _prose(cells(at), table.column(key), context.style))
    place = next(no_codes, None)
    if text and place is not None:
        columns[place] = text
    return strip.model_copy(update={"columns": tuple(columns)})


def _no_codes(cells: Sequence[str]) -> bool:
    """Whether a column under an unknown header counts the rows or holds rates, and names nothing."""
    there = [cell.strip(" .)") for cell in cells if cell.strip()]
    counts = [int(cell) for cell in there if cell.isdigit()]
    return any("%" in cell for cell in there) or (
        len(counts) == len(there) and counts == list(range(1, len(there) + 1))
    )


def _prose(cells: Sequence[str], column: Column, style: Style) -> bool:
    """Whether a column that should hold codes holds words instead, in most of its cells."""
    there = [cell for cell in cells if cell.strip()]
    codes = sum(column.kind.meant_by(cell, style) for cell in there)
    return column.kind.identifies and bool(there) and codes < 0.5 * len(there)


def _alike(lines: Sequence[Line], style: Style) -> Iterator[Line]:
    """Lines that could be rows: words and, at their end, an amount; not sums."""
    for line in lines:
        pieces = [piece for piece in line.text.split("\t") if piece.strip()]
        figures = [piece for piece in pieces if value_in(Amount(), piece, style) and any(c in ".," for c in piece)]
        if len(pieces) >= 3 and len(figures) >= 2 and not _a_sum(line):
            yield line


def _a_sum(line: Line) -> bool:
    return carried(line.text) or total(line.text)


def _columns(rows: Sequence[Line], area: Box) -> list[tuple[float, float]]:
    """The stretches from left to right in which words stand, parted by paper that no word crosses."""
    over = print_over(rows, area.x1 + 2)
    edges: list[tuple[float, float]] = []
    for at, many in enumerate(over.tolist()):
        if many == 0:
            continue
        if edges and at - edges[-1][1] <= NARROWEST:
            edges[-1] = (edges[-1][0], float(at))
        else:
            edges.append((float(at), float(at)))
    return edges


def _texts(line: Line, edge: tuple[float, float]) -> str:
    return " ".join(word.text for word in line.words if edge[0] - 1 <= word.box.cx <= edge[1] + 1)


def _named(
    texts: Sequence[Sequence[str]], columns: Sequence[Column], style: Style, least: float = LEAST_SHARE
) -> list[str]:
    """For each stretch of text the column that it is, "" for none: each once, the best fits first.

    A number fits several columns; the later of two amounts is the later of the table's, as tables go from what there
    is to what it costs.
    """
    fits: list[tuple[float, int, int]] = []
    for at, cells in enumerate(texts):
        there = [cell for cell in cells if cell.strip()]
        for number, column in enumerate(columns):
            share = _share(there, column, style)
            if share >= least and len(there) >= least * max(len(cells), 1):
                order = 1 - 0.3 * abs(at / max(len(texts) - 1, 1) - number / max(len(columns) - 1, 1))
                fits.append((share * order * (1.0 if column.kind.narrow else 0.8), at, number))
    named = [""] * len(texts)
    taken: set[int] = set()
    for _, at, number in sorted(fits, reverse=True):
        if not named[at] and number not in taken:
            named[at] = columns[number].key
            taken.add(number)
    return named


def _share(cells: Sequence[str], column: Column, style: Style) -> float:
    """The share of cells that hold such a value; text is of letters."""
    if not cells:
        return 0.0
    if not column.kind.narrow:
        return sum(sum(c.isalpha() for c in cell) > 3 for cell in cells) / len(cells)
    return sum(_fits(cell, column, style) for cell in cells) / len(cells)


def _fits(cell: str, column: Column, style: Style) -> bool:
    """Whether a cell holds such a value: money has decimals, and a currency stands by nothing else."""
    kind = column.kind
    if kind.identifies:
        return kind.meant_by(cell, style)
    if kind.money:
        return any(c in ".," for c in cell) and value_in(kind, cell, style) is not None
    return value_in(kind, cell, style) is not None and not any(Currency().spot(line_of_text(cell), style))
