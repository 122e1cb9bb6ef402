"""The finder of what is ticked: one box, or which one of several."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import Ground, Sought
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.inked.tick_boxes import (
    Side,
    TickBox,
    judged,
    tick_boxes,
    unseen,
)
from zestpail.core.landmarks.labels import Label, LabelMatch
from zestpail.core.reading.geometry import Box

REACH = 5.0
"""How far under its question a box may stand, in heights of the question's line."""
HALF = 120.0
"""Points from the question at which a box is half as likely of it."""
SURE = 0.9
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

    finder: Literal["mark"] = "mark"
    labels: tuple[str, ...] = ()
    """Wordings of the question; none if the boxes' own words tell them apart."""
    options: tuple[Option, ...] = Field(min_length=1)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        several = len(self.options) > 1
        yield Piece("See which box is ticked" if several else "See whether the box is ticked")
        if self.labels:
            yield Piece(" by ")
            yield Piece(" or ".join(f"“{label}”" for label in self.labels), "question")
        yield Piece(": " if several else " that says ")
        yield Piece(" or ".join(f"“{option.wordings[0]}”" for option in self.options), "options")
        yield Piece(".")

    def wordings(self, key: str) -> Iterator[Label]:
        """The question's labels."""
        yield from (Label(text, key) for text in self.labels)

    def candidates(self, ground: Ground, sought: Sought) -> Iterator[Candidate]:
        """A candidate for every box of the question; the ticked one has the score."""
        heads = [match for match in ground.matches if match.label.owner == sought.key]
        for head in heads:
            yield from self._on(ground, sought, head.line.page, head)
        if not self.labels:
            for page in range(len(ground.document.pages)):
                yield from self._on(ground, sought, page, None)

    def _on(self, ground: Ground, sought: Sought, page: int, head: LabelMatch | None) -> Iterator[Candidate]:
        reading = ground.document.pages[page]
        group = max(
            (self._group(ground, page, side, head) for side in ("right", "left")),
            key=lambda found: sum(alike for _, _, alike in found),
        )
        verdicts = judged([box for _, box, _ in group], reading)
        for (option, box, alike), (sure, why) in zip(group, verdicts, strict=True):
            parts = {"words": round(alike, 3)} | ({"question": round(head.similarity, 3)} if head else {})
            if len(self.options) == 1:
                value, much = ("yes", box.inked) if box.inked > 0.5 else ("no", 1 - box.inked)
                yield _said(ground, sought, box, value, much, "its box is " + TOLD[value], parts)
            else:
                yield _said(ground, sought, box, option.value, sure, why, parts)

    def _group(
        self, ground: Ground, page: int, side: Side, head: LabelMatch | None
    ) -> list[tuple[Option, TickBox, float]]:
        """Each option with the box that says it, and how well; an option without a box is left out."""
        reading = ground.document.pages[page]
        boxes = [box for box in tick_boxes(reading, page, side) if head is None or _asked(head, box.box)]
        found: list[tuple[Option, TickBox, float]] = []
        for option in self.options:
            free = [box for box in boxes if all(box is not taken for _, taken, _ in found)]
            said = [(box.says(option.wordings), box) for box in free]
            fitting = [(alike * _nearness(head, box.box), alike, box) for alike, box in said if alike > 0]
            if fitting:
                _, alike, best = max(fitting, key=lambda one: one[0])
                found.append((option, best, alike))
        if found and side == "right":
            like = found[0][1]
            for option in [o for o in self.options if all(o is not seen for seen, _, _ in found)]:
                there = [b for b in unseen(reading, like, option.wordings) if head is None or _asked(head, b.box)]
                if there:
                    found.append((option, min(there, key=lambda b: abs(b.box.cx - like.box.cx)), UNSEEN))
        return found


def _said(
    ground: Ground, sought: Sought, box: TickBox, value: str, sure: float, why: str, parts: dict[str, float]
) -> Candidate:
    return Candidate(
        value=sought.kind.parse(value, ground.style) or value, raw=box.text, page=box.page, box=box.whole,
        confidence=round(0.5 + sure / 2, 3), finder="mark", parts={**parts, "ink": round(sure, 3)}, reason=why,
        made=True, agreed=True if sure >= SURE else None,
    )  # fmt: skip


def _asked(head: LabelMatch, box: Box) -> bool:
    """Whether a box is of that question: beside it, or under it and under no other text of its line."""
    under, tall = box.cy - head.box.y1, head.line.height
    if head.box.side_by_side(box) > 0.4:
        return box.x0 >= head.box.x1 - 2
    if not 0 < under < REACH * tall + box.height or box.x1 < head.box.x0 - 12:
        return False
    return not any(head.box.x1 < x0 <= box.cx for x0 in _pieces_of(head))


def _pieces_of(head: LabelMatch) -> Sequence[float]:
    """Where the pieces of the question's line begin, in points; a tab in the text stands for a wide gap."""
    line = head.line
    return [
        word.box.x0
        for word, start in zip(line.words, line.starts, strict=True)
        if start == 0 or line.text[start - 1] == "\t"
    ]


def _nearness(head: LabelMatch | None, box: Box) -> float:
    if head is None:
        return 1.0
    aside = max(box.x0 - head.box.x1, head.box.x0 - box.x1, 0.0)
    return float(0.5 ** (math.hypot(aside, box.cy - head.box.cy) / HALF))
