"""Where a value stands among all of its kind on a page, and how like that is to where the samples' values stood."""

from __future__ import annotations

import math
from collections.abc import Sequence
from decimal import Decimal
from statistics import median

from zestpail.core.document_type.learned import TaughtSpot
from zestpail.core.finders.context import SearchContext
from zestpail.core.finders.rates import Rate
from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.learning.amounts import MOST, Amounts
from zestpail.core.learning.choice import Facts
from zestpail.core.learning.contexts import Around
from zestpail.core.reading.document import DocumentReading

BESIDE, UNDER = 0.08, 0.06
"""Shares of a page's width and height over which being at the same place sinks to a third."""

SMALLEST = 0.01
"""The least that print counts against the usual one: some files have letters without a height."""


def spots_of(context: SearchContext, kind: Kind, spans: Sequence[Span], around: Sequence[Around]) -> list[TaughtSpot]:
    """Where each of the spans of a kind stands; ``around`` is what stands around each."""
    document = context.document
    usual = _usual_print(document)
    order = sorted(range(len(spans)), key=lambda at: _reading_order(spans[at]))
    values = list(dict.fromkeys(spans[at].value for at in order))
    rank = {value: at for at, value in enumerate(values)}
    times = dict.fromkeys(values, 0)
    for place in {(span.value, span.line.page, round(span.box.cy), round(span.box.x0)) for span in spans}:
        times[place[0]] += 1
    size, traits = _sizes(kind, values), _traits(context, kind, spans)
    return [
        TaughtSpot(
            page=span.line.page, pages=len(document.pages),
            x=round(span.box.cx / document.pages[span.line.page].width, 3),
            y=round(span.box.cy / document.pages[span.line.page].height, 3),
            rank=rank[span.value], of=len(values), size=size.get(span.value), times=times[span.value],
            print=max(round(span.line.height / usual[span.line.page], 2), SMALLEST), side=_side(one), traits=known,
        )
        for span, one, known in zip(spans, around, traits, strict=True)
    ]  # fmt: skip


def likeness(spot: TaughtSpot, taught: Sequence[TaughtSpot]) -> Facts:
    """How like a spot is to the taught ones, on the average over them, each in [0, 1]; nothing where none is taught."""
    if not taught:
        return {}
    each = [_alike(spot, other) for other in taught]
    names = dict.fromkeys(name for one in each for name in one)
    return {name: sum(one.get(name, 0.0) for one in each) / len(each) for name in names}


def _alike(spot: TaughtSpot, other: TaughtSpot) -> Facts:
    same_page = spot.page == other.page or spot.pages - spot.page == other.pages - other.page
    across = math.exp(-(((spot.x - other.x) / BESIDE) ** 2)) if same_page else 0.0
    down = math.exp(-(((spot.y - other.y) / UNDER) ** 2)) if same_page else 0.0
    sized = spot.size is not None and other.size is not None
    return {
        "page": float(same_page),
        "across": across,
        "down": down,
        "place": across * down,
        "rank": float(spot.rank == other.rank),
        "rank_from_end": float(spot.of - spot.rank == other.of - other.rank),
        "rank_near": 1 - abs(_share(spot) - _share(other)),
        "size": 1 - abs((spot.size or 0) - (other.size or 0)) if sized else 0.0,
        "times": float(min(spot.times, 3) == min(other.times, 3)),
        "print": math.exp(-3 * abs(math.log(spot.print / other.print))),
        "side": float(spot.side == other.side),
        **{name: 1 - abs(value - other.traits[name]) for name, value in spot.traits.items() if name in other.traits},
    }


def _traits(context: SearchContext, kind: Kind, spans: Sequence[Span]) -> list[Facts]:
    """What else is known of each: of names whether they head an address, of amounts what they are to each other."""
    if kind.money:
        values = {Decimal(span.value) for span in spans}
        sums = Amounts(tuple(sorted(values, key=abs)[-MOST:]), _rates(context))
        facts = {value: sums.facts(value) for value in values}
        return [facts[Decimal(span.value)] for span in spans]
    if kind.a_name:
        return [_at_address(context, span) for span in spans]
    return [{} for _ in spans]


def _at_address(context: SearchContext, span: Span) -> Facts:
    inside = [
        block for block in context.blocks if block.page == span.line.page and block.box.covers_centre_of(span.box)
    ]
    heads = any(span.box.cy - block.box.y0 < span.line.height for block in inside)
    return {"in_address": float(bool(inside)), "heads_address": float(heads), "formed": span.shape}


def _rates(context: SearchContext) -> tuple[Rate, ...]:
    return tuple({rate.percent: rate for rate in context.rates}.values())


def _share(spot: TaughtSpot) -> float:
    return spot.rank / max(spot.of - 1, 1)


def _reading_order(span: Span) -> tuple[int, float, int]:
    return span.line.page, span.line.box.cy, span.start


def _sizes(kind: Kind, values: Sequence[str]) -> dict[str, float]:
    """By value the share of the others that are less, for kinds that have more and less."""
    if kind.sheet == "text":
        return {}
    ordered = sorted(values, key=lambda value: value if kind.sheet == "date" else float(value))
    return {value: at / max(len(ordered) - 1, 1) for at, value in enumerate(ordered)}


def _side(around: Around) -> str:
    if around.label:
        return "over" if around.over else "left"
    return "prose" if around.lead else ""


def _usual_print(document: DocumentReading) -> list[float]:
    """By page the usual height of print, in points."""
    heights: dict[int, list[float]] = {}
    for line in document.lines:
        heights.setdefault(line.page, []).append(line.height)
    return [max(median(heights.get(page, [10.0])), 1.0) for page in range(len(document.pages))]
