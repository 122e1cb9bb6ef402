"""Header lines of a table: where the wordings of its columns stand side by side."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from rapidfuzz import fuzz

from zestpail.core.landmarks.labels import (
    Label,
    LabelMatch,
    folded,
    match_labels,
)
from zestpail.core.landmarks.wordings import usual_labels
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line
from zestpail.core.tables.table import Grid, Table

LIKE = 0.82
"""How alike a printed header and a known wording have to be; what the dial of landmarks calls rather strict."""
SAME_HEAD = 82.0
"""How alike (0 to 100) a header line must be to that of a grid that was set by hand."""
MOST_LINES = 3
"""Lines that a header may have."""
A_BLANK = 0.45
"""Heights of print that a blank between two words is wide at most."""
LEAST_PIECES = 3
"""Pieces of a line, with gaps between them, of which two headers are enough."""
NEAR = 0.9
"""Lines of one header stand no further apart than this, in line heights."""


@dataclass(frozen=True)
class HeadCell:
    """One header; ``key`` is its column, "" for one that no column claims."""

    key: str
    box: Box
    text: str


@dataclass(frozen=True)
class Head:
    """A header of one or more lines on a page."""

    page: int
    lines: tuple[Line, ...]
    cells: tuple[HeadCell, ...]

    @property
    def box(self) -> Box:
        return around(line.box for line in self.lines)

    @property
    def keys(self) -> set[str]:
        return {cell.key for cell in self.cells} - {""}

    @property
    def text(self) -> str:
        return _text_of(self.lines)


def heads_on(lines: Sequence[Line], table: Table) -> list[Head]:
    """The headers among the lines of one page, top to bottom."""
    labels = [Label(text, column.key) for column in table.columns for text in column.headers]
    labels += [label for column in table.columns for label in usual_labels(column.meanings, column.key)]
    by_line: dict[int, list[LabelMatch]] = {}
    for match in match_labels(lines, labels, LIKE):
        by_line.setdefault(id(match.line), []).append(_priced(match, table))
    least = 1 if len(table.columns) == 1 else 2
    found: list[Head] = []
    for block in _blocks(lines, by_line):
        cells = _cells(block, by_line)
        header = Head(block[0].page, tuple(block), tuple(cells))
        if len(header.keys) >= least:
            found.append(header)
    most = max((len(header.keys) for header in found), default=0)
    return [header for header in found if len(header.keys) >= max(0.7 * most, least)]


def _priced(match: LabelMatch, table: Table) -> LabelMatch:
    """The match as the price's where a sign of currency says that it is one a unit: "€/unit"."""
    price = next((c for c in table.columns if "unit_price" in c.meanings), None)
    if price is None or not re.search(r"[€£$¥₹₺] ?(?:/|per )\w*$", match.line.text[: match.end]):
        return match
    return replace(match, label=replace(match.label, owner=price.key))


def head_of_grid(lines: Sequence[Line], grid: Grid) -> tuple[str, Box] | None:
    """The header of that layout, of one to three lines: its text and place; None where there is none."""
    if not grid.header:
        return None
    blocks = [lines[at : at + many] for many in range(1, MOST_LINES + 1) for at in range(len(lines) - many + 1)]
    best = max(blocks, key=lambda block: fuzz.ratio(folded(_text_of(block)), folded(grid.header)), default=None)
    if best is None or fuzz.ratio(folded(_text_of(best)), folded(grid.header)) < SAME_HEAD:
        return None
    return _text_of(best), around(line.box for line in best)


def _text_of(block: Sequence[Line]) -> str:
    return " ".join(line.text.replace("\t", " ") for line in block)


def _blocks(lines: Sequence[Line], by_line: dict[int, list[LabelMatch]]) -> list[list[Line]]:
    """Lines with at least one header, together with those right above or under them that have one too."""
    blocks: list[list[Line]] = []
    for line in lines:
        if id(line) not in by_line or not _heading(line, by_line[id(line)]):
            continue
        last = blocks[-1][-1] if blocks else None
        if last is not None and line.box.y0 - last.box.y1 < NEAR * last.height and len(blocks[-1]) < MOST_LINES:
            blocks[-1].append(line)
        else:
            blocks.append([line])
    return blocks


def _heading(line: Line, matches: Sequence[LabelMatch]) -> bool:
    """Whether the line is made of headers: hardly a figure in it, and much of it claimed, or many parts of it."""
    letters = sum(c.isalpha() for c in line.text)
    figures = sum(c.isdigit() for c in line.text)
    claimed = sum(match.end - match.start for match in matches)
    owners = len({match.label.owner for match in matches})
    parted = line.text.count("\t") + 1 >= LEAST_PIECES
    much = claimed >= 0.3 * len(line.text) or owners > 2 or (owners == 2 and parted)
    return figures <= 0.25 * letters and much


def _cells(block: Sequence[Line], by_line: dict[int, list[LabelMatch]]) -> list[HeadCell]:
    """The headers of a block, left to right: those of columns, and the pieces of text between them."""
    found: list[HeadCell] = []
    for line in block:
        matches = sorted(by_line[id(line)], key=lambda m: m.start)
        pieces = list(re.finditer(r"[^\t]+", line.text))
        more = [cell for piece in pieces for cell in _leftover(line, piece, matches)]
        cells = [_grown(HeadCell(m.label.owner or "", m.box, line.text[m.start : m.end]), more) for m in matches]
        found += _joined(cells)
        found += [cell for cell in more if not any(_covers(one.box, cell.box) for one in cells)]
    columns: list[HeadCell] = []
    for cell in sorted(found, key=lambda c: (c.key == "", -len(c.text))):
        over = next((at for at, one in enumerate(columns) if one.box.stacked(cell.box) > 0.3), None)
        if over is None:
            columns.append(cell)
        else:
            one = columns[over]
            columns[over] = HeadCell(one.key or cell.key, around([one.box, cell.box]), one.text)
    return sorted(_once(columns), key=lambda cell: cell.box.x0)


def _joined(cells: Sequence[HeadCell]) -> list[HeadCell]:
    """Neighbours on a line that are of one column are one header: "Amount EUR"."""
    joined: list[HeadCell] = []
    for cell in cells:
        last = joined[-1] if joined else None
        if last and last.key and last.key == cell.key and cell.box.x0 - last.box.x1 < cell.box.height:
            joined[-1] = HeadCell(last.key, around([last.box, cell.box]), f"{last.text} {cell.text}")
        else:
            joined.append(cell)
    return joined


def _leftover(line: Line, piece: re.Match[str], matches: Sequence[LabelMatch]) -> list[HeadCell]:
    """Words before, between and after the headers in one piece of text, such as a header nobody listed."""
    taken = [(m.start, m.end) for m in matches if m.start < piece.end() and piece.start() < m.end]
    edges = [piece.start(), *(edge for pair in taken for edge in pair), piece.end()]
    gaps = [(edges[at], edges[at + 1]) for at in range(0, len(edges), 2)]
    return [
        HeadCell("", line.box_of(start, end), line.text[start:end].strip())
        for start, end in gaps
        if not taken or sum(c.isalnum() for c in line.text[start:end]) > 2
    ]


def _grown(cell: HeadCell, more: Sequence[HeadCell]) -> HeadCell:
    """The header with the words right before and behind it: "Item *names*"."""
    for other in more:
        if _touching(other.box, cell.box):
            words = sorted([other, cell], key=lambda one: one.box.x0)
            cell = HeadCell(cell.key, around(one.box for one in words), " ".join(one.text for one in words))
    return cell


def _covers(box: Box, other: Box) -> bool:
    return box.x0 <= other.x0 and other.x1 <= box.x1


def _touching(one: Box, other: Box) -> bool:
    """Whether but a blank is between two words: "Item *names*"; more room is between headers of two columns."""
    return max(one.x0 - other.x1, other.x0 - one.x1) < A_BLANK * max(one.height, other.height)


def _once(cells: Sequence[HeadCell]) -> list[HeadCell]:
    """Each column once: a second header that claims the same is of none."""
    seen: set[str] = set()
    once = []
    for cell in cells:
        key = "" if cell.key in seen else cell.key
        seen.add(key)
        once.append(HeadCell(key, cell.box, cell.text))
    return once
