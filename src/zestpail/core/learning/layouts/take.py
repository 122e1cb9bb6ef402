"""What stands at a place that the standing words voted for, as a value of its kind."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

from rapidfuzz.distance import Levenshtein

from zestpail.core.document_type.learned import TaughtPlace
from zestpail.core.finders.candidate import legibility
from zestpail.core.finders.context import SearchContext
from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.landmarks.labels import folded
from zestpail.core.learning.layouts.remember import key_of
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import WIDE_GAP, Line
from zestpail.core.reading.page import Word

LEVEL = 0.75
"""Heights of a line by which what is read may stand over or under the place."""
REACH = 45.0
"""Points by which a value may begin, end, or have its middle beside where the taught one did."""
SAME_NAME = 0.7
"""How alike what is read at its place must be to the taught name to be that name."""
KNOWN_NAME = 0.8
"""How alike it must be for nobody to have to read it again."""
PART = 0.8
"""The share of a name's box that lies in another of which it is a part."""
PITCH = 1.9
"""Heights of print between two lines of a value at most."""


@dataclass(frozen=True)
class Taken:
    """What stands there: its value, and how near the place it stands, in [0, 1]."""

    value: str
    raw: str
    box: Box
    confidence: float
    shape: float
    near: float
    known: bool = False
    """Whether it is known from the sample, and read well enough to be just that."""

    @property
    def parts(self) -> dict[str, float]:
        """As parts of a score."""
        return {"place": round(self.near, 3), "shape": round(self.shape, 3), "reading": legibility(self.confidence)}


def taken(
    context: SearchContext, kind: Kind, page: int, box: Box, taught: TaughtPlace, standing: Collection[Box]
) -> Iterator[Taken]:
    """What stands on the page at ``box`` (points) that may be the value; what is in the boxes ``standing`` is not."""
    lines = [line for line in context.lines if line.page == page]
    top = box if taught.lines == 1 else Box(box.x0, box.y0, box.x1, box.y0 + box.height / taught.lines)
    level = [line for line in lines if _level(line, top)]
    if kind.block:
        yield from _blocks(kind, lines, level, top, standing)
        return
    for line in level:
        if kind.narrow:
            yield from _narrow(context, kind, line, box, standing)
        else:
            yield from _text(context, kind, line, box, standing, taught.after)


def _narrow(context: SearchContext, kind: Kind, line: Line, box: Box, standing: Collection[Box]) -> Iterator[Taken]:
    """What fits the kind among the words that belong to no layout; if nothing does, among all words of the line."""
    own = [Line(line.page, tuple(piece)) for piece in _pieces(line, box, standing, apart=False)]
    among = [span for piece in own for span in kind.spot(piece, context.style)] if kind.wraps == "never" else []
    whole = context.spans(line, kind)
    for span in [_whole(one, whole) for one in among] or whole:
        near = nearness(span.box, box, line.height)
        if near > 0:
            yield Taken(span.value, span.raw, span.box, span.confidence, span.shape, near)


def _whole(part: Span, whole: Sequence[Span]) -> Span:
    """What a piece belongs to, where only figures were taken for words of the layout: the 3 of 3 050,00."""
    box = part.box
    for span in whole:
        around_it = span.box.shared_area(box) > 0.8 * box.width * box.height and len(span.raw) > len(part.raw)
        if around_it and not any(c.isalpha() for c in span.raw.replace(part.raw, "")):
            return span
    return part


def nearness(found: Box, place: Box, height: float) -> float:
    """How near to its place something stands, in [0, 1]: by the edge or the middle by which it is set."""
    aside = min(abs(found.x0 - place.x0), abs(found.x1 - place.x1), abs(found.cx - place.cx))
    across = abs(found.cy - place.cy) / max(height, 1.0)
    if aside > REACH or across > LEVEL + 0.5:
        return 0.0
    return float((1 - aside / (1.6 * REACH)) * (1 - 0.5 * max(across - 0.2, 0.0)))


def _level(line: Line, box: Box) -> bool:
    return abs(line.box.cy - box.cy) < LEVEL * max(line.height, min(box.height, 2 * line.height)) or (
        line.box.side_by_side(box) > 0.6 and line.height < 2.5 * box.height
    )


def with_same_name(
    context: SearchContext, page: int, box: Box, taught: TaughtPlace, read: Sequence[Taken]
) -> list[Taken]:
    """The names that were read at the place; instead of those that are the taught one but for slips, that one."""
    same = list(_same_name(context, page, box, taught.value)) if taught.value else []
    return [*same, *(one for one in read if not any(_alike(one, known) for known in same))]


def _alike(one: Taken, known: Taken) -> bool:
    """Whether a name is the known one but for slips, or a part of it."""
    part = one.box.shared_area(known.box) > PART * one.box.width * one.box.height
    return part or Levenshtein.normalized_similarity(folded(one.value), folded(known.value)) >= SAME_NAME


def _same_name(context: SearchContext, page: int, box: Box, name: str) -> Iterator[Taken]:
    wanted = folded(name)
    for line in context.lines:
        if line.page != page or not _level(line, box):
            continue
        near = [word for word in line.words if word.box.x1 > box.x0 - 4 and word.box.x0 < box.x1 + 4]
        words, alike = _most_alike(near, wanted)
        if alike >= SAME_NAME:
            place = around(word.box for word in words)
            raw = " ".join(word.text for word in words)
            yield Taken(name, raw, place, alike, 1.0, 1.0, known=alike >= KNOWN_NAME)


def _most_alike(words: Sequence[Word], wanted: str) -> tuple[Sequence[Word], float]:
    """The run of words that is most like a name, and how alike; the shorter one where more adds nothing."""
    runs = [words[first:last] for first in range(len(words)) for last in range(first + 1, len(words) + 1)]
    ranked = [(Levenshtein.normalized_similarity(_joined(run), wanted), -len(run), at) for at, run in enumerate(runs)]
    if not ranked:
        return (), 0.0
    alike, _, at = max(ranked)
    return runs[at], alike


def _joined(words: Sequence[Word]) -> str:
    return folded(" ".join(word.text for word in words))


def _text(
    context: SearchContext, kind: Kind, line: Line, box: Box, standing: Collection[Box], after: str
) -> Iterator[Taken]:
    """A name or a piece of text: the words about the place, up to a wide gap or to words of the layout."""
    within = [word for word in line.words if box.grown(1).covers_centre_of(word.box)]
    pieces = [_up_to(piece, after) for piece in _pieces(line, box, standing)]
    if within and within not in pieces and not any(word.box in standing for word in within):
        pieces.append(within)
    for piece in filter(None, pieces):
        own = Line(line.page, tuple(piece))
        spans = [s for s in kind.spot(own, context.style) if kind.a_name or s.end - s.start > 0.6 * len(own.text)]
        for span in spans:
            near = nearness(span.box, box, line.height)
            if near > 0:
                yield Taken(span.value, span.raw, span.box, span.confidence, max(span.shape, 0.8), near)
        near = nearness(own.box, box, line.height)
        value = kind.parse(own.text.replace("\t", " "), context.style) if near > 0 and not spans else None
        if value:
            sure = min(word.confidence for word in piece)
            yield Taken(value, own.text.replace("\t", " "), own.box, sure, 0.8, near)


def _up_to(piece: list[Word], after: str) -> list[Word]:
    """The piece up to the word that followed the taught value."""
    if not after:
        return piece
    return piece[: next((at for at, word in enumerate(piece) if at and key_of(word) == after), len(piece))]


def _pieces(line: Line, box: Box, standing: Collection[Box], *, apart: bool = True) -> Iterator[list[Word]]:
    """The runs of words of a line that belong to no layout, those about ``box``; with ``apart`` a gap ends a run."""
    runs: list[list[Word]] = []
    for before, word in zip((None, *line.words), line.words, strict=False):
        if word.box in standing or (not any(c.isalnum() for c in word.text) and not runs):
            runs.append([])
            continue
        gap = before is not None and word.box.x0 - before.box.x1 > WIDE_GAP * line.height
        if not runs or (runs[-1] and gap and apart):
            runs.append([])
        runs[-1].append(word)
    yield from (run for run in runs if run and around(w.box for w in run).grown(REACH).shared_area(box) > 0)


def _blocks(
    kind: Kind, lines: Sequence[Line], level: Sequence[Line], top: Box, standing: Collection[Box]
) -> Iterator[Taken]:
    """Lines one under the other from the place on, up to words of the layout or a gap."""
    for first in level:
        column = Box(top.x0 - 3, first.box.y0, max(top.x1, top.x0 + 40), first.box.y1)
        rows: list[list[Word]] = []
        bottom = first.box.cy
        for line in (one for one in lines if one.box.cy >= first.box.cy - 1):
            if rows and line.box.cy - bottom > PITCH * first.height:
                break
            words = _in_column(line, column)
            if not words:
                continue
            if any(word.box in standing for word in words):
                break
            rows.append(words)
            bottom = line.box.cy
        if rows:
            texts = [" ".join(word.text for word in row) for row in rows]
            every = [word for row in rows for word in row]
            near = nearness(around(w.box for w in rows[0]), top, first.height)
            yield Taken(
                kind.joined(texts), "\n".join(texts), around(w.box for w in every), min(w.confidence for w in every),
                1.0, max(near, 0.3),
            )  # fmt: skip


def _in_column(line: Line, column: Box) -> list[Word]:
    """The words of the line that begin in the column, and those that follow without a wide gap."""
    words: list[Word] = []
    for word in line.words:
        if words and word.box.x0 - words[-1].box.x1 > WIDE_GAP * line.height:
            break
        if words or column.x0 <= word.box.x0 <= column.x1:
            words.append(word)
    return words
