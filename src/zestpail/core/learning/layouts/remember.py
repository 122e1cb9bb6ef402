"""From a labelled document to what is remembered of it."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass

from zestpail.core.document_type.learned import RememberedLayout, StandingWords, TaughtPlace
from zestpail.core.landmarks.labels import folded, skeleton
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import PageReading, Word

MOST_WORDS = 220
"""Words of a page that are kept: those of letters first, then those nearest to a value."""
MOST_PAGES = 6
"""Pages of a sample that are kept: those with values, the first and the last."""
LEAST_CONFIDENCE = 0.3
"""Words that were read less surely are specks."""
TENTH = 10.0


@dataclass(frozen=True)
class TaughtValue:
    """What somebody said of a field of a sample: its value, and where it stands; no value where rightly none is."""

    value: str | None
    page: int | None = None
    box: Box | None = None
    label: str = ""
    side: str = ""


def remember(
    sample: str, document: DocumentReading, values: Mapping[str, TaughtValue], digest: str = ""
) -> RememberedLayout:
    """What is remembered of a sample that was labelled."""
    places = tuple(_place(document, key, taught) for key, taught in values.items())
    with_values = {place.page for place in places if place.page is not None}
    pages = sorted({0, len(document.pages) - 1} | with_values)[:MOST_PAGES]
    return RememberedLayout(
        sample=sample,
        digest=digest,
        pages=len(document.pages),
        words=tuple(_standing(document.pages[page], page, _boxes_on(places, page)) for page in pages),
        places=places,
    )


def key_of(word: Word) -> str:
    """A word as it is compared; "" for one that says nothing."""
    return skeleton(folded(word.text)) if word.confidence >= LEAST_CONFIDENCE else ""


def _place(document: DocumentReading, key: str, taught: TaughtValue) -> TaughtPlace:
    if taught.page is None or taught.box is None or taught.page >= len(document.pages):
        return TaughtPlace(key=key, value=taught.value)
    box = taught.box
    rows = sum(
        line.page == taught.page and any(box.covers_centre_of(word.box) for word in line.words)
        for line in document.lines
    )
    return TaughtPlace(
        key=key, page=taught.page, box=Box(*(round(side, 1) for side in box)), value=taught.value, lines=max(rows, 1),
        label=taught.label, side=taught.side, after=_after(document, taught.page, box),
    )  # fmt: skip


def _after(document: DocumentReading, page: int, box: Box) -> str:
    """The word right after what stands in a box, if it follows without a gap."""
    for line in document.lines:
        inside = [at for at, word in enumerate(line.words) if line.page == page and box.covers_centre_of(word.box)]
        if inside and inside[-1] + 1 < len(line.words):
            word = line.words[inside[-1] + 1]
            return key_of(word) if word.box.x0 - box.x1 < line.height else ""
    return ""


def _boxes_on(places: Collection[TaughtPlace], page: int) -> list[Box]:
    return [place.box for place in places if place.box is not None and place.page == page]


def _standing(reading: PageReading, page: int, values: Collection[Box]) -> StandingWords:
    """The page's words without the values, if need be only those that tell most."""
    kept = [
        (key, word.box)
        for word in reading.words
        if (key := key_of(word)) and not any(value.grown(0.5).covers_centre_of(word.box) for value in values)
    ]
    if len(kept) > MOST_WORDS:
        ranked = sorted(range(len(kept)), key=lambda at: _less_telling(*kept[at], values))
        kept = [kept[at] for at in sorted(ranked[:MOST_WORDS])]
    places = (round(TENTH * side) for _, box in kept for side in (box.x0, box.cy, box.x1, box.height))
    return StandingWords(
        page=page, width=reading.width, height=reading.height, texts=tuple(key for key, _ in kept),
        places=tuple(places),
    )  # fmt: skip


def _less_telling(key: str, box: Box, values: Collection[Box]) -> tuple[bool, float]:
    nearest = min((abs(box.cy - v.cy) + 0.3 * abs(box.cx - v.cx) for v in values), default=box.cy)
    return any(c.isdigit() for c in key), nearest
