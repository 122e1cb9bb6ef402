"""The layout memory as a finder asks it: candidates for a field, from the layouts that the document has."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from weakref import WeakKeyDictionary

from zestpail.core.document_type.learned import RememberedLayout, TaughtPlace
from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.inked.handwritten import handwritten
from zestpail.core.finders.inked.tick_boxes import TickBox, tick_boxes
from zestpail.core.kinds.kind import Kind
from zestpail.core.learning.layouts.alignment import Alignment, words_of
from zestpail.core.learning.layouts.place import VotedPlace, voted
from zestpail.core.learning.layouts.recognise import Layouts, Recognised, on_pages
from zestpail.core.learning.layouts.take import Taken, taken, with_same_name
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import PageReading

MOST_LAYOUTS = 2
"""So many of the layouts that a document may have are asked."""
MOST_PAGES = 2
"""Pages of the document that are looked at for one of the layout."""
BY_HAND = 0.75
"""What a value counts that stands nowhere on the page and was typed for the sample."""
HEARD = 0.5
"""The share of the voices nearby from which a place is sure."""
SQUARE = 9.0
"""Points by which a box may stand beside its place."""


@dataclass(frozen=True)
class _Page:
    """A page of the document on which a page of the layout lies."""

    number: int
    how: Alignment
    standing: frozenset[Box]


class LayoutMemory:
    """What a type's samples taught of layouts."""

    def __init__(self, layouts: Sequence[RememberedLayout]) -> None:
        self.layouts = Layouts(layouts)
        self._seen: WeakKeyDictionary[DocumentReading, list[Recognised]] = WeakKeyDictionary()
        self._pages: WeakKeyDictionary[DocumentReading, dict[tuple[str, int], list[_Page]]] = WeakKeyDictionary()

    def recognised(self, document: DocumentReading) -> list[Recognised]:
        """The layouts that the document may have, likeliest first."""
        if document not in self._seen:
            self._seen[document] = self.layouts.recognised(document)[:MOST_LAYOUTS]
        return self._seen[document]

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What stands where the field's value stood on samples of the same layout, with how likely it is that."""
        for recognised in self.recognised(context.document):
            for place in recognised.layout.places:
                if place.key == target.key and place.value is not None:
                    there = list(self._at(context, target.kind, recognised, place))
                    yield from there or _typed(context, target.kind, recognised, place)

    def _at(
        self, context: SearchContext, kind: Kind, recognised: Recognised, place: TaughtPlace
    ) -> Iterator[Candidate]:
        if place.page is None or place.box is None:
            return
        for page in self._lying(context.document, recognised.layout, place.page):
            spot = voted(page.how, place.box)
            if kind.told_by:
                yield from _inked(context, kind, recognised, place, page, spot)
                continue
            found = list(taken(context, kind, page.number, spot.box, place, page.standing))
            if kind.a_name:
                found = with_same_name(context, page.number, spot.box, place, found)
            for one in found:
                yield _candidate(one, recognised, place, page, spot)

    def _lying(self, document: DocumentReading, layout: RememberedLayout, page: int) -> list[_Page]:
        kept = self._pages.setdefault(document, {})
        if (layout.sample, page) not in kept:
            kept[layout.sample, page] = [
                _Page(number, how, _boxes(document, number, how))
                for number, how in on_pages(layout, document, page)[:MOST_PAGES]
            ]
        return kept[layout.sample, page]


def _boxes(document: DocumentReading, number: int, how: Alignment) -> frozenset[Box]:
    _, places = words_of(document.pages[number])
    return frozenset(document.pages[number].words[places[at]].box for at in how.found)


def _candidate(one: Taken, recognised: Recognised, place: TaughtPlace, page: _Page, spot: VotedPlace) -> Candidate:
    parts = {"layout": round(recognised.sure, 3), "votes": round(spot.voice, 3)} | one.parts
    return Candidate(
        value=one.value, raw=one.raw, page=page.number, box=one.box, confidence=one.confidence, finder="learned",
        parts=parts, reason=_why(recognised, place), likely=_likely(recognised, spot, one.near, one.shape),
        agreed=True if one.known else None,
    )  # fmt: skip


def _likely(recognised: Recognised, spot: VotedPlace, near: float, shape: float) -> float:
    """How likely what stands there is the value, in [0, 1]."""
    return round(0.99 * recognised.sure * min(spot.voice / HEARD, 1.0) * near * shape, 4)


def _why(recognised: Recognised, place: TaughtPlace) -> str:
    beside = {"right": "right of ", "below": "below "}.get(place.side, "beside ")
    where = f", {beside}“{place.label}”" if place.label else ""
    return f"as on {recognised.layout.sample}{where}"


def _typed(context: SearchContext, kind: Kind, recognised: Recognised, place: TaughtPlace) -> Iterator[Candidate]:
    """What is the same on all papers of a layout, where nothing is read at its place: it may stand in a picture."""
    if place.value is None or not kind.of_maker or (kind.a_name and place.box is not None):
        return
    page = context.document.pages[0]
    yield Candidate(
        value=place.value, raw=place.value, page=0, box=Box(0, 0, page.width, 1), confidence=1.0, finder="learned",
        parts={"layout": round(recognised.sure, 3), "typed": BY_HAND}, made=True,
        reason=f"as typed for {recognised.layout.sample}", most_sure=0.9, likely=round(BY_HAND * recognised.sure, 4),
    )  # fmt: skip


def _unseen(reading: PageReading, page: int, box: Box) -> TickBox:
    """A box whose drawn edge was not seen, by how much ink there is where its middle must be."""
    share = reading.ink.share(box.grown(-0.2 * box.width)) if reading.ink else 0.0
    return TickBox(page, box, share, ())


def _inked(
    context: SearchContext, kind: Kind, recognised: Recognised, place: TaughtPlace, page: _Page, spot: VotedPlace
) -> Iterator[Candidate]:
    """Whether the box at the place is ticked, or something is written there by hand."""
    reading = context.document.pages[page.number]
    where, there = spot.box, 0.0
    if kind.told_by == "box":
        boxes = [
            tick
            for tick in tick_boxes(reading, page.number, "right")
            if spot.box.grown(SQUARE).covers_centre_of(tick.box)
        ]
        seen = boxes or [_unseen(reading, page.number, spot.box)]
        nearest = min(seen, key=lambda tick: abs(tick.box.cx - spot.box.cx) + abs(tick.box.cy - spot.box.cy))
        where, there = nearest.box, nearest.inked
    else:
        there, stroke = handwritten(reading, spot.box)
        where = stroke or spot.box
    sure = max(there, 1 - there)
    likely = _likely(recognised, spot, 1.0, sure)
    yield Candidate(
        value="yes" if there > 0.5 else "no", raw="", page=page.number, box=where, confidence=round(0.5 + sure / 2, 3),
        finder="learned", parts={"layout": round(recognised.sure, 3), "ink": round(sure, 3)},
        reason=_why(recognised, place), made=True, agreed=True if sure > 0.9 else None, likely=likely,
    )  # fmt: skip
