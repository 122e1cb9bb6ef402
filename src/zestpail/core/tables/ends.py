"""Where a table ends above the foot of its page: at a landmark, at a line of other words, at a wide gap."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from statistics import median

from rapidfuzz import fuzz

from zestpail.core.finders import SearchContext
from zestpail.core.landmarks.labels import folded
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line
from zestpail.core.tables.found import Strip
from zestpail.core.tables.table import WIDEST_GAP, Table

ALIKE = 85.0
"""How alike (0 to 100) the beginning of a line must be to the words at which a table ends; set by hand."""
GAP_WIDER = 1.5
"""How much wider a gap under a table must be than those within it to be its end; set by hand."""


def bounded(context: SearchContext, table: Table, strip: Strip) -> Strip:
    """The strip down to where the table ends on its page."""
    box = strip.box
    lines = [line for line in context.lines if line.page == strip.page and box.y0 <= line.box.cy <= box.y1]
    ends = [box.y1, *_landmark(context, table, strip), *_words(lines, table), *_gap(lines, table, strip)]
    end = min(ends)
    return strip if end == box.y1 else strip.model_copy(update={"box": Box(box.x0, box.y0, box.x1, end)})


def proposed_end(inside: Sequence[Line], after: Sequence[Line]) -> dict[str, object]:
    """How the table that these lines make could end before the ones ``after`` it, as settings of a table."""
    if not after or not inside:
        return {}
    height = median(line.height for line in inside)
    widest = max((b.box.y0 - a.box.y1 for a, b in pairwise(inside)), default=height)
    gap = after[0].box.y0 - inside[-1].box.y1
    limit = min(round((gap + max(widest, 0)) / 2 / height, 1), WIDEST_GAP)
    if gap > GAP_WIDER * max(widest, 0.5 * height) and limit * height > widest:
        return {"ends_after_gap": limit}
    words = after[0].text.split("\t")[0].strip()
    letters = sum(c.isalpha() for c in words)
    return {"ends_at_words": (words,)} if letters >= 3 and not any(c.isdigit() for c in words) else {}


def _landmark(context: SearchContext, table: Table, strip: Strip) -> list[float]:
    seen = context.landmark(table.ends_at) if table.ends_at else None
    if seen is None or seen.page != strip.page or seen.box.y0 <= strip.box.y0:
        return []
    return [seen.box.y0]


def _words(lines: Sequence[Line], table: Table) -> list[float]:
    wanted = [folded(words) for words in table.ends_at_words]
    return [
        line.box.y0 - 0.5
        for line in lines
        if any(fuzz.ratio(folded(line.text)[: len(words)], words) >= ALIKE for words in wanted)
    ]


def _gap(lines: Sequence[Line], table: Table, strip: Strip) -> list[float]:
    if not table.ends_after_gap:
        return []
    inside = sorted((one for one in lines if strip.box.x0 <= one.box.cx <= strip.box.x1), key=lambda line: line.box.y0)
    if not inside:
        return []
    limit = table.ends_after_gap * median(line.height for line in inside)
    lowest = inside[0].box.y1
    for line in inside[1:]:
        if line.box.y0 - lowest > limit:
            return [lowest + 1]
        lowest = max(lowest, line.box.y1)
    return []
