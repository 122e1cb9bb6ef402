"""All that might be a field on a sample that nobody labelled: pairs of label and value, boxes, signatures, tables."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import BesideLabel
from zestpail.core.finders.inked.tick_boxes import TickBox, tick_boxes
from zestpail.core.kinds import Firm, OneLine, Style, style_of
from zestpail.core.landmarks.wordings import MEANINGS, meaning_of, words_for
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line
from zestpail.core.tables import Table
from zestpail.core.teaching.field_proposal import key_for, kind_of, name_of
from zestpail.core.teaching.mark_proposal import propose_inked
from zestpail.core.teaching.pairs import Pair, pairs_on
from zestpail.core.teaching.table_proposal import propose_table

LEAST = 0.5
"""Pairs less likely than this are not proposed."""
MOST = 40
"""Proposals of a document at most: more is no help."""
INKED = 0.8
"""How likely boxes and places to sign are wanted, against pairs."""
LEAST_COLUMNS, LEAST_ROWS = 3, 2
ALIGNED = 6.0
"""Points by which pieces of two lines may begin, or end, apart and still be in one column."""
MOST_WORDS = 2
"""Words beside each of several boxes that are the answers to one question."""
TOGETHER = 140.0
"""Points between two such boxes at most."""


@dataclass(frozen=True)
class Proposal:
    """A field that is proposed, and what stands there on the sample."""

    rule: FieldRule
    page: int
    box: Box
    value: str
    """As it is kept; "" where it is told by ink."""
    raw: str
    score: float


@dataclass(frozen=True)
class ProposedTable:
    """A table that is proposed, and where it lies."""

    table: Table
    page: int
    box: Box


def propose_all(document: DocumentReading) -> tuple[list[Proposal], list[ProposedTable]]:
    """Proposals for all that may be a field on the document, best first, and its tables."""
    style, keys = style_of(document.lines), list[str]()
    found: list[Proposal] = []
    tables: list[ProposedTable] = []
    for page in range(len(document.pages)):
        lines = [line for line in document.lines if line.page == page]
        used: list[Box] = []
        for table in _tables(document, page, lines, used, keys, style):
            tables.append(table)
            keys.append(table.table.key)
            used.append(table.box)
        for proposal in _inked(document, page, used, keys):
            found.append(proposal)
            keys.append(proposal.rule.key)
            used.append(proposal.box)
        for pair in pairs_on(lines, used, style):
            if pair.score >= LEAST:
                found.append(_of_pair(pair, style, keys))
                keys.append(found[-1].rule.key)
    return sorted(found, key=lambda one: (-one.score, one.page, one.box.cy))[:MOST], tables


def _of_pair(pair: Pair, style: Style, taken: Collection[str]) -> Proposal:
    kind = kind_of(pair.text, style)
    value = kind.parse(pair.text, style)
    if value is None:
        kind, value = OneLine(), pair.text
    if isinstance(kind, OneLine) and Firm().meant_by(pair.text, style):
        kind = Firm()
    name = _name(pair.label)
    rule = FieldRule(
        key=key_for(name, taken), name=name, kind=kind,
        finders=(BesideLabel(labels=(pair.label,), directions=(pair.direction,)),),
    )  # fmt: skip
    return Proposal(rule, pair.page, pair.box, value, pair.text, pair.score)


def _name(label: str) -> str:
    """The label as a name; one that is known in other languages than English has the English name of what it means."""
    meaning = meaning_of(label)
    if meaning is None or not MEANINGS[meaning].startswith("the "):
        return name_of(label)
    spoken = {language for text, several in words_for(meaning).items() if text.casefold() == label.casefold()
              for language in several}  # fmt: skip
    return name_of(label) if not spoken or "en" in spoken else name_of(MEANINGS[meaning].removeprefix("the "))


def _inked(document: DocumentReading, page: int, used: Sequence[Box], taken: Collection[str]) -> Iterator[Proposal]:
    """Boxes to be ticked, those of one question together, and places to sign."""
    boxes = [box for box in tick_boxes(document.pages[page], page, "right") if box.words and not _in(box.box, used)]
    keys = list(taken)
    for group in _questions(boxes):
        place = around(box.whole for box in group)
        rule = propose_inked(document, page, place.grown(1), keys)
        if rule:
            keys.append(rule.key)
            yield Proposal(rule, page, place, "", " ".join(box.text for box in group), INKED)
    for line in document.lines:
        if line.page != page:
            continue
        for word in line.words:
            area = Box(word.box.x0 - 1, word.box.y0 - 1, word.box.x1 + 60, word.box.y1 + 2 * word.box.height)
            alone = sum(area.covers_centre_of(other.box) for other in line.words) == 1
            rule = propose_inked(document, page, area, keys) if alone and not _in(word.box, used) else None
            if rule and rule.kind.told_by == "stroke":
                keys.append(rule.key)
                yield Proposal(rule, page, area, "", word.text, INKED)


def _questions(boxes: Sequence[TickBox]) -> list[list[TickBox]]:
    """The boxes, those on one level with few words each together: they answer one question."""
    groups: list[list[TickBox]] = []
    for box in sorted(boxes, key=lambda box: (round(box.box.cy / 6), box.box.x0)):
        last = groups[-1][-1] if groups else None
        near = last is not None and last.box.side_by_side(box.box) > 0.5 and box.box.x0 - last.whole.x1 < TOGETHER
        if last is not None and near and max(len(last.words), len(box.words)) <= MOST_WORDS:
            groups[-1].append(box)
        else:
            groups.append([box])
    return groups


def _tables(
    document: DocumentReading,
    page: int,
    lines: Sequence[Line],
    used: Sequence[Box],
    taken: Collection[str],
    style: Style,
) -> Iterator[ProposedTable]:
    """Runs of lines with as many pieces or more, each under the other, under a line without figures."""
    at = 0
    while at < len(lines):
        run = _run(lines[at:])
        if len(run) > LEAST_ROWS and not any(_in(line.box, used) for line in run):
            box = around(line.box for line in run).grown(1.5)
            table = propose_table(document, page, box, taken, style)
            if table and sum(bool(column.headers) for column in table.columns) >= LEAST_COLUMNS:
                yield ProposedTable(table, page, box)
                at += len(run)
                continue
        at += 1


def _run(lines: Sequence[Line]) -> list[Line]:
    """The lines from the first one on that have columns in common with it."""
    if not lines or any(c.isdigit() for c in lines[0].text) or ":" in lines[0].text:
        return []
    header = _edges(lines[0])
    if len(header) < LEAST_COLUMNS:
        return []
    run = [lines[0]]
    for line in lines[1:]:
        pitch = line.box.y0 - run[-1].box.y1
        shared = sum(any(_same_column(one, other) for other in header) for one in _edges(line))
        if shared < LEAST_COLUMNS - 1 or pitch > 3 * line.height or ":" in line.text:
            break
        run.append(line)
    return run


def _edges(line: Line) -> list[tuple[float, float]]:
    """Where each piece of the line begins and ends, in points."""
    edges, at = [], 0
    for piece in line.text.split("\t"):
        box = line.box_of(at, at + len(piece))
        edges.append((box.x0, box.x1))
        at += len(piece) + 1
    return edges


def _same_column(one: tuple[float, float], other: tuple[float, float]) -> bool:
    return abs(one[0] - other[0]) < ALIGNED or abs(one[1] - other[1]) < ALIGNED


def _in(box: Box, several: Sequence[Box]) -> bool:
    return any(one.covers_centre_of(box) for one in several)
