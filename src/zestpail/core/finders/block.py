"""The lines that belong to a value of several lines: one under the other, aligned, without a wide gap."""

from __future__ import annotations

from dataclasses import dataclass

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import SearchContext
from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line

GAP = 0.9
"""In line heights: what stands further below begins something new."""
MOST_LINES = 40
"""A block ends here at the latest: a longer one has run into what follows."""


@dataclass(frozen=True)
class Lines:
    """A block of text: its lines, the box around them, and how sure the least sure word is."""

    texts: tuple[str, ...]
    box: Box
    confidence: float


def in_full(context: SearchContext, kind: Kind, span: Span, candidate: Candidate) -> Candidate:
    """The candidate with the lines under it, if its kind is one of several lines."""
    if not kind.block:
        return candidate
    block = lines_from(context, span)
    return candidate.model_copy(
        update={
            "value": kind.joined(block.texts),
            "raw": "\n".join(block.texts),
            "box": block.box,
            "confidence": block.confidence,
        }
    )


def lines_from(context: SearchContext, span: Span) -> Lines:
    """The span and the pieces of the lines below that continue it, up to a gap, a label or another column."""
    pieces, last = [(span.raw, span.box, span.confidence)], span
    for line in context.next_lines(span.line, MOST_LINES * 2 * span.line.height):
        found = _under(context, line, last)
        if found is None or len(pieces) >= MOST_LINES:
            break
        pieces.append((found.raw, found.box, found.confidence))
        last = found
    texts, boxes, sure = zip(*pieces, strict=True)
    return Lines(texts, around(boxes), min(sure))


def _under(context: SearchContext, line: Line, above: Span) -> Span | None:
    """The piece of the line that continues the one above; None where the block ends."""
    height = above.line.height
    if line.box.y0 - above.box.y1 > GAP * height:
        return None
    at = 0
    for text in line.text.split("\t"):
        piece = Span(line, at, at + len(text), text, 1.0)
        at += len(text) + 1
        if text and abs(piece.box.x0 - above.box.x0) < 1.5 * height:
            labelled = any(m.start < piece.end and piece.start < m.end for m in context.matches_on(line))
            return None if labelled else piece
    return None
