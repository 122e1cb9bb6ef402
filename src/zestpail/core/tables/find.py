"""Finding a table in a document: its headers, its columns on every page, its rows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from statistics import median

from zestpail.core.checks import AnyCheck, RowProduct
from zestpail.core.finders import SearchContext
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line
from zestpail.core.tables.alignment import aligned_strip, named_by_kind
from zestpail.core.tables.arithmetic import reckoned
from zestpail.core.tables.body import BodyLine, body_of, is_total, says_total_only
from zestpail.core.tables.by_product import multiplied_strip
from zestpail.core.tables.cells import row_of
from zestpail.core.tables.column_roles import settled, without_positions
from zestpail.core.tables.dividers import between, moved
from zestpail.core.tables.ends import bounded
from zestpail.core.tables.found import ExtractedTable, LeftOut, Row, Strip
from zestpail.core.tables.headers import Head, head_of_grid, heads_on
from zestpail.core.tables.number_style import restyled
from zestpail.core.tables.rows import anchor_of, grouped, way_of
from zestpail.core.tables.sum_lines import carried, total
from zestpail.core.tables.table import Grid, RowsBegin, Table

ASIDE = 40.0
"""How far words may hang over the outermost headers, in points."""
LEAST_HEADERS = 0.7
"""A header with less than this share of the columns of the best one in the document is not believed."""
LEAST_ADDED = 2
"""Rows from which an amount without a word is known as their sum."""
FULL = 0.6
"""A line with this share of the usual values is a row for sure."""


@dataclass
class _Rest:
    """What is gathered on the way through the pages."""

    rows: list[Row] = field(default_factory=list)
    strips: list[Strip] = field(default_factory=list)
    left_out: list[LeftOut] = field(default_factory=list)
    message: list[str] = field(default_factory=list)
    ended: bool = False
    """Whether the sum of all was met: what follows without a header is of another table."""


def find_table(context: SearchContext, table: Table, checks: Sequence[AnyCheck] = ()) -> ExtractedTable:
    """All rows of the table in the document, judged by the checks over its rows and, where they can be, mended."""
    products = [check for check in checks if isinstance(check, RowProduct) and check.table == table.key]
    strips = _strips(context, table, products)
    rest = _Rest()
    bodies = [body_of(context.lines, bounded(context, table, strip), table, context.style) for strip in strips]
    usual = _usual(bodies, table)
    for strip, body in zip(strips, bodies, strict=True):
        _take(context, table, strip, body, usual, rest)
    _take_out_sum(rest, table)
    message = max(set(rest.message), key=rest.message.count) if rest.message else ""
    found = ExtractedTable(
        key=table.key,
        rows=tuple(without_positions(restyled(rest.rows, table, context.style), table)),
        strips=tuple(rest.strips),
        left_out=tuple(rest.left_out),
        rows_begin=message,
    )
    return reckoned(found, table, checks, context.document.pages, context.style)


def _strips(context: SearchContext, table: Table, products: Sequence[RowProduct]) -> list[Strip]:
    """Where the table may lie on each page: under its headers; on pages without one, where it was before."""
    strips: list[Strip] = []
    by_page: dict[int, list[Line]] = {}
    for line in context.lines:
        by_page.setdefault(line.page, []).append(line)
    for page in range(len(context.document.pages)):
        lines, size = by_page.get(page, []), context.document.pages[page]
        edits = _of_grids(page, lines, table, size.width, size.height)
        own = edits or _of_heads(page, lines, table, size.width, size.height)
        own = own or _without_header(page, table, size.width, size.height)
        if not own and strips:
            last = strips[-1]
            dividers = moved(last.dividers, _telling(lines), size.width)
            box = Box(last.box.x0, 0, last.box.x1, size.height)
            own = [last.model_copy(update={"page": page, "box": box, "dividers": dividers, "header": ""})]
        strips += own
    strips = _like_the_best(strips, by_page, context)
    if not strips:
        strips = [
            strip
            for page, lines in by_page.items()
            for check in products
            if (strip := multiplied_strip(lines, table, check, context.document.pages[page].width, context.style))
        ]
    if not strips:
        strips = [s for page in by_page if (s := aligned_strip(by_page[page], table, context.style))]
    named = [named_by_kind(context, table, strip) for strip in strips]
    return [settled(context.lines, table, strip, products, context.style) for strip in named]


def _like_the_best(strips: list[Strip], by_page: Mapping[int, list[Line]], context: SearchContext) -> list[Strip]:
    """The strips, those of pages whose header could hardly be read, or not at all, with the columns of the best one."""
    if not strips:
        return strips
    best = max(strips, key=lambda strip: len({*strip.columns} - {""}))
    poor = LEAST_HEADERS * len({*best.columns} - {""})

    def by_best(page: int, box: Box, header: str) -> Strip:
        width = context.document.pages[page].width
        dividers = moved(best.dividers, _telling(by_page.get(page, [])), width)
        box = Box(best.box.x0, box.y0, best.box.x1, box.y1)
        return best.model_copy(update={"page": page, "box": box, "dividers": dividers, "header": header})

    whole = [
        by_best(strip.page, strip.box, strip.header) if len({*strip.columns} - {""}) < poor else strip
        for strip in strips
    ]
    heights = [page.height for page in context.document.pages]
    return [by_best(page, Box(0, 0, 0, heights[page]), "") for page in range(whole[0].page)] + whole


def _of_grids(page: int, lines: Sequence[Line], table: Table, width: float, height: float) -> list[Strip]:
    for grid in table.grids:
        header = head_of_grid(lines, grid)
        if header is not None:
            return [_by_hand(page, header, grid, width, height)]
    return []


def _without_header(page: int, table: Table, width: float, height: float) -> list[Strip]:
    """A layout that was drawn round and has no header line: all lines of the page may be rows of it."""
    grid = next((grid for grid in table.grids if not grid.header), None)
    if grid is None:
        return []
    dividers = tuple(grid.left + divider for divider in grid.dividers)
    area = Box(grid.left - ASIDE / 4, 0, grid.left + grid.right + ASIDE / 4 if grid.right else width, height)
    return [Strip(page=page, box=area, dividers=dividers, columns=grid.columns, left=grid.left, right=grid.right)]


def _by_hand(page: int, header: tuple[str, Box], grid: Grid, width: float, height: float) -> Strip:
    text, box = header
    known = {"columns": grid.columns, "dividers": tuple(box.x0 + divider for divider in grid.dividers)}
    area = Box(box.x0 - ASIDE, box.y1 - 1, box.x0 + grid.right + ASIDE if grid.right else width, height)
    return Strip(page=page, box=area, header=text, left=box.x0, right=grid.right, **known)


def _of_heads(page: int, lines: Sequence[Line], table: Table, width: float, height: float) -> list[Strip]:
    headers = heads_on(lines, table)
    ends = [*(header.box.y0 for header in headers[1:]), height][: len(headers)]
    return [_under(page, header, end, lines, width) for header, end in zip(headers, ends, strict=True)]


def _under(page: int, header: Head, end: float, lines: Sequence[Line], width: float) -> Strip:
    boxes = [cell.box for cell in header.cells]
    under = [line for line in lines if header.box.y1 - 1 < line.box.cy < end]
    outer = (Box(boxes[0].x0 - ASIDE - 4, 0, boxes[0].x0 - ASIDE, 1), Box(boxes[-1].x1 + ASIDE, 0, width, 1))
    left, *dividers, right = between([outer[0], *boxes, outer[1]], _telling(under), width)
    box = Box(min(left, boxes[0].x0 - 2), header.box.y1 - 1, max(right, boxes[-1].x1 + 2), end)
    return Strip(
        page=page, box=box, dividers=tuple(dividers), columns=tuple(cell.key for cell in header.cells),
        header=header.text, left=header.box.x0,
    )  # fmt: skip


def _telling(lines: Sequence[Line]) -> list[Line]:
    """The lines that tell where columns are: down to the total, not those of carried sums or of prose."""
    details: list[Line] = []
    for line in lines:
        pieces = line.text.split("\t")
        if details and any(total(piece) for piece in pieces):
            break
        if len(pieces) > 1 and not carried(line.text):
            details.append(line)
    return details or list(lines)


def _usual(bodies: Sequence[Sequence[BodyLine]], table: Table) -> float:
    """How many values a row usually has."""
    lines = (line for body in bodies for line in body)
    counts = [len(line.values) for line in lines if len(line.values) > 1 and not is_total(line, table)]
    return float(median(counts)) if counts else 1.0


def _take(
    context: SearchContext, table: Table, strip: Strip, body: Sequence[BodyLine], usual: float, rest: _Rest
) -> None:
    """The rows of one strip, and the lines in it that are none."""
    saved, anchor, left_out = _kept_lines(context, table, body, usual)
    rest.left_out += left_out
    if not saved or (not strip.header and rest.strips and (rest.ended or not _full(saved, anchor, usual))):
        return
    last = max((line.box.y1 for line in _full(saved, anchor, usual)), default=0.0)
    rest.ended |= any(says_total_only(line) and line.values and line.box.y0 > last - 1 for line in body)
    saved = saved if strip.header or table.rows_begin else _from_first_row(saved, anchor, usual)
    rules = context.document.pages[strip.page].rules
    way = table.rows_begin or way_of(_trimmed(saved, anchor), rules, table)
    if way.by == "column_text" and not way.column:
        way = RowsBegin(column=anchor, stands=way.stands)
    for group in grouped(saved, rules, way):
        shown = table.rows_begin is not None and way.by == "every_line"
        near = list(group) if shown else _together(group, anchor)
        if near:
            rest.rows.append(row_of(near, table, context.style))
    rest.strips.append(strip)
    rest.message.append(way.sentence(table.names))


def _kept_lines(
    context: SearchContext, table: Table, body: Sequence[BodyLine], usual: float
) -> tuple[list[BodyLine], str, list[LeftOut]]:
    """The lines of a body that make rows, the column that tells them, and the lines that are none."""
    saved: list[BodyLine] = []
    left_out: list[LeftOut] = []
    for line in body:
        why = _why_not(line, table, usual)
        if why:
            left_out.append(LeftOut(page=line.line.page, box=line.box, text=line.text, why=why))
        else:
            saved.append(line)
    anchor = anchor_of(saved, table)
    return _up_to_end(context, saved, anchor, usual, [out.box for out in left_out]), anchor, left_out


def _take_out_sum(rest: _Rest, table: Table) -> None:
    """The last row is none where it has nothing but one amount, which all rows before it add up to."""
    if len(rest.rows) <= LEAST_ADDED:
        return
    *rows, last = rest.rows
    filled = [key for key, cell in last.cells.items() if cell.value]
    if len(filled) != 1 or not table.column(filled[0]).kind.money:
        return
    parts = [row.value(filled[0]) for row in rows]
    if all(parts) and sum(Decimal(part) for part in parts if part) == Decimal(last.value(filled[0]) or 0):
        rest.rows.pop()
        text = last.cells[filled[0]].raw
        rest.left_out.append(LeftOut(page=last.page, box=last.box, text=text, why="a total"))


def body_on(context: SearchContext, table: Table, page: int, checks: Sequence[AnyCheck] = ()) -> list[BodyLine]:
    """The lines on a page that make rows of the table, top to bottom."""
    products = [check for check in checks if isinstance(check, RowProduct) and check.table == table.key]
    strips = _strips(context, table, products)
    bodies = [body_of(context.lines, bounded(context, table, strip), table, context.style) for strip in strips]
    usual = _usual(bodies, table)
    here = [body for strip, body in zip(strips, bodies, strict=True) if strip.page == page]
    return [line for body in here for line in _kept_lines(context, table, body, usual)[0]]


def _why_not(line: BodyLine, table: Table, usual: float) -> str:
    """Why a line is no row: it carries a sum, or it is one."""
    if says_total_only(line):
        return "a total"
    if len(line.values) >= max(FULL * usual, 3):
        return ""
    if usual > 2 and not line.free and sum(map(len, line.words.values())) == 1 and len(line.text) < 3:
        return "a stray mark"
    others = [k for k in line.values if not table.column(k).kind.money]
    if carried(line.text, table.leave_out) and len(others) <= 1:
        return "a sum carried on"
    return "a total" if is_total(line, table) else ""


def _full(lines: Sequence[BodyLine], anchor: str, usual: float) -> list[BodyLine]:
    return [line for line in lines if anchor in line.values and len(line.values) >= max(FULL * usual, 1)]


def _up_to_end(
    context: SearchContext, lines: Sequence[BodyLine], anchor: str, usual: float, sums: Sequence[Box]
) -> list[BodyLine]:
    """The lines down to the last row: what comes after a total, and after that no whole row, is of the document."""
    full = _full(lines, anchor, usual)
    if not full:
        return []
    last = full[-1].box.y1
    after = [box.y0 for box in sums if box.y0 > last - 1]
    labelled = [
        line.box.y0 for line in lines if line.box.y0 > last - 1 and any(
            match.label.owner and match.box.stacked(line.box) > 0 for match in context.matches_on(line.line)
        )
    ]  # fmt: skip
    end = min([*after, *labelled], default=float("inf"))
    return [line for line in lines if line.box.cy < end]


def _from_first_row(lines: Sequence[BodyLine], anchor: str, usual: float) -> list[BodyLine]:
    """Without a header above them, lines before the first whole row are of the page."""
    full = _full(lines, anchor, usual)
    return [line for line in lines if full and line.box.cy >= full[0].box.cy]


def _trimmed(lines: Sequence[BodyLine], anchor: str) -> list[BodyLine]:
    """The lines without those at the foot that are too far from any row to say how rows are made."""
    anchored = [line.box.y1 for line in lines if anchor in line.values]
    return [line for line in lines if anchored and line.box.y0 < max(anchored) + 3 * line.height]


def _together(group: Sequence[BodyLine], anchor: str) -> list[BodyLine]:
    """The lines of a group that stand near to its values; nothing if it has none."""
    anchored = [line for line in group if anchor in line.values] or [line for line in group if len(line.values) > 1]
    if not anchored:
        return []
    near = [anchored[0]]
    for line in sorted(group, key=lambda one: abs(one.box.cy - anchored[0].box.cy)):
        if line is not anchored[0] and any(
            max(line.box.y0 - one.box.y1, one.box.y0 - line.box.y1) < 1.2 * line.height for one in near
        ):
            near.append(line)
    return sorted(near, key=lambda line: line.box.cy)
