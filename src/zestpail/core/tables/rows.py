"""What makes a row begin, and which lines belong to it: worked out from the page, or as a person showed it."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from zestpail.core.reading.geometry import Box
from zestpail.core.tables.body import BodyLine
from zestpail.core.tables.table import RowsBegin, Table

MOSTLY = 0.75
"""The share of groups with just one anchor from which a way of grouping is believed."""
WIDER = 1.3
"""A gap between rows is at least so many times one within them."""
NEARER = 0.9
"""How much nearer, as a share, lines must stand to what is under them to belong there."""
FURTHEST = 1.9
"""A line further from the row than this, in line heights, does not belong to it."""

Group = list[BodyLine]


def anchor_of(body: Sequence[BodyLine], table: Table) -> str:
    """The column whose value stands once in every row; "" if no column has values."""
    counts = {c.key: sum(c.key in line.values for line in body) for c in table.columns if c.kind.narrow}
    details = {key: count for key, count in counts.items() if not table.column(key).kind.identifies}
    counts = details if any(details.values()) else counts  # any word may be a code
    places = {column.key: at for at, column in enumerate(table.columns)}

    def liked(key: str) -> tuple[float, bool, bool, int]:
        column = table.column(key)
        return counts[key], column.needed, column.kind.money, places[key]

    best = max(counts, key=liked, default="")
    most = counts.get(best, 0)
    if not most:
        return ""
    # A column that must be there is the surer sign, although a slip of reading cost it a row.
    needed = [key for key in counts if table.column(key).needed and counts[key] >= 0.8 * most]
    return max(needed, key=liked) if needed else best


def way_of(body: Sequence[BodyLine], rules: Sequence[Box], table: Table) -> RowsBegin:
    """What makes a row begin on these lines (of one page, top to bottom)."""
    anchor = anchor_of(body, table)
    anchors = [line for line in body if anchor in line.values]
    if not anchor or len(anchors) == len(body):
        return RowsBegin(by="every_line") if body else RowsBegin(column=anchor)
    for way in (RowsBegin(by="ruled_line"), RowsBegin(by="gap")):
        groups = grouped(body, rules, way)
        singles = sum(sum(anchor in line.values for line in group) == 1 for group in groups)
        well = len(groups) > 1 and singles >= MOSTLY * len(groups) and len(groups) >= MOSTLY * len(anchors)
        if well and (way.by == "ruled_line" or anchor not in body[0].values):
            return way
    first, last = anchor in body[0].values, anchor in body[-1].values
    if last and (not first or _nearer_below(body, anchor)):
        return RowsBegin(column=anchor, stands="foot")
    return RowsBegin(column=anchor)


def _nearer_below(body: Sequence[BodyLine], anchor: str) -> bool:
    """Whether lines without the row's own text stand nearer to the text under them than to that over them."""
    over, under = 0.0, 0.0
    for before, line, after in zip(body, body[1:], body[2:], strict=False):
        if anchor not in line.values and anchor in before.values and anchor in after.values:
            over += line.box.cy - before.box.cy
            under += after.box.cy - line.box.cy
    return under < NEARER * over


def grouped(body: Sequence[BodyLine], rules: Sequence[Box], way: RowsBegin) -> list[Group]:
    """The lines of one page, row by row."""
    if not body:
        return []
    if way.by == "every_line":
        return [[line] for line in body]
    if way.by == "column_text":
        return _by_text(body, way)
    begins = _gaps(body) if way.by == "gap" else [_ruled(one, other, rules) for one, other in pairwise(body)]
    groups: list[Group] = [[body[0]]]
    for line, new in zip(body[1:], begins, strict=True):
        if new:
            groups.append([line])
        else:
            groups[-1].append(line)
    return groups


def _by_text(body: Sequence[BodyLine], way: RowsBegin) -> list[Group]:
    groups: list[Group] = []
    lines = body if way.stands == "head" else list(reversed(body))
    for line in lines:
        if way.column in line.values or line.raw(way.column):
            groups.append([line])
        elif groups and _belongs(groups[-1], line):
            groups[-1].append(line)
    return groups if way.stands == "head" else [group[::-1] for group in reversed(groups)]


def _belongs(row: Group, line: BodyLine) -> bool:
    """Whether a line without the row's own text goes on with it: near, text only, and in columns that have text."""
    gap = max(line.box.y0 - row[-1].box.y1, row[-1].box.y0 - line.box.y1)
    if gap > FURTHEST * min(line.height, row[-1].height) or ("" in line.words and not line.free):
        return False
    return bool(line.free) and all(_aligned(row, line, column) for column in line.free)


def _aligned(row: Group, line: BodyLine, column: str) -> bool:
    own = [part.words[column][0].box.x0 for part in row if column in part.words]
    return not own or abs(line.words[column][0].box.x0 - min(own)) < 4 * line.height


def _ruled(one: BodyLine, other: BodyLine, rules: Sequence[Box]) -> bool:
    low, high = one.box.cy, other.box.cy
    return any(low < rule.cy < high and rule.stacked(other.box) > 0.3 for rule in rules)


def _gaps(body: Sequence[BodyLine]) -> list[bool]:
    """Which of the steps from line to line are the wider ones: split where they jump most."""
    steps = [other.box.cy - one.box.cy for one, other in pairwise(body)]
    ordered = sorted(steps)
    jumps = [(b / max(a, 1e-6), (a + b) / 2) for a, b in pairwise(ordered)]
    best = max(jumps, default=(1.0, 0.0))
    limit = best[1] if best[0] >= WIDER else 0.0
    return [step > limit if limit else True for step in steps]
