"""What a document offers for a kind of value: pieces of text that may be one, and what stands around each."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from weakref import WeakKeyDictionary

from zestpail.core.document_type.learned import TaughtSpot
from zestpail.core.finders.context import SearchContext
from zestpail.core.kinds.date import Date
from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.time_of_day import Time
from zestpail.core.learning.contexts import Around, Pages, goes_on
from zestpail.core.learning.spots import spots_of
from zestpail.core.learning.text_pieces import names_in, text_spans
from zestpail.core.reading.lines import Line

HEAD = re.compile(r"(?:From|Date|Subject): ")
UNLIKE_A_NAME = 0.4
"""How well formed a name is that only stands apart."""


@dataclass(frozen=True)
class Offer:
    """One piece that may be a value, what stands around it, and where it stands among all of its kind."""

    span: Span
    around: Around
    spot: TaughtSpot


class Offers:
    """All that a document offers, worked out once for each kind."""

    def __init__(self, context: SearchContext) -> None:
        self.context = context
        self.pages = Pages(context.document)
        self._kept: dict[str, tuple[Offer, ...]] = {}

    def of(self, kind: Kind) -> tuple[Offer, ...]:
        """What may be a value of the kind."""
        key = kind.model_dump_json()
        if key not in self._kept:
            spans = list(spans_of(self.context, kind))
            around = [self.pages.around(span.line, *words_in(span)) for span in spans]
            spots = spots_of(self.context, kind, spans, around)
            self._kept[key] = tuple(Offer(*one) for one in zip(spans, around, spots, strict=True))
        return self._kept[key]


_offers: WeakKeyDictionary[SearchContext, Offers] = WeakKeyDictionary()


def offers_of(context: SearchContext) -> Offers:
    """What the document offers."""
    if context not in _offers:
        _offers[context] = Offers(context)
    return _offers[context]


def in_head(line: Line) -> bool:
    """Whether a line is of the head of an e-mail."""
    return line.page == 0 and HEAD.match(line.text) is not None


def spans_of(context: SearchContext, kind: Kind) -> Iterator[Span]:
    """What may be a value of the kind, also over the end of a line in a text that runs on."""
    for at, line in enumerate(context.lines):
        if in_head(line) and context.style.day:
            continue
        if not kind.free:
            spans = _no_moments(context, line, kind)
            whole = {span.start for span in spans if span.seen_to is not None}
            yield from (span for span in spans if span.seen_to is not None or span.start not in whole)
            yield from _apart(line, spans) if kind.a_name else ()
            continue
        spots = names_in if context.style.day else text_spans
        yield from _no_days(context, line, spots(line))
        under = context.lines[at + 1] if at + 1 < len(context.lines) else None
        if under and goes_on(line, under):
            both = Line(line.page, (*line.words, *under.words))
            crossing = (span for span in spots(both) if span.start < len(line.text) < span.end)
            yield from (replace(span, seen_to=len(line.text)) for span in crossing if span.shape < 1)


def words_in(span: Span) -> tuple[int, int]:
    """The first word of a span's line that is in it, and the one after the last."""
    touched = [at for at, start in enumerate(span.line.starts) if start < span.end
               and start + len(span.line.words[at].text) > span.start]  # fmt: skip
    return (touched[0], touched[-1] + 1) if touched else (0, 0)


def _no_moments(context: SearchContext, line: Line, kind: Kind) -> Sequence[Span]:
    """What may be a value on the line; in a letter the figures of its days and times are no numbers."""
    spans = context.spans(line, kind)
    if not context.style.day or kind.sheet != "number":
        return spans
    moments = (*context.spans(line, Date()), *context.spans(line, Time()))
    return [span for span in spans if not _crosses(span, moments)]


def _apart(line: Line, known: Sequence[Span]) -> Iterator[Span]:
    """Pieces that may be a name by standing apart, where nothing in them looks like one."""
    for span in text_spans(line):
        if span.raw[:1].isupper() and not _crosses(span, known):
            yield replace(span, shape=UNLIKE_A_NAME)


def _no_days(context: SearchContext, line: Line, spans: Iterator[Span]) -> Iterator[Span]:
    """Without what is a day: months and weekdays have capitals too."""
    days = context.spans(line, Date()) if context.style.day else ()
    yield from (span for span in spans if not _crosses(span, days))


def _crosses(span: Span, others: Sequence[Span]) -> bool:
    return any(span.start < other.end and other.start < span.end for other in others)
