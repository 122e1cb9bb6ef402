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
from zestpail.core.tables.ends import proposed_end
from zestpail.core.tables.headers import MOST_LINES
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


def propose_table(
    document: DocumentReading, page: int, box: Box, taken: Collection[str], style: Style, headed: bool | None = None
) -> Table | None:
    """A table for what stands in ``box`` (points): columns named by its header, of the kinds of their cells.

    ``headed`` says whether it has a header, if a person did. None where fewer than two lines, or nothing in columns,
    stands there.
    """
    on_page = [line for line in document.lines if line.page == page]
    lines = [origin for line in on_page if box.covers_centre_of(line.box) and (origin := _within(line, box))]
    if len(lines) < 2:
        return None
    above = _header_of(lines) if headed is None else max(_header_of(lines), 1) if headed else 0
    header, body = lines[:above], lines[above:]
    edges = _edges(body, header, box)
    if len(edges) < 2:
        return None
    columns = _columns_of(header, body, edges, style)
    dividers = [(one[1] + other[0]) / 2 for one, other in pairwise(edges)]
    text = " ".join(line.text.replace("\t", " ") for line in header)
    left = min((line.box.x0 for line in header), default=edges[0][0])
    by_hand = len(header) != 1 or any(not column.headers for column in columns)
    grid = Grid(
        header=text, left=left, dividers=tuple(round(d - left, 1) for d in dividers),
        columns=tuple(column.key for column in columns), right=round(edges[-1][1] - left, 1),
    )  # fmt: skip
    after = [origin for line in on_page if line.box.cy > box.y1 and (origin := _within(line, box))]
    goes_on = after and _fits(after[0], edges, columns, style)
    end = {} if goes_on else proposed_end(lines, after)
    return Table.model_validate(
        {
            "key": key_for("Table", taken),
            "name": "Table",
            "columns": columns,
            "grids": (grid,) if by_hand else (),
            **end,
        }
    )


def _header_of(lines: Sequence[Line]) -> int:
    """How many of the first lines are the header: down to the last without figures, where those under it have some.

    A line over it that spans several columns may have figures, such as years.
    """
    plain = [not any(c.isdigit() for c in line.text) for line in lines]
    pieces = [len(_pieces(line)) for line in lines]
    first = next((at for at, without in enumerate(plain[:MOST_LINES]) if without), MOST_LINES)
    if first == MOST_LINES or any(pieces[at] >= pieces[first] for at in range(first)):
        return 0
    end = next((at for at in range(first, len(lines)) if not plain[at]), len(lines))
    if end > MOST_LINES or end == len(lines):
        return 0
    if sum(plain[end:]) > 0.5 * len(lines[end:]):
        return first + 1  # figures are rare: the other lines may be rows as well
    near = [other.box.y0 - one.box.y1 < one.height for one, other in pairwise(lines[:end])]
    return 1 + next((at for at, close in enumerate(near) if not close), len(near))


def _columns_of(
    header: Sequence[Line], body: Sequence[Line], edges: Sequence[tuple[float, float]], style: Style
) -> list[Column]:
    keys: list[str] = []
    columns: list[Column] = []
    last = [_text(header[-1], edge) for edge in edges] if header else [""] * len(edges)
    for at, edge in enumerate(edges):
        message = last[at] or next((text for line in reversed(header) if (text := _text(line, edge))), "")
        title = f"{_nearest_over(header[:-1], edge)} {message}".strip() if last.count(message) > 1 else message
        name = name_of(title) if any(c.isalpha() for c in title) else f"Column {at + 1}"
        keys.append(key_for(name, keys))
        kind = _kind([_text(line, edge) for line in body], style)
        columns.append(Column(key=keys[-1], name=name, kind=kind, headers=(message,) if message else ()))
    return columns


def _nearest_over(header: Sequence[Line], edge: tuple[float, float]) -> str:
    """What a header above the columns' own says of a column: the piece nearest to it."""
    pieces = [piece for line in header for piece in _pieces(line)]
    middle = (edge[0] + edge[1]) / 2
    best = min(pieces, key=lambda piece: abs(around(word.box for word in piece).cx - middle), default=[])
    return " ".join(word.text for word in best)


def _fits(line: Line, edges: Sequence[tuple[float, float]], columns: Sequence[Column], style: Style) -> bool:
    """Whether a line could be one more row: most columns hold what they should."""
    narrow = [(edge, column) for edge, column in zip(edges, columns, strict=True) if column.kind.narrow]
    there = [value_in(column.kind, _text(line, edge), style) is not None for edge, column in narrow]
    return bool(there) and sum(there) >= 0.5 * len(there)


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


def _edges(body: Sequence[Line], header: Sequence[Line], box: Box) -> list[tuple[float, float]]:
    """From where to where each column goes: parted where hardly any line has print, or between two headers."""
    headers = [around(w.box for w in piece) for piece in _pieces(header[-1])] if header else []
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
        own = [edge for edge in edges if _unheaded(edge, edges, headers, body)]
        joined = _joined_under([edge for edge in edges if edge not in own], headers)
        edges = sorted([*joined, *own])
    return edges


def _unheaded(
    edge: tuple[float, float], edges: Sequence[tuple[float, float]], headers: Sequence[Box], body: Sequence[Line]
) -> bool:
    """Whether a stretch is a column that no header names: figures in most lines, well apart from what is beside it."""
    if any(_apart(edge, header) < 0 for header in headers):
        return False
    others = [other for other in edges if other != edge]
    if any(max(edge[0] - other[1], other[0] - edge[1]) < GUTTER for other in others):
        return False
    texts = [text for line in body if (text := _text(line, edge))]
    figures = [text for text in texts if any(c.isdigit() for c in text)]
    empty = {at for at, header in enumerate(headers) if not any(_apart(other, header) < 0 for other in others)}
    nearest = min(range(len(headers)), key=lambda at: _apart(edge, headers[at]))
    return nearest not in empty and 2 * len(figures) > len(body)


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
