"""The finder of what is ticked: one box, or which one of several."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.inked.tick_boxes import (
    Side,
    TickBox,
    judged,
    tick_boxes,
    unseen,
)
from zestpail.core.landmarks.labels import Label, LabelMatch, folded
from zestpail.core.reading.geometry import Box
from zestpail.core.setting import Setting

REACH = 5.0
"""How far under its question a box may stand, in heights of the question's line."""
HALF = 120.0
"""Points from the question at which a box is half as likely of it."""
SURE = 0.9
"""A box ticked or empty as clearly as this counts as read alike by both readers; set by hand."""
UNSEEN = 0.7
"""What the words of a box count whose drawn edge was not seen."""
TOLD = {"yes": "ticked", "no": "empty"}


class Option(BaseModel):
    """One of the boxes: the value that it stands for, and the wordings that stand beside it."""

    model_config = ConfigDict(frozen=True)

    value: str = Field(min_length=1)
    wordings: tuple[str, ...] = Field(min_length=1)


class Ticked(Finder):
    """Take which box is ticked, by a question or by the boxes' own words."""

    title: ClassVar[str] = "Boxes to be ticked"
    finder: Literal["mark"] = "mark"
    labels: Annotated[tuple[str, ...], Setting("Words of the question, one wording a line", "lines")] = ()
    """Wordings of the question; none if the boxes' own words tell them apart."""
    options: Annotated[
        tuple[Option, ...], Setting("Its boxes, one a line: value = words beside it | other wording", "pairs")
    ] = Field(min_length=1)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        several = len(self.options) > 1
        yield Piece("See which box is ticked" if several else "See whether the box is ticked")
        if self.labels:
            yield Piece(" by ")
            yield Piece(" or ".join(f"“{label}”" for label in self.labels), "mark.labels")
        yield Piece(": " if several else " that says ")
        yield Piece(" or ".join(f"“{option.wordings[0]}”" for option in self.options), "mark.options")
        yield Piece(".")

    def wordings(self, key: str) -> Iterator[Label]:
        """The question's labels."""
        yield from (Label(text, key) for text in self.labels)

    def value_beside(self, text: str) -> str | None:
        """The value of the box beside whose words was clicked, if there are several boxes."""
        said = folded(text)
        options = self.options if len(self.options) > 1 else ()
        return next((option.value for option in options if said in map(folded, option.wordings)), None)

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """A candidate for every box of the question; the ticked one has the score."""
        headers = [match for match in context.matches if match.label.owner == target.key]
        for header in headers:
            yield from self._on(context, target, header.line.page, header)
        if not self.labels:
            for page in range(len(context.document.pages)):
                yield from self._on(context, target, page, None)

    def _on(
        self, context: SearchContext, target: FieldTarget, page: int, header: LabelMatch | None
    ) -> Iterator[Candidate]:
        reading = context.document.pages[page]
        group = max(
            (self._group(context, page, side, header) for side in ("right", "left")),
            key=lambda found: sum(alike for _, _, alike in found),
        )
        verdicts = judged([box for _, box, _ in group], reading)
        for (option, box, alike), (sure, why) in zip(group, verdicts, strict=True):
            parts = {"words": round(alike, 3)} | ({"question": round(header.similarity, 3)} if header else {})
            if len(self.options) == 1:
                value, much = ("yes", box.inked) if box.inked > 0.5 else ("no", 1 - box.inked)
                yield _message(context, target, box, value, much, "its box is " + TOLD[value], parts)
            else:
                yield _message(context, target, box, option.value, sure, why, parts)

    def _group(
        self, context: SearchContext, page: int, side: Side, header: LabelMatch | None
    ) -> list[tuple[Option, TickBox, float]]:
        """Each option with the box that says it, and how well; an option without a box is left out."""
        reading = context.document.pages[page]
        boxes = [box for box in tick_boxes(reading, page, side) if header is None or _asked(header, box.box)]
        found: list[tuple[Option, TickBox, float]] = []
        for option in self.options:
            free = [box for box in boxes if all(box is not taken for _, taken, _ in found)]
            message = [(box.says(option.wordings), box) for box in free]
            fitting = [(alike * _nearness(header, box.box), alike, box) for alike, box in message if alike > 0]
            if fitting:
                _, alike, best = max(fitting, key=lambda one: one[0])
                found.append((option, best, alike))
        if found and side == "right":
            like = found[0][1]
            for option in [o for o in self.options if all(o is not seen for seen, _, _ in found)]:
                there = [b for b in unseen(reading, like, option.wordings) if header is None or _asked(header, b.box)]
                if there:
                    found.append((option, min(there, key=lambda b: abs(b.box.cx - like.box.cx)), UNSEEN))
        return found


def _message(
    context: SearchContext,
    target: FieldTarget,
    box: TickBox,
    value: str,
    sure: float,
    why: str,
    parts: dict[str, float],
) -> Candidate:
    return Candidate(
        value=target.kind.parse(value, context.style) or value, raw=box.text, page=box.page, box=box.whole,
        confidence=round(0.5 + sure / 2, 3), finder="mark", parts={**parts, "ink": round(sure, 3)}, reason=why,
        made=True, agreed=True if sure >= SURE else None,
    )  # fmt: skip


def _asked(header: LabelMatch, box: Box) -> bool:
    """Whether a box is of that question: beside it, or under it and under no other text of its line."""
    under, tall = box.cy - header.box.y1, header.line.height
    if header.box.side_by_side(box) > 0.4:
        return box.x0 >= header.box.x1 - 2
    if not 0 < under < REACH * tall + box.height or box.x1 < header.box.x0 - 12:
        return False
    return not any(header.box.x1 < x0 <= box.cx for x0 in _pieces_of(header))


def _pieces_of(header: LabelMatch) -> Sequence[float]:
    """Where the pieces of the question's line begin, in points; a tab in the text stands for a wide gap."""
    line = header.line
    return [
        word.box.x0
        for word, start in zip(line.words, line.starts, strict=True)
        if start == 0 or line.text[start - 1] == "\t"
    ]


def _nearness(header: LabelMatch | None, box: Box) -> float:
    if header is None:
        return 1.0
    aside = max(box.x0 - header.box.x1, header.box.x0 - box.x1, 0.0)
    return float(0.5 ** (math.hypot(aside, box.cy - header.box.cy) / HALF))
