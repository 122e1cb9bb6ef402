"""Yes or no: by a box that is ticked, by a stroke of the pen, or by what a sentence says or denies."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import SearchContext
from zestpail.core.finders.inked.handwritten import handwritten
from zestpail.core.finders.inked.tick_boxes import TickBox, tick_boxes
from zestpail.core.kinds.kind import Kind
from zestpail.core.kinds.yes_no import NO, YES
from zestpail.core.learning.contexts import Around
from zestpail.core.learning.sentences import Sentence, sentences_of
from zestpail.core.learning.sought import Sought, fits
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line

LEAST = 0.2
"""What fits less says nothing."""
RIGHT, UNDER, LEFT = 220.0, 40.0, 4.0
"""Points around a label within which its boxes, or its signature, stand."""
OVER = 42.0
"""Points over words under a line, where one signs."""
SOMEWHERE = 0.4
"""How likely it is a signature that is written where no words say that one signs."""
LONGEST_SIGN = 8
"""Words that may stand where somebody signs."""


def said_in_words(context: SearchContext, sought: Sought, finder: str, why: str, *, english: bool) -> list[Candidate]:
    """What the sentence that speaks of it says: yes, or no where it is denied."""
    sentences = [one for one in sentences_of(context.document) if len(one.words) > 1]
    likely = _fitting(sought, [one.text for one in sentences], english=english)
    best = sorted(zip(sentences, likely, strict=True), key=lambda one: -one[1])[:3]
    return [_denied_or_not(one, sure, finder, why) for one, sure in best if sure >= LEAST]


def said_by_ink(
    context: SearchContext, kind: Kind, sought: Sought, finder: str, why: str, *, english: bool, least: float = LEAST
) -> list[Candidate]:
    """What a ticked box, or a stroke of the pen, says beside words that fit."""
    places = list(_signing(context) if kind.told_by == "stroke" else _boxes(context, kind))
    likely = _fitting(sought, [words for words, _ in places], english=english)
    best = sorted(zip(places, likely, strict=True), key=lambda one: -one[1])[:3]
    fitting = [(made, sure) for (_, made), sure in best if sure >= least]
    if not fitting and kind.told_by == "stroke" and places:
        fitting = [(_last_signed([made for _, made in places]), SOMEWHERE)]
    return [
        made.model_copy(
            update={"finder": finder, "reason": f"{why}: {made.reason}", "likely": round(sure * made.confidence, 4)}
        )
        for made, sure in fitting
    ]


def _last_signed(places: Sequence[Candidate]) -> Candidate:
    """Where no words say where one signs: the last place where something is written, else the last of all."""
    inked = [made for made in places if made.value == "yes"]
    return max(inked or places, key=lambda made: (made.page, made.box.y1))


def _fitting(sought: Sought, texts: Sequence[str], *, english: bool) -> list[float]:
    """How likely each text speaks of what is sought."""
    return [fit.likely for fit in fits(sought, [Around(text, "", text) for text in texts], english=english)]


def _denied_or_not(one: Sentence, likely: float, finder: str, why: str) -> Candidate:
    value = "no" if one.denies else "yes"
    said = "it is denied" if one.denies else "it is said"
    return Candidate(
        value=value, raw=one.text, page=one.page, box=one.box, confidence=min(word.confidence for word in one.words),
        finder=finder, parts={"sentence": round(likely, 3)}, reason=f"{why}: {said} there", made=True,
        likely=round(0.95 * likely, 4),
    )  # fmt: skip


def _boxes(context: SearchContext, kind: Kind) -> Iterator[tuple[str, Candidate]]:
    """Boxes to be ticked with what they speak of: their own words, or the label of a yes and a no."""
    for page, reading in enumerate(context.document.pages):
        boxes = tick_boxes(reading, page, "right")
        answers = [box for box in boxes if box.words and box.words[0].text.casefold().strip(".,") in (*YES, *NO)]
        if kind.told_by == "box":
            for box in boxes:
                if box.words and box not in answers:
                    yield box.text, _ticked(box, "yes" if box.inked > 0.5 else "no", box.inked)
        for line in context.lines:
            if line.page == page:
                yield from _answered(line, answers)


def _answered(line: Line, answers: Sequence[TickBox]) -> Iterator[tuple[str, Candidate]]:
    """What is ticked of a yes and a no that stand right of a label or under it."""
    for piece in line.text.split("\t"):
        at = line.text.index(piece)
        box = line.box_of(at, at + len(piece))
        beside = [
            one for one in answers
            if (one.box.side_by_side(box) > 0.5 and 0 < one.box.x0 - box.x1 < RIGHT)
            or (0 < one.box.cy - box.cy < UNDER and box.x0 - LEFT < one.box.x0 < box.x1 + RIGHT / 2)
        ]  # fmt: skip
        ticked = [one for one in beside if one.inked > 0.5]
        if len(ticked) == 1:
            value = "yes" if ticked[0].words[0].text.casefold().strip(".,") in YES else "no"
            yield piece, _ticked(ticked[0], value, ticked[0].inked)


def _ticked(box: TickBox, value: str, inked: float) -> Candidate:
    sure = max(inked, 1 - inked)
    return Candidate(
        value=value, raw=box.text, page=box.page, box=box.whole, confidence=round(0.5 + sure / 2, 3), finder="",
        parts={"ink": round(sure, 3)}, made=True,
        reason=f"the box “{box.text}” is {'ticked' if inked > 0.5 else 'empty'}",
        agreed=True if sure > 0.9 else None,
    )  # fmt: skip


def _signing(context: SearchContext) -> Iterator[tuple[str, Candidate]]:
    """Short pieces of print with the paper around them on which one may have signed."""
    for line in context.lines:
        if len(line.words) > LONGEST_SIGN:
            continue
        reading, box = context.document.pages[line.page], line.box
        area = Box(box.x0 - LEFT, box.y0 - OVER, max(box.x1, box.x0 + RIGHT), box.y1 + UNDER)
        printed = around([word.box for word in line.words])
        there, stroke = handwritten(reading, area, [printed])
        sure = max(there, 1 - there)
        yield line.text, Candidate(
            value="yes" if there > 0.5 else "no", raw="", page=line.page, box=stroke or area,
            confidence=round(0.5 + sure / 2, 3), finder="", parts={"ink": round(sure, 3)}, made=True,
            reason=f"by “{line.text}” " + ("something is written by hand" if there > 0.5 else "nothing is written"),
            agreed=True if sure > 0.9 else None,
        )  # fmt: skip
