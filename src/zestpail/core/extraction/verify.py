"""The second reader looks at what was chosen, and beside labels where nothing readable stands.

Where it reads something else than the first reader did, that becomes a rival of what was chosen.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.choose import Picks
from zestpail.core.finders import Candidate, SearchContext
from zestpail.core.kinds.kind import Kind
from zestpail.core.landmarks.labels import LabelMatch, skeleton
from zestpail.core.reading.engines import best_reading
from zestpail.core.reading.engines.second_reader import SecondLook, agree
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import line_of_text

DOUBTED, BELIEVED = 0.7, 0.85
"""What the two readings score where they differ: RapidOCR is believed, whichever of them it is."""
SECOND_ALONE = 0.6
"""What a value scores that only the second reader could read."""
MOST_LABELS = 2
"""Labels of a field beside which the second reader looks where the first found nothing."""
READABLE = 0.5
"""A chosen value of a lower score is looked for again beside its label."""

Options = Mapping[str, Sequence[Candidate]]


def verified(
    context: SearchContext, doc_type: DocumentType, picks: Picks, options: Options, look: SecondLook
) -> dict[str, tuple[Candidate, ...]]:
    """The options anew, the chosen candidates confirmed or doubted by the second reader."""
    anew = {key: tuple(candidates) for key, candidates in options.items()}
    for field in doc_type.fields:
        pick = picks[field.key]
        if pick is None or pick.score < READABLE:
            anew[field.key] = (*anew[field.key], *_beside_labels(field, context, look))
        if (
            pick is None
            or pick.made
            or pick.agreed
            or field.kind.block
            or context.document.pages[pick.page].source != "ocr"
        ):
            continue
        text = look(pick.page, pick.box)
        if text:
            anew[field.key] = _confronted(field.kind, context, pick, anew[field.key], text)
    return anew


def _beside_labels(field: FieldRule, context: SearchContext, look: SecondLook) -> Iterator[Candidate]:
    """What the second reader alone reads beside the labels of the field, such as under a stamp."""
    own = [
        m for m in context.matches if m.label.owner == field.key and context.document.pages[m.line.page].source == "ocr"
    ]
    likely = sorted(own, key=lambda m: m.similarity * m.label.weight, reverse=True)[:MOST_LABELS]
    for finder in field.finders:
        for match in likely:
            for area, where in finder.areas(context, match):
                text = look(match.line.page, area)
                if text:
                    yield from _read_there(field.kind, context, match, area, text, where, finder.finder)


def _read_there(
    kind: Kind, context: SearchContext, match: LabelMatch, area: Box, text: str, where: str, finder: str
) -> Iterator[Candidate]:
    line = line_of_text(text)
    for span in kind.spot(line, context.style):
        step = area.width / max(len(line.text), 1)
        yield Candidate(
            value=span.value,
            raw=span.raw,
            page=match.line.page,
            box=Box(area.x0 + span.start * step, area.y0, area.x0 + span.end * step, area.y1),
            confidence=SECOND_ALONE,
            finder=finder,
            parts={
                "label": round(match.similarity * match.label.weight, 3),
                "shape": round(span.shape, 3),
                "second reader": SECOND_ALONE,
            },
            reason=f"{where} “{match.line.text[match.start : match.end]}”, as only the second reader has it",
        )


def _confronted(
    kind: Kind, context: SearchContext, pick: Candidate, candidates: tuple[Candidate, ...], text: str
) -> tuple[Candidate, ...]:
    others = tuple(c for c in candidates if c is not pick)
    if agree(pick.raw, text):
        return (pick.model_copy(update={"agreed": True}), *others)
    value = Kind.parse(kind, text, context.style) or kind.parse(text, context.style)
    if value == pick.value or (value and _tidier(pick.value, value)):
        return (pick.model_copy(update={"agreed": True}), *others)
    if not _plausible(pick, text):
        return candidates
    best = context.document.pages[pick.page].engine == best_reading.ENGINE
    first, second = (BELIEVED, DOUBTED) if best else (DOUBTED, BELIEVED)
    doubted = pick.model_copy(update={"agreed": False, "parts": {**pick.parts, "second reader": first}})
    if value is None:
        return (doubted, *others)
    rival = pick.model_copy(
        update={
            "value": value,
            "raw": text,
            "agreed": False,
            "parts": {**pick.parts, "second reader": second},
            "reason": f"{pick.reason}, as the second reader has it",
        }
    )
    return (rival, doubted, *others)


def _plausible(pick: Candidate, text: str) -> bool:
    """Whether the text is of about the same length: a clip that caught too much or too little proves nothing."""
    return abs(len(text.replace(" ", "")) - len(pick.raw.replace(" ", ""))) <= 2


def _tidier(first: str, second: str) -> bool:
    """Whether the readings differ in look-alikes only, and the first one mixes letters and figures less often."""
    alike = skeleton(first.casefold()) == skeleton(second.casefold())
    return alike and _changes(first) < _changes(second)


def _changes(text: str) -> int:
    """How often letters and figures change over in a text: once in ORD-49069, twice in 0RD-49069."""
    marks = [c.isdigit() for c in text if c.isalnum()]
    return sum(a != b for a, b in pairwise(marks))
