"""Finding a table in a document: its headers, its columns on every page, its rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from statistics import median

from zestpail.core.checks import AnyCheck, RowProduct
from zestpail.core.finders import Ground
from zestpail.core.kinds import Amount
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line
from zestpail.core.tables.alignment import aligned_strip, named_by_kind
from zestpail.core.tables.arithmetic import reckoned
from zestpail.core.tables.body import BodyLine, body_of, is_total
from zestpail.core.tables.by_product import multiplied_strip
from zestpail.core.tables.cells import row_of
from zestpail.core.tables.dividers import between, moved
from zestpail.core.tables.found import CapturedTable, LeftOut, Row, Strip
from zestpail.core.tables.headers import Head, head_of_grid, heads_on
from zestpail.core.tables.rows import anchor_of, grouped, way_of
from zestpail.core.tables.sum_lines import carried, total
from zestpail.core.tables.table import Grid, RowsBegin, Table

ASIDE = 40.0
"""How far words may hang over the outermost headers, in points."""
FULL = 0.6
"""A line with this share of the usual values is a row for sure."""


@dataclass
class _Rest:
    """What is gathered on the way through the pages."""

    rows: list[Row] = field(default_factory=list)
    strips: list[Strip] = field(default_factory=list)
    left_out: list[LeftOut] = field(default_factory=list)
    said: list[str] = field(default_factory=list)


def found_table(ground: Ground, table: Table, checks: Sequence[AnyCheck] = ()) -> CapturedTable:
    """All rows of the table in the document, judged by the checks over its rows and, where they can be, mended."""
    products = [check for check in checks if isinstance(check, RowProduct) and check.table == table.key]
    strips = _strips(ground, table, products)
    rest = _Rest()
    bodies = [body_of(ground.lines, _bounded(ground, table, strip), table, ground.style) for strip in strips]
    usual = _usual(bodies, table)
    for strip, body in zip(strips, bodies, strict=True):
        _take(ground, table, strip, body, usual, rest)
    said = max(set(rest.said), key=rest.said.count) if rest.said else ""
    found = CapturedTable(
        key=table.key, rows=tuple(rest.rows), strips=tuple(rest.strips), left_out=tuple(rest.left_out), rows_begin=said
    )
    return reckoned(found, table, checks, ground.document.pages, ground.style)


def _strips(ground: Ground, table: Table, products: Sequence[RowProduct]) -> list[Strip]:
    """Where the table may lie on each page: under its headers; on pages without one, where it was before."""
    strips: list[Strip] = []
    by_page: dict[int, list[Line]] = {}
    for line in ground.lines:
        by_page.setdefault(line.page, []).append(line)
    for page in range(len(ground.document.pages)):
        lines, size = by_page.get(page, []), ground.document.pages[page]
        by_hand = _of_grids(page, lines, table, size.width, size.height)
        own = by_hand or _of_heads(page, lines, table, size.width, size.height)
        if not own and strips:
            last = strips[-1]
            dividers = moved(last.dividers, _telling(lines), size.width)
            box = Box(last.box.x0, 0, last.box.x1, size.height)
            own = [last.model_copy(update={"page": page, "box": box, "dividers": dividers, "head": ""})]
        strips += own
    if not strips:
        strips = [
            strip
            for page, lines in by_page.items()
            for check in products
            if (strip := multiplied_strip(lines, table, check, ground.document.pages[page].width, ground.style))
        ]
    if not strips:
        strips = [s for page in by_page if (s := aligned_strip(by_page[page], table, ground.style))]
    return [named_by_kind(ground, table, strip) for strip in strips]


def _of_grids(page: int, lines: Sequence[Line], table: Table, width: float, height: float) -> list[Strip]:
    for grid in table.grids:
        head = head_of_grid(lines, grid)
        if head is not None:
            return [_by_hand(page, head, grid, width, height)]
    return []


def _by_hand(page: int, head: tuple[str, Box], grid: Grid, width: float, height: float) -> Strip:
    text, box = head
    known = {"columns": grid.columns, "dividers": tuple(box.x0 + divider for divider in grid.dividers)}
    area = Box(box.x0 - ASIDE, box.y1 - 1, width, height)
    return Strip(page=page, box=area, head=text, left=box.x0, **known)


def _of_heads(page: int, lines: Sequence[Line], table: Table, width: float, height: float) -> list[Strip]:
    heads = heads_on(lines, table)
    ends = [*(head.box.y0 for head in heads[1:]), height][: len(heads)]
    return [_under(page, head, end, lines, width) for head, end in zip(heads, ends, strict=True)]


def _under(page: int, head: Head, end: float, lines: Sequence[Line], width: float) -> Strip:
    boxes = [cell.box for cell in head.cells]
    under = [line for line in lines if head.box.y1 - 1 < line.box.cy < end]
    outer = (Box(boxes[0].x0 - ASIDE - 4, 0, boxes[0].x0 - ASIDE, 1), Box(boxes[-1].x1 + ASIDE, 0, width, 1))
    left, *dividers, right = between([outer[0], *boxes, outer[1]], _telling(under), width)
    box = Box(min(left, boxes[0].x0 - 2), head.box.y1 - 1, max(right, boxes[-1].x1 + 2), end)
    return Strip(
        page=page, box=box, dividers=tuple(dividers), columns=tuple(cell.key for cell in head.cells), head=head.text,
        left=head.box.x0,
    )  # fmt: skip


def _telling(lines: Sequence[Line]) -> list[Line]:
    """The lines that tell where columns are: down to the total, not those of carried sums or of prose."""
    told: list[Line] = []
    for line in lines:
        pieces = line.text.split("\t")
        if told and any(total(piece) for piece in pieces):
            break
        if len(pieces) > 1 and not carried(line.text):
            told.append(line)
    return told or list(lines)


def _usual(bodies: Sequence[Sequence[BodyLine]], table: Table) -> float:
    """How many values a row usually has."""
    lines = (line for body in bodies for line in body)
    counts = [len(line.values) for line in lines if len(line.values) > 1 and not is_total(line, table)]
    return float(median(counts)) if counts else 1.0


def _take(ground: Ground, table: Table, strip: Strip, body: Sequence[BodyLine], usual: float, rest: _Rest) -> None:
    """The rows of one strip, and the lines in it that are none."""
    kept, anchor, left_out = _kept_lines(ground, table, body, usual)
    rest.left_out += left_out
    if not kept or (not strip.head and rest.strips and not _full(kept, anchor, usual)):
        return
    rules = ground.document.pages[strip.page].rules
    way = table.rows_begin or way_of(_trimmed(kept, anchor), rules, table)
    if way.by == "text in a column" and not way.column:
        way = RowsBegin(column=anchor, stands=way.stands)
    for group in grouped(kept, rules, way):
        shown = table.rows_begin is not None and way.by == "every line"
        near = list(group) if shown else _together(group, anchor)
        if near:
            rest.rows.append(row_of(near, table, ground.style))
    rest.strips.append(strip)
    rest.said.append(way.sentence(table.names))


def _kept_lines(
    ground: Ground, table: Table, body: Sequence[BodyLine], usual: float
) -> tuple[list[BodyLine], str, list[LeftOut]]:
    """The lines of a body that make rows, the column that tells them, and the lines that are none."""
    kept: list[BodyLine] = []
    left_out: list[LeftOut] = []
    for line in body:
        why = _why_not(line, table, usual)
        if why:
            left_out.append(LeftOut(page=line.line.page, box=line.box, text=line.text, why=why))
        else:
            kept.append(line)
    anchor = anchor_of(kept, table)
    return _up_to_end(ground, kept, anchor, usual, [out.box for out in left_out]), anchor, left_out


def body_on(ground: Ground, table: Table, page: int, checks: Sequence[AnyCheck] = ()) -> list[BodyLine]:
    """The lines on a page that make rows of the table, top to bottom."""
    products = [check for check in checks if isinstance(check, RowProduct) and check.table == table.key]
    strips = _strips(ground, table, products)
    bodies = [body_of(ground.lines, _bounded(ground, table, strip), table, ground.style) for strip in strips]
    usual = _usual(bodies, table)
    here = [body for strip, body in zip(strips, bodies, strict=True) if strip.page == page]
    return [line for body in here for line in _kept_lines(ground, table, body, usual)[0]]


def _bounded(ground: Ground, table: Table, strip: Strip) -> Strip:
    """The strip down to the landmark at which the table ends."""
    seen = ground.landmark(table.ends_at) if table.ends_at else None
    if seen is None or seen.page != strip.page or seen.box.y0 <= strip.box.y0:
        return strip
    box = strip.box
    return strip.model_copy(update={"box": Box(box.x0, box.y0, box.x1, seen.box.y0)})


def _why_not(line: BodyLine, table: Table, usual: float) -> str:
    """Why a line is no row: it carries a sum, or it is one."""
    if len(line.values) >= max(FULL * usual, 3):
        return ""
    if usual > 2 and not line.free and sum(map(len, line.words.values())) == 1 and len(line.text) < 3:
        return "a stray mark"
    others = [k for k in line.values if not isinstance(table.column(k).kind, Amount)]
    if carried(line.text, table.leave_out) and len(others) <= 1:
        return "a sum carried on"
    return "a total" if is_total(line, table) else ""


def _full(lines: Sequence[BodyLine], anchor: str, usual: float) -> list[BodyLine]:
    return [line for line in lines if anchor in line.values and len(line.values) >= max(FULL * usual, 1)]


def _up_to_end(
    ground: Ground, lines: Sequence[BodyLine], anchor: str, usual: float, sums: Sequence[Box]
) -> list[BodyLine]:
    """The lines down to the last row: what comes after a total, and after that no whole row, is of the document."""
    full = _full(lines, anchor, usual)
    if not full:
        return []
    last = full[-1].box.y1
    after = [box.y0 for box in sums if box.y0 > last - 1]
    labelled = [
        line.box.y0 for line in lines if line.box.y0 > last - 1 and any(
            match.label.owner and match.box.stacked(line.box) > 0 for match in ground.matches_on(line.line)
        )
    ]  # fmt: skip
    end = min([*after, *labelled], default=float("inf"))
    return [line for line in lines if line.box.cy < end]


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
