"""What is proposed when a person draws round a table, and what a row that she draws round says of all rows."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence
from itertools import pairwise

from zestpail.core.kinds import Amount, AnyKind, Code, Date, OneLine, Quantity, SeveralLines, Style
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line
from zestpail.core.reading.page import Word
from zestpail.core.tables.body import BodyLine, value_in
from zestpail.core.tables.dividers import print_over
from zestpail.core.tables.rows import anchor_of, grouped
from zestpail.core.tables.table import Column, Grid, RowsBegin, Table
from zestpail.core.tables.tokens import tokens
from zestpail.core.teaching.field_proposal import key_for, name_of

GUTTER = 5.0
"""Points of paper, on hardly any line crossed, that part two columns where no header does."""
CROSSED = 0.15
"""Share of lines whose words may lie across a divider that is proposed."""
MOSTLY = 0.7
"""The share of cells that must be of a kind for the column to be of it."""


def propose_table(document: DocumentReading, page: int, box: Box, taken: Collection[str], style: Style) -> Table | None:
    """A table for what stands in ``box`` (points): columns named by its first line, of the kinds of their cells.

    None where fewer than two lines, or nothing in columns, stands there.
    """
    lines = [line for line in document.lines if line.page == page and box.covers_centre_of(line.box)]
    lines = [origin for line in lines if (origin := _within(line, box))]
    if len(lines) < 2:
        return None
    headed = not any(c.isdigit() for c in lines[0].text)
    body = lines[1:] if headed else lines
    edges = _edges(body, lines[0] if headed else None, box)
    if len(edges) < 2:
        return None
    keys: list[str] = []
    columns: list[Column] = []
    for at, edge in enumerate(edges):
        message = _text(lines[0], edge) if headed else ""
        name = name_of(message) if any(c.isalpha() for c in message) else f"Column {at + 1}"
        key = key_for(name, keys)
        keys.append(key)
        doc_type = _kind([_text(line, edge) for line in body], style)
        columns.append(Column(key=key, name=name, kind=doc_type, headers=(message,) if message else ()))
    dividers = [(one[1] + other[0]) / 2 for one, other in pairwise(edges)]
    left = lines[0].box.x0
    grid = Grid(
        header=lines[0].text, left=left, dividers=tuple(round(d - left, 1) for d in dividers), columns=tuple(keys)
    )
    return Table(key=key_for("Table", taken), name="Table", columns=tuple(columns), grids=() if headed else (grid,))


def shown_way(body: Sequence[BodyLine], rules: Sequence[Box], table: Table, drawn: Box) -> tuple[RowsBegin, int] | None:
    """What makes a row begin so that one row is just what was drawn round; None where nothing does.

    Also tells how many rows there are then. Ways that need less are tried first.
    """
    wanted = {id(line) for line in body if drawn.covers_centre_of(line.box)}
    anchor = anchor_of(body, table)
    texts = [key for key in dict.fromkeys([anchor, *(c.key for c in table.columns)]) if key]
    ways = [RowsBegin(by="every_line"), RowsBegin(by="ruled_line")]
    ways += [RowsBegin(column=key, stands=stands) for key in texts for stands in ("head", "foot")]
    ways.append(RowsBegin(by="gap"))
    for way in ways:
        groups = grouped(body, rules, way)
        if any({id(line) for line in group} == wanted for group in groups):
            return way, len(groups)
    return None


def _within(line: Line, box: Box) -> Line | None:
    words = tuple(word for word in line.words if box.x0 <= word.box.cx <= box.x1)
    return Line(line.page, words) if words else None


def _edges(body: Sequence[Line], header: Line | None, box: Box) -> list[tuple[float, float]]:
    """From where to where each column goes: parted where hardly any line has print, or between two headers."""
    headers = [around(w.box for w in piece) for piece in _pieces(header)] if header else []
    over = print_over(body, box.x1 + 2)
    limit = CROSSED * len(body)
    edges: list[tuple[float, float]] = []
    for at in range(int(box.x0), int(box.x1) + 1):
        if over[at] <= limit:
            continue
        parted = not edges or at - edges[-1][1] > GUTTER
        between = edges and any(one.x1 < (edges[-1][1] + at) / 2 < other.x0 for one, other in pairwise(headers))
        if parted or (between and at - edges[-1][1] > 1):
            edges.append((float(at), float(at)))
        else:
            edges[-1] = (edges[-1][0], float(at))
    if headers:
        edges = _joined_under(edges, headers)
    return edges


def _joined_under(edges: Sequence[tuple[float, float]], headers: Sequence[Box]) -> list[tuple[float, float]]:
    """One column for every header: the stretches under it, or the nearest; others go with the one before."""
    headed = {at for at, header in enumerate(headers) if any(_apart(edge, header) < 0 for edge in edges)}
    columns: dict[int, list[tuple[float, float]]] = {at: [(header.x0, header.x1)] for at, header in enumerate(headers)}
    last = 0
    for edge in edges:
        nearest = min(range(len(headers)), key=lambda at: _apart(edge, headers[at]))
        if _apart(edge, headers[nearest]) < 0 or nearest not in headed:
            last = nearest
        columns[last].append(edge)
    return sorted((min(x0 for x0, _ in several), max(x1 for _, x1 in several)) for several in columns.values())


def _apart(edge: tuple[float, float], header: Box) -> float:
    """The gap between a stretch and a header; below 0 where they overlap."""
    return max(header.x0 - edge[1], edge[0] - header.x1)


def _pieces(line: Line) -> list[list[Word]]:
    """The headers of a line: words parted by wide gaps."""
    pieces: list[list[Word]] = []
    for word, start in zip(line.words, line.starts, strict=True):
        if start == 0 or line.text[start - 1] == "\t":
            pieces.append([])
        pieces[-1].append(word)
    return pieces


def _text(line: Line, edge: tuple[float, float]) -> str:
    found = []
    for token in tokens(line.words):
        place = around(word.box for word in token)
        if min(place.x1, edge[1] + 2) - max(place.x0, edge[0] - 2) > 0.5 * place.width:
            found += [word.text for word in token]
    return " ".join(found)


def _kind(cells: Sequence[str], style: Style) -> AnyKind:
    """The narrowest kind that most cells are of; text of several lines otherwise."""
    there = [cell for cell in cells if cell.strip()]
    if not there:
        return OneLine()

    def share(fits: Sequence[bool]) -> float:
        return sum(fits) / len(there)

    cents = [bool(re.search(r"\d[.,]\d\d(?!\d)", c)) and value_in(Amount(), c, style) is not None for c in there]
    narrow: tuple[tuple[AnyKind, list[bool]], ...] = (
        (Date(), [value_in(Date(), cell, style) is not None for cell in there]),
        (Amount(), cents),
        (Quantity(), [value_in(Quantity(), cell, style) is not None for cell in there]),
        (Code(), [len(c.split()) == 1 and any(x.isdigit() for x in c) for c in there]),
    )
    return next((kind for kind, fits in narrow if share(fits) >= MOSTLY), SeveralLines())
