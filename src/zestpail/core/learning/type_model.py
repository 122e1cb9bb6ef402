"""Values on layouts that nobody taught: by what stands around them, as samples and questions say it must."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from weakref import WeakKeyDictionary

from zestpail.core.document_type.learned import TaughtField
from zestpail.core.finders.candidate import Candidate, legibility
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.value_profile import ValueProfile
from zestpail.core.kinds.date import Date
from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import in_english
from zestpail.core.landmarks.labels import folded
from zestpail.core.learning.contexts import Around, Pages, goes_on
from zestpail.core.learning.said import said_by_ink, said_in_words
from zestpail.core.learning.sought import Fit, Sought, fits
from zestpail.core.learning.text_pieces import names_in, text_spans
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.lines import Line

LEAST = 0.12
"""Candidates less likely than this are none."""
MOST = 6
"""Candidates of a field."""
SIGNING = ("signature", "signed by")
"""What stands where one signs."""
LOOKS_ELSE = 0.25
"""What is left of a candidate that looks quite unlike the examples."""
A_LABEL = 0.4
"""What is left of a candidate that seems to be a label itself."""
BY_ORDER, SAME_RANK, SEEN = 0.75, 0.7, 0.9
"""How likely a value is by its order in a letter alone, what the same rank of another number counts, and by having been
a value before."""
HEAD = re.compile(r"(?:From|Date|Subject): ")
RIVAL = 0.8
"""How much of its likelihood a candidate leaves to one that fits nearly as well."""

_pages: WeakKeyDictionary[DocumentReading, Pages] = WeakKeyDictionary()


def pages_of(document: DocumentReading) -> Pages:
    """What stands around the words of a document, worked out once."""
    if document not in _pages:
        _pages[document] = Pages(document)
    return _pages[document]


@dataclass(frozen=True)
class _Piece:
    """A span with what stands around it and how well that fits."""

    span: Span
    around: Around
    fit: Fit
    looks: float
    """How much it looks like the examples, in [0, 1]."""
    in_order: float = 0.0
    """Whether it stands among the values of its kind where the taught ones did, in [0, 1]."""
    seen: bool = False
    """Whether the very text was a value on a sample."""

    @property
    def likely(self) -> float:
        doubt = (1 - self.fit.likely) * (1 - BY_ORDER * self.in_order) * (1 - SEEN * self.seen)
        looks = 1.0 if self.seen else self.looks
        return (1 - doubt) * self.span.shape * looks * (A_LABEL if self.labels_another else 1.0)

    @property
    def labels_another(self) -> bool:
        """Whether it is rather a label itself: one stands over it, and something right of it."""
        return self.around.over and self.span.line.text[self.span.end : self.span.end + 1] == "\t"


def by_surroundings(
    context: SearchContext, target: FieldTarget, sought: Sought, finder: str, why: str, known: TaughtField | None = None
) -> list[Candidate]:
    """What may be the value by what stands around it, likeliest first."""
    kind, english = target.kind, in_english(context.lines)
    if kind.told_by or kind.in_words:
        by_ink = said_by_ink(context, kind, sought, finder, why, english=english)
        return by_ink or (said_in_words(context, sought, finder, why, english=english) if not kind.told_by else [])
    pages, spans = pages_of(context.document), list(candidate_spans(context, kind))
    around = [pages.around(span.line, *words_in(span)) for span in spans]
    profile = ValueProfile(examples=known.examples) if known and known.examples and kind.narrow else None
    places = places_of(context, spans) if known and known.orders else {}
    found = [
        _Piece(span, one, fit, _looks(profile, span.raw), _in_order(known, places.get(id(span))), _seen(known, span))
        for span, one, fit in zip(spans, around, fits(sought, around, english=english), strict=True)
    ]
    best = sorted((piece for piece in found if piece.likely >= LEAST), key=lambda piece: -piece.likely)[:MOST]
    return [_candidate(piece, best, finder, why) for piece in best]


def places_of(context: SearchContext, spans: Sequence[Span]) -> dict[int, tuple[int, int]]:
    """In a letter, which of how many different values each span is, by its identity; the head does not count."""
    if context.style.day is None:
        return {}
    body = [span for span in spans if not in_head(span.line)]
    order = sorted(body, key=lambda span: (span.line.page, span.line.box.cy, span.start))
    values = list(dict.fromkeys(span.value for span in order))
    return {id(span): (values.index(span.value), len(values)) for span in order}


def in_head(line: Line) -> bool:
    """Whether a line is of the head of an e-mail."""
    return line.page == 0 and HEAD.match(line.text) is not None


def _in_order(known: TaughtField | None, place: tuple[int, int] | None) -> float:
    """Whether it stands among the values of its kind where the taught ones did, in [0, 1]."""
    if known is None or place is None:
        return 0.0
    if place in known.orders:
        return 1.0
    return SAME_RANK if any(place[0] == rank or place[1] - place[0] == of - rank for rank, of in known.orders) else 0.0


def _seen(known: TaughtField | None, span: Span) -> bool:
    """Whether the very text was a value on a sample."""
    return known is not None and not span.value.isdigit() and folded(span.raw) in map(folded, known.examples)


def most_likely_said(context: SearchContext, kind: Kind, name: str) -> list[Candidate]:
    """What says yes or no of what is called so, however little it fits: for finding the place of a known value."""
    sought = Sought(names=(name, *(SIGNING if kind.told_by == "stroke" else ())), about=name)
    english = in_english(context.lines)
    found = said_by_ink(context, kind, sought, "", "", english=english, least=0.0)
    return found + (said_in_words(context, sought, "", "", english=english) if not kind.told_by else [])


def candidate_spans(context: SearchContext, kind: Kind) -> Iterator[Span]:
    """What may be a value of the kind, also over the end of a line in a text that runs on."""
    for at, line in enumerate(context.lines):
        if in_head(line) and context.style.day:
            continue
        if not kind.free:
            spans = context.spans(line, kind)
            whole = {span.start for span in spans if span.seen_to is not None}
            yield from (span for span in spans if span.seen_to is not None or span.start not in whole)
            continue
        spots = names_in if context.style.day else text_spans
        yield from _no_days(context, line, spots(line))
        under = context.lines[at + 1] if at + 1 < len(context.lines) else None
        if under and goes_on(line, under):
            both = Line(line.page, (*line.words, *under.words))
            crossing = (span for span in spots(both) if span.start < len(line.text) < span.end)
            yield from (replace(span, seen_to=len(line.text)) for span in crossing if span.shape < 1)


def _no_days(context: SearchContext, line: Line, spans: Iterator[Span]) -> Iterator[Span]:
    """Without what is a day: months and weekdays have capitals too."""
    days = context.spans(line, Date()) if context.style.day else ()
    yield from (span for span in spans if not any(span.start < day.end and day.start < span.end for day in days))


def words_in(span: Span) -> tuple[int, int]:
    """The first word of a span's line that is in it, and the one after the last."""
    touched = [at for at, start in enumerate(span.line.starts) if start < span.end
               and start + len(span.line.words[at].text) > span.start]  # fmt: skip
    return (touched[0], touched[-1] + 1) if touched else (0, 0)


def _looks(profile: ValueProfile | None, raw: str) -> float:
    if profile is None:
        return 1.0
    product = 1.0
    for part in profile.parts(raw).values():
        product *= part
    return LOOKS_ELSE + (1 - LOOKS_ELSE) * product


def _candidate(piece: _Piece, several: Sequence[_Piece], finder: str, why: str) -> Candidate:
    """The candidate, less likely where another value fits nearly as well."""
    rival = max((one.likely for one in several if one.span.value != piece.span.value), default=0.0)
    share = piece.likely / (piece.likely + RIVAL * max(rival - 0.15, 0.0)) if piece.likely else 0.0
    label = piece.around.label or piece.around.lead
    where = f"{why}, beside “{label}”" if label else why
    return Candidate(
        value=piece.span.value, raw=piece.span.raw, page=piece.span.line.page, box=piece.span.box,
        confidence=piece.span.confidence, finder=finder, reason=where, likely=round(piece.likely * share, 4),
        parts={
            "letters": round(piece.fit.letters, 3), "meaning": round(piece.fit.meant, 3),
            "sentence": round(piece.fit.sentence, 3), "shape": round(piece.span.shape, 3),
            "reading": legibility(piece.span.confidence),
        },
    )  # fmt: skip
