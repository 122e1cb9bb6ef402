"""Where a text of any shape begins and ends beside its label: at the label, at the next one, at a wide gap."""

from __future__ import annotations

import re
from collections.abc import Iterator

from zestpail.core.finders.context import SearchContext
from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.text import tidy
from zestpail.core.landmarks.labels import LabelMatch
from zestpail.core.reading.lines import Line

_GAP = re.compile(r"[\s:.]*")


def pieces_between(line: Line, start: int, stop: int) -> Iterator[Span]:
    """The pieces of the line from ``start`` to ``stop`` (characters), cut at wide gaps."""
    at = start
    for text in line.text[start:stop].split("\t"):
        skipped = _GAP.match(text)
        begin = at + (skipped.end() if skipped else 0)
        piece = line.text[begin : at + len(text)].rstrip()
        if any(c.isalnum() for c in piece):
            yield Span(line, begin, begin + len(piece), tidy(piece), 1.0)
        at += len(text) + 1


def under_head(context: SearchContext, match: LabelMatch, under: Line, kind: Kind) -> list[Span]:
    """What stands on the line below a label of a row of labels, as far as the next one; else nothing."""
    headers = [m for m in context.matches_on(match.line) if m.start >= match.end]
    if not kind.free or not (headers or any(m.end <= match.start for m in context.matches_on(match.line))):
        return []
    slack = 0.6 * match.line.height
    edge = min((header.box.x0 for header in headers), default=float("inf")) - slack
    inside = [at for at, word in enumerate(under.words) if match.box.x0 - slack <= word.box.x0 < edge]
    if not inside:
        return []
    start = under.starts[inside[0]]
    end = under.starts[inside[-1]] + len(under.words[inside[-1]].text)
    return list(pieces_between(under, start, end))[:1]
