"""What all finders of a document share: its lines, its style, and the labels found on it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Protocol

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.parties.blocks import Block, blocks_in
from zestpail.core.finders.rates import Rate, rates_on
from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style, style_of
from zestpail.core.landmarks.labels import Label, LabelMatch, match_labels
from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.landmarks.match import LandmarkMatch
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line
from zestpail.core.reference.match import Matched
from zestpail.core.reference.reference_list import Entry

LEAST_SENTENCE = 6
"""Words on a line that may be a part of a sentence."""


class Memory(Protocol):
    """What samples taught, as the finder ``learned`` asks it."""

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What it proposes for the field."""

    def answers(self, context: SearchContext, target: FieldTarget, question: str) -> Iterator[Candidate]:
        """What it proposes as the answer to a question in plain words."""


class Lookup(Protocol):
    """Reference lists, as the finder ``from_list`` asks them."""

    def matched(self, key: str, named_by: str, context: SearchContext) -> Matched | None:
        """The entry of the list that the document speaks of; None where there is no such list."""

    def identified(self, key: str, value: str) -> Entry | None:
        """The entry of the list that a value identifies, but for spaces, case and punctuation."""


class SearchContext:
    """One document under search. Spans and labels are looked for once and kept."""

    def __init__(
        self,
        document: DocumentReading,
        labels: tuple[Label, ...],
        landmarks: Sequence[Landmark] = (),
        memory: Memory | None = None,
        lists: Lookup | None = None,
        style: Style | None = None,
    ) -> None:
        self.document = document
        self.labels = labels
        self.memory, self.lists, self._style = memory, lists, style
        self.landmarks = {landmark.key: landmark for landmark in landmarks}
        self._seen: dict[str, LandmarkMatch | None] = {}
        self._spans: dict[tuple[int, str], tuple[Span, ...]] = {}

    def with_style(self, style: Style) -> SearchContext:
        """The same document as one that writes so."""
        other = SearchContext(self.document, self.labels, (), self.memory, self.lists, style)
        other.landmarks = self.landmarks
        return other

    @property
    def lines(self) -> tuple[Line, ...]:
        return self.document.lines

    @cached_property
    def style(self) -> Style:
        return self._style or style_of(self.lines)

    @cached_property
    def blocks(self) -> tuple[Block, ...]:
        return blocks_in(self.lines)

    @cached_property
    def rates(self) -> tuple[Rate, ...]:
        return rates_on(self.lines)

    @cached_property
    def matches(self) -> tuple[LabelMatch, ...]:
        return match_labels(self.lines, self.labels)

    @cached_property
    def _by_line(self) -> dict[int, list[LabelMatch]]:
        grouped: dict[int, list[LabelMatch]] = {}
        for match in self.matches:
            grouped.setdefault(id(match.line), []).append(match)
        return grouped

    def matches_on(self, line: Line) -> list[LabelMatch]:
        """The labels on that line."""
        return self._by_line.get(id(line), [])

    def landmark_matches(self, key: str) -> list[LandmarkMatch]:
        """All places where the landmark may stand, best first, near misses too; none if there is no such landmark."""
        landmark = self.landmarks.get(key)
        return sorted(landmark.landmark_matches(self.document), key=lambda s: -s.score) if landmark else []

    def landmark(self, key: str) -> LandmarkMatch | None:
        """Where the landmark stands; None where nothing is like enough."""
        if key not in self._seen:
            landmark = self.landmarks.get(key)
            taken = [s for s in self.landmark_matches(key) if landmark and landmark.taken(s)]
            self._seen[key] = taken[0] if taken else None
        return self._seen[key]

    def reference_of(self, key: str) -> Box | None:
        """Where the landmark stood on the sample it was pointed at, in points."""
        return self.landmarks[key].reference.box if key in self.landmarks else None

    def spans(self, line: Line, kind: Kind) -> tuple[Span, ...]:
        """What on that line can be of that kind, left to right."""
        key = (id(line), kind.model_dump_json())
        if key not in self._spans:
            found = list(kind.spot(line, self.style))
            if kind.wraps == "always" or (kind.wraps == "in sentences" and len(line.words) >= LEAST_SENTENCE):
                found += self._wrapped(line, kind)
            self._spans[key] = tuple(sorted(found, key=lambda s: s.start))
        return self._spans[key]

    def _wrapped(self, line: Line, kind: Kind) -> list[Span]:
        """What begins on the line and goes on at the beginning of the next one, if that continues the block."""
        for under in self.next_lines(line, line.height)[:1]:
            if abs(under.box.x0 - line.box.x0) < 2 * line.height and under.height < 1.4 * line.height:
                both = Line(line.page, (*line.words, *under.words))
                break_at = len(line.text)
                crossing = [s for s in kind.spot(both, self.style) if s.start < break_at < s.end]
                if kind.wraps == "in sentences":  # a line of capitals over another one is no name
                    crossing = [span for span in crossing if span.shape == 1.0]
                return [replace(span, seen_to=break_at) for span in crossing]
        return []

    def next_lines(self, line: Line, reach: float) -> list[Line]:
        """The lines below on the same page, nearest first, that begin within ``reach`` points."""
        return [
            other
            for other in self.lines
            if other.page == line.page
            and other.box.cy > line.box.cy + 0.3 * line.height
            and other.box.y0 - line.box.y1 <= reach
        ]


@dataclass(frozen=True)
class FieldTarget:
    """The field that a finder works for, and what is known of it and of the others when its stage has its turn."""

    key: str
    kind: Kind
    found: Sequence[Candidate] = ()
    """What stands on the page for this field; empty while the page is looked at."""
    others: Mapping[str, Sequence[Candidate]] = field(default_factory=dict)
    """By field, its short list; after the choice, the one that was chosen."""
