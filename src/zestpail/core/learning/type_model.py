"""Values on layouts that nobody taught: by what stands around them, as samples and questions say it must."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from weakref import WeakKeyDictionary

from zestpail.core.finders.candidate import Candidate, legibility
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.value_profile import ValueProfile
from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import in_english
from zestpail.core.learning.contexts import Around, Pages
from zestpail.core.learning.said import said_by_ink, said_in_words
from zestpail.core.learning.sought import Fit, Sought, fits
from zestpail.core.learning.text_pieces import text_spans
from zestpail.core.reading.document import DocumentReading

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

    @property
    def likely(self) -> float:
        return self.fit.likely * self.span.shape * self.looks * (A_LABEL if self.labels_another else 1.0)

    @property
    def labels_another(self) -> bool:
        """Whether it is rather a label itself: one stands over it, and something right of it."""
        return self.around.over and self.span.line.text[self.span.end : self.span.end + 1] == "\t"


def by_surroundings(
    context: SearchContext, target: FieldTarget, sought: Sought, finder: str, why: str, examples: Sequence[str] = ()
) -> list[Candidate]:
    """What may be the value by what stands around it, likeliest first."""
    kind, english = target.kind, in_english(context.lines)
    if kind.told_by or kind.in_words:
        by_ink = said_by_ink(context, kind, sought, finder, why, english=english)
        return by_ink or (said_in_words(context, sought, finder, why, english=english) if not kind.told_by else [])
    pages, spans = pages_of(context.document), list(_spans(context, target))
    around = [pages.around(span.line, *_words(span)) for span in spans]
    profile = ValueProfile(examples=tuple(examples)) if examples and kind.narrow else None
    found = [
        _Piece(span, one, fit, _looks(profile, span.raw))
        for span, one, fit in zip(spans, around, fits(sought, around, english=english), strict=True)
    ]
    best = sorted((piece for piece in found if piece.likely >= LEAST), key=lambda piece: -piece.likely)[:MOST]
    return [_candidate(piece, best, finder, why) for piece in best]


def most_likely_said(context: SearchContext, kind: Kind, name: str) -> list[Candidate]:
    """What says yes or no of what is called so, however little it fits: for finding the place of a known value."""
    sought = Sought(names=(name, *(SIGNING if kind.told_by == "stroke" else ())), about=name)
    english = in_english(context.lines)
    found = said_by_ink(context, kind, sought, "", "", english=english, least=0.0)
    return found + (said_in_words(context, sought, "", "", english=english) if not kind.told_by else [])


def _spans(context: SearchContext, target: FieldTarget) -> Iterator[Span]:
    for line in context.lines:
        yield from text_spans(line) if target.kind.free else context.spans(line, target.kind)


def _words(span: Span) -> tuple[int, int]:
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
