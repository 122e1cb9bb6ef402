"""What a value might be instead: the losing candidates, and the characters that OCR was torn between."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel, ConfigDict

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import Candidate, SearchContext
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import Symbol

MOST = 5
"""Other readings that a card offers: as many as a person looks over at a glance."""
LEAST_SHARE = 0.15
"""Alternatives of a character with a smaller share than this are not worth showing."""
LEAST_RIVAL = 0.25
"""Other places that score less than this share of the chosen one are not worth showing."""
DOUBTFUL = 0.85
"""A character of less confidence has others tried in its place."""
NEXT_LINE = 1.2
"""Heights of print between a line and the one next to it in its block."""
FLUSH = 4.0
"""Points by which lines of one block may begin apart."""


class OtherReading(BaseModel):
    """A value to pick instead, and where it stands."""

    model_config = ConfigDict(frozen=True)

    value: str
    raw: str
    page: int
    box: Box
    why: str


def other_readings(
    field: FieldRule, chosen: Candidate | None, rivals: tuple[Candidate, ...], context: SearchContext
) -> tuple[OtherReading, ...]:
    """Up to five other values, best first: unsure characters of the chosen one, then other places."""
    found: dict[str, OtherReading] = {}
    if chosen:
        for raw, why in _respelled(chosen, context):
            value = field.kind.parse(raw, context.style)
            if value and value != chosen.value:
                found.setdefault(value, OtherReading(value=value, raw=raw, page=chosen.page, box=chosen.box, why=why))
        for reading in _next_to(field, chosen, context):
            found.setdefault(reading.value, reading)
    for rival in rivals:
        if chosen is None or (rival.value != chosen.value and rival.fit >= LEAST_RIVAL * chosen.fit):
            found.setdefault(
                rival.value,
                OtherReading(value=rival.value, raw=rival.raw, page=rival.page, box=rival.box, why=rival.reason),
            )
    return tuple(found.values())[:MOST]


def _next_to(field: FieldRule, chosen: Candidate, context: SearchContext) -> Iterator[OtherReading]:
    """Names in the lines under and above a name, flush with it: a person stands by the firm, either first."""
    if not field.kind.a_name:
        return
    for where, gap in (("under", 1), ("above", -1)):
        for line in context.lines:
            apart = (line.box.y0 - chosen.box.y1 if gap > 0 else chosen.box.y0 - line.box.y1) / line.height
            if line.page != chosen.page or not -0.3 < apart < NEXT_LINE:
                continue
            for span in field.kind.spot(line, context.style):
                box = line.box_of(span.start, span.end)
                if abs(box.x0 - chosen.box.x0) < FLUSH and span.value != chosen.value:
                    yield OtherReading(
                        value=span.value, raw=span.raw, page=line.page, box=box, why=f"the name {where} it"
                    )


def doubtful_characters(chosen: Candidate, context: SearchContext) -> tuple[int, ...]:
    """Which characters of the candidate's raw text were read with little confidence or a close second choice."""
    symbols = _symbols(chosen, context)
    if "".join(s.text for s in symbols) != chosen.raw.replace(" ", ""):
        return ()
    places = [at for at, character in enumerate(chosen.raw) if character != " "]
    if len(places) != len(symbols):
        return ()
    return tuple(
        at
        for at, symbol in zip(places, symbols, strict=True)
        if symbol.confidence < DOUBTFUL or any(share >= LEAST_SHARE for _, share in symbol.alternatives)
    )


def _respelled(chosen: Candidate, context: SearchContext) -> list[tuple[str, str]]:
    """The raw text with one unsure character replaced by each of its alternatives, likeliest first."""
    symbols = _symbols(chosen, context)
    texts = [s.text for s in symbols]
    if "".join(texts) != chosen.raw.replace(" ", ""):
        return []
    swaps = sorted(
        ((share, at, other) for at, s in enumerate(symbols) for other, share in s.alternatives if share >= LEAST_SHARE),
        reverse=True,
    )
    return [
        ("".join([*texts[:at], other, *texts[at + 1 :]]), f"“{other}” for “{texts[at]}”")
        for _, at, other in swaps
        if any(c.isalnum() for c in other)
    ]


def _symbols(chosen: Candidate, context: SearchContext) -> list[Symbol]:
    around = chosen.box.grown(0.5)
    words = [w for w in context.document.pages[chosen.page].words if w.box.shared_area(around) > 0]
    inside = [s for w in words for s in w.symbols if around.covers_centre_of(s.box)]
    return sorted(inside, key=lambda s: s.box.x0)
