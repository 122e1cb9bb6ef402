"""The finder that looks to the right of a label, and under it."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from zestpail.core.finders.block import in_full
from zestpail.core.finders.candidate import Candidate, of_span
from zestpail.core.finders.columns import pieces_between, under_head
from zestpail.core.finders.context import LEAST_SENTENCE, FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.printed.in_form_field import named_like
from zestpail.core.kinds.kind import Span
from zestpail.core.landmarks.labels import Label, LabelMatch, folded
from zestpail.core.landmarks.wordings import MEANINGS, usual_labels
from zestpail.core.reading.features.blank_strips import strips_of
from zestpail.core.reading.geometry import Box, around
from zestpail.core.setting import Setting

POINTS_PER_MM = 72 / 25.4
"""By definition: 72 points and 25.4 mm an inch."""
UNDER = 0.9
"""What a value under its label scores against one at its right."""
SHOWN = 3
"""Wordings of a label that a sentence names; the others are counted."""
WIDEST = 16.0
"""How wide an area without a readable word is, in heights of the label."""
GOES_ON = 0.8
"""Nearness of a value that begins the next line of a sentence."""
AMID = 0.35
"""What is left of the score beside a label that stands amid other words."""
A_LABEL = 0.25
"""What is left of the score of what is itself the label of something else."""
BLOCK = 7.0
"""How far the block under a heading reaches at most, in heights of the heading."""
OF_ANOTHER = 0.2
"""What is left of the score of what stands in somebody else's block."""
USUAL, WEAK = 0.97, 0.6
"""What the usual words of many languages count for beside labels that were entered, and what vague labels do."""
WORD_BETWEEN = 0.75
"""What is left of the score for each foreign word between label and value."""

_PHRASE = re.compile(r"(?: [^\W\d_][^\W\d_.-]*){1,4} ?(?=[:\t])")
"""Words that go on after a label up to a colon or a wide gap."""

Direction = Literal["right", "below", "left", "above"]
WORDED: dict[Direction, str] = {"right": "right of", "below": "below", "left": "left of", "above": "above"}
SIDES: dict[str, str] = {"right": "right of the label", "below": "below it", "left": "left of it", "above": "above it"}
Bound = Literal["ruled_line", "blank_strip"]
BOUNDS: dict[str, str] = {"ruled_line": "ruled line", "blank_strip": "blank strip"}
BEYOND = 0.05
"""What is left of the score of what stands beyond the ruled line or blank strip that ends the search."""


class BesideLabel(Finder):
    """Look beside one of the labels, in the directions given, up to a distance."""

    title: ClassVar[str] = "Beside a label"
    added_by: ClassVar[str] = "labels"
    by_label: ClassVar[bool] = True
    finder: Literal["beside_label"] = "beside_label"
    labels: Annotated[tuple[str, ...], Setting("Labels that it stands by, one a line", "lines")]
    meanings: Annotated[
        tuple[str, ...], Setting("Usual words, in many languages, that it stands by", "choices", MEANINGS)
    ] = ()
    weak_labels: tuple[str, ...] = ()
    """Wordings so general that they count only where no proper label is found."""
    weak_meanings: tuple[str, ...] = ()
    directions: Annotated[tuple[Direction, ...], Setting("It stands", "choices", SIDES)] = ("right", "below")
    reach_mm: Annotated[float, Setting("up to so many mm away", "number")] = Field(default=150, gt=0, le=2000)
    """How far to the right, in millimetres."""
    reach_lines: float = Field(default=3, gt=0, le=100)
    """How far below or above, in line heights."""
    up_to: Annotated[tuple[Bound, ...], Setting("and not beyond a", "choices", BOUNDS)] = ()
    """What ends the search below and above."""
    not_under: tuple[str, ...] = ()
    """Headings that make the block of lines under them somebody else's ("Bill to")."""

    @property
    def stays_when_emptied(self) -> bool:
        """The weak labels stay."""
        return bool(self.weak_labels)

    @model_validator(mode="after")
    def _somewhere(self) -> BesideLabel:
        if self.labels and not self.directions:
            raise ValueError("a label without a direction finds nothing: say on which side of it the value stands")
        return self

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        labels = " or ".join(f"“{label}”" for label in self.labels[:SHOWN]) or "no label"
        others = len(self.labels) - SHOWN
        more = f" and {others} more" if others > 0 else ""
        usual = " or ".join(MEANINGS[meaning] for meaning in self.meanings if meaning in MEANINGS)
        yield Piece("Look ")
        yield Piece(" or ".join(WORDED[d] for d in self.directions), "beside_label.directions")
        yield Piece(" ")
        yield Piece(labels + more, "beside_label.labels")
        if usual:
            yield Piece(", or the usual words for ")
            yield Piece(usual, "beside_label.meanings")
        yield Piece(", up to ")
        yield Piece(f"{self.reach_mm:g} mm", "beside_label.reach_mm")
        yield Piece(" away")
        if self.up_to:
            yield Piece(" and not beyond a ")
            yield Piece(" or a ".join(BOUNDS[bound] for bound in self.up_to), "beside_label.up_to")
        yield Piece(".")

    def wordings(self, key: str) -> Iterator[Label]:
        """The labels as they take part in the matching."""
        yield from (Label(text, key) for text in self.labels)
        yield from (Label(text, key, WEAK) for text in self.weak_labels)
        yield from usual_labels(self.meanings, key, USUAL)
        yield from usual_labels(self.weak_meanings, key, WEAK)
        yield from (Label(text, None) for text in self.not_under)

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What stands beside each place where one of the labels was found, or was filled into a form as it."""
        yield from named_like(context, target, self.labels, self.finder)
        for match in context.matches:
            if match.label.owner == target.key:
                found = self._beside(context, target, match)
                yield from map(_of_another, found) if self._is_anothers(context, match) else found

    def _beside(self, context: SearchContext, target: FieldTarget, match: LabelMatch) -> Iterator[Candidate]:
        if "right" in self.directions:
            yield from self._right(context, target, match)
        if "below" in self.directions:
            yield from self._bounded(context, match, self._below(context, target, match))
        if "left" in self.directions:
            yield from self._left(context, target, match)
        if "above" in self.directions:
            yield from self._bounded(context, match, self._above(context, target, match))

    def _is_anothers(self, context: SearchContext, match: LabelMatch) -> bool:
        """Whether the label stands in the block under one of the headings to keep away from."""
        if not self.not_under:
            return False
        for other in context.matches:
            if other.label.text in self.not_under and other.line.page == match.line.page:
                height = other.line.height
                below = 0 < match.box.cy - other.box.cy < BLOCK * height
                if below and abs(match.box.x0 - other.box.x0) < 2 * height:
                    return True
        return False

    def _bounded(self, context: SearchContext, match: LabelMatch, found: Iterator[Candidate]) -> Iterator[Candidate]:
        """The candidates, those beyond a line or a strip that ends the search hardly ever winning."""
        page = context.document.pages[match.line.page]
        bounds = [*(page.rules if "ruled_line" in self.up_to else ())]
        bounds += strips_of(page) if "blank_strip" in self.up_to else ()
        for candidate in found:
            low, high = sorted((match.box.cy, candidate.box.cy))
            crossed = any(low < b.cy < high and b.stacked(candidate.box) > 0 for b in bounds)
            parts = candidate.parts | ({"beyond": BEYOND} if crossed else {})
            yield candidate.model_copy(update={"parts": parts})

    def _left(self, context: SearchContext, target: FieldTarget, match: LabelMatch) -> Iterator[Candidate]:
        """What stands before the label on its line, nearest first."""
        for span in context.spans(match.line, target.kind):
            gap = match.box.x0 - span.box.x1
            if span.end <= match.start and gap <= self.reach_mm * POINTS_PER_MM:
                between = len(re.findall(r"\w{2,}", match.line.text[span.end : match.start]))
                near = math.exp(-max(gap, 0.0) / (60 * match.line.height)) * WORD_BETWEEN**between
                yield _candidate(span, match, near * _own(context, target, span), 1.0, "left of")

    def _above(self, context: SearchContext, target: FieldTarget, match: LabelMatch) -> Iterator[Candidate]:
        """What stands over the label, on the nearest line that has it."""
        line = match.line
        over = [o for o in context.lines if o.page == line.page and o.box.cy < line.box.cy - 0.3 * line.height]
        for other in sorted(over, key=lambda o: -o.box.cy):
            gap = max(line.box.y0 - other.box.y1, 0.0) / line.height
            if gap > self.reach_lines:
                return
            column = [s for s in context.spans(other, target.kind) if _in_column(match, s)]
            for span in column:
                yield _candidate(span, match, math.exp(-gap / 4) * _own(context, target, span), UNDER, "above")
            if column:
                return

    def areas(self, context: SearchContext, match: LabelMatch) -> Iterator[tuple[Box, str]]:
        """Where on the page (points) a value of this label would stand, right of it and under it."""
        line, page = match.line, context.document.pages[match.line.page]
        tall = match.box.height
        if "right" in self.directions:
            ends = [m.box.x0 for m in context.matches_on(line) if m.start >= match.end]
            end = min([*ends, match.box.x1 + self.reach_mm * POINTS_PER_MM, page.width])
            # A label at the left may have its value in the right-hand column: what stands there says where.
            beside = [w.box for w in line.words if match.box.x1 < w.box.x0 and w.box.x1 <= end]
            start = min((b.x0 for b in beside), default=match.box.x1)
            stop = max((b.x1 for b in beside), default=min(start + WIDEST * tall, end))
            if stop - start > tall:
                yield Box(start, match.box.y0 - 0.2 * tall, stop, match.box.y1 + 0.2 * tall), "right of"
        if "below" in self.directions:
            for under in context.next_lines(line, self.reach_lines * line.height)[:1]:
                column = [w.box for w in under.words if w.box.stacked(match.box) > 0]
                if column:
                    yield around(column), "under"

    def _right(self, context: SearchContext, target: FieldTarget, match: LabelMatch) -> Iterator[Candidate]:
        line = match.line
        after = _phrase_end(line.text, match.end)
        ends = [m.start for m in context.matches_on(line) if m.start >= after and m.label.owner != target.key]
        stop = min(ends, default=len(line.text))
        spans = pieces_between(line, match.end, stop) if target.kind.free else context.spans(line, target.kind)
        if not line.text[match.end :].strip(" :.-"):
            yield from self._next_line(context, target, match)
        for span in spans:
            if not match.end <= span.start < stop:
                continue
            gap = max(span.box.x0 - match.box.x1, 0.0)
            if gap > self.reach_mm * POINTS_PER_MM:
                continue
            between = len(re.findall(r"\w{2,}", line.text[match.end : span.start]))
            near = math.exp(-gap / (60 * line.height)) * WORD_BETWEEN**between
            candidate = _candidate(
                span, match, near * _own(context, target, span) * _announces(target, match), 1.0, "right of"
            )
            yield in_full(context, target.kind, span, candidate)

    def _next_line(self, context: SearchContext, target: FieldTarget, match: LabelMatch) -> Iterator[Candidate]:
        """A value at the beginning of the next line, where a sentence goes on after the label."""
        line = match.line
        if len(line.words) < LEAST_SENTENCE or "\t" in line.text:  # columns are no sentence
            return
        for after in context.next_lines(line, line.height)[:1]:
            for span in context.spans(after, target.kind)[:1]:
                if span.start == 0 and abs(after.box.x0 - line.box.x0) < 2 * line.height:
                    yield in_full(context, target.kind, span, _candidate(span, match, GOES_ON, 1.0, "after"))

    def _below(self, context: SearchContext, target: FieldTarget, match: LabelMatch) -> Iterator[Candidate]:
        line = match.line
        for under in context.next_lines(line, self.reach_lines * line.height):
            spans = under_head(context, match, under, target.kind) or context.spans(under, target.kind)
            column = [span for span in spans if _in_column(match, span) or _headed(context, match, span)]
            gap = max(under.box.y0 - line.box.y1, 0.0) / line.height
            for span in column:
                near = math.exp(-gap / 4)
                candidate = _candidate(
                    span, match, near * _own(context, target, span) * _announces(target, match), UNDER, "under"
                )
                yield in_full(context, target.kind, span, candidate)
            if column or any(match.box.stacked(m.box) > 0.3 for m in context.matches_on(under)):
                return


def _phrase_end(text: str, end: int) -> int:
    """Where the words end that a label begins: "Total paid with VAT" has one value, though each word is a label."""
    phrase = _PHRASE.match(text, end)
    return phrase.end() if phrase else end


def _of_another(candidate: Candidate) -> Candidate:
    return candidate.model_copy(update={"parts": {**candidate.parts, "ours": OF_ANOTHER}})


def _own(context: SearchContext, target: FieldTarget, span: Span) -> float:
    """What is left of the nearness of a value that is itself the label of something else."""
    others = (m for m in context.matches_on(span.line) if m.label.owner != target.key)
    return A_LABEL if target.kind.free and any(m.start <= span.start < m.end for m in others) else 1.0


def _announces(target: FieldTarget, match: LabelMatch) -> float:
    """What is left of a label that stands amid other words, for texts and names: "the general *conditions* are"."""
    before, after = match.line.text[: match.start], match.line.text[match.end :]
    alone = not before or before[-1] in "\t:" or before.endswith((": ", ". ")) or after.startswith((":", " :", "\t"))
    return 1.0 if alone or not (target.kind.free or target.kind.a_name) else AMID


def _in_column(match: LabelMatch, span: Span) -> bool:
    aligned = min(abs(match.box.x0 - span.box.x0), abs(match.box.x1 - span.box.x1)) < 1.5 * match.line.height
    return match.box.stacked(span.box) > 0.5 and (aligned or match.box.stacked(span.box) > 0.9)


def _headed(context: SearchContext, match: LabelMatch, span: Span) -> bool:
    """Whether the label is one of a row of labels over a row of values, and the nearest of them to the value."""
    headers = [m for m in context.matches_on(match.line) if m.start >= match.end or m.end <= match.start]
    if not headers or span.line.box.y0 - match.line.box.y1 > 1.5 * match.line.height:
        return False
    own = _aside(match, span)
    return own < 3 * match.line.height and all(own < _aside(header, span) for header in headers)


def _aside(match: LabelMatch, span: Span) -> float:
    """How far the value stands from under the label, in points; 0 where they overlap sideways."""
    return max(match.box.x0 - span.box.x1, span.box.x0 - match.box.x1, 0.0)


def _candidate(span: Span, match: LabelMatch, near: float, direction: float, where: str) -> Candidate:
    found = of_span(
        span,
        "beside_label",
        {
            "label": round(match.similarity * match.label.weight, 3),
            "near": round(near, 3),
            "direction": direction,
            "shape": round(span.shape, 3),
        },
        f"{where} “{match.line.text[match.start : match.end]}”",
    )
    return found.model_copy(update={"facts": _facts(span, match, where)})


def _facts(span: Span, match: LabelMatch, where: str) -> dict[str, float]:
    """What the judge is told of a label and of where the value stands by it."""
    text, height = match.line.text, match.line.height
    start = text.rfind("\t", 0, match.start) + 1
    ends = [at for at in (text.find("\t", match.end), len(text)) if at >= 0]
    if span.line is match.line and span.start >= match.end:
        ends.append(span.start)
    cell = folded(text[start : min(ends)])
    return {
        "similar": match.similarity,
        "weight": match.label.weight,
        "whole_cell": min(len(folded(text[match.start : match.end])) / max(len(cell), 1), 1.0),
        "at_its_start": float(match.start - start <= 1),
        "colon": float(text[match.end : match.end + 2].strip()[:1] == ":"),
        "letters": min(len(folded(match.label.text)), 24) / 24,
        "right_of": float(where == "right of"),
        "under": float(where == "under"),
        "across": min(max(span.box.x0 - match.box.x1, 0.0) / height, 60) / 60,
        "down": min(max(span.box.y0 - match.box.y1, 0.0) / height, 8) / 8,
        "shifted": min(abs(span.box.x0 - match.box.x0) / height, 20) / 20,
        "ends_apart": min(abs(span.box.x1 - match.box.x1) / height, 20) / 20,
    }
