"""The finder of what stands in a zone that is held to landmarks, so that it follows shift, scale and skew."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from zestpail.core.finders.candidate import Candidate, legibility
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.inked.handwritten import handwritten
from zestpail.core.finders.inked.signed import inked
from zestpail.core.finders.inked.tick_boxes import tick_boxes
from zestpail.core.kinds.kind import Kind
from zestpail.core.kinds.style import Style
from zestpail.core.landmarks.match import ReferencePosition
from zestpail.core.reading.geometry import Affine, Box
from zestpail.core.reading.lines import Line, line_of_text
from zestpail.core.setting import Setting

UNHELD = 0.6
"""What is left of the score where none of the landmarks is found and the zone stands where it was drawn."""

BESIDE = 6.0
"""Points by which a zone may be drawn beside the box that is meant."""


class FixedPlace(Finder):
    """What stands in a zone, tied to landmarks."""

    title: ClassVar[str] = "A zone"
    finder: Literal["fixed_place"] = "fixed_place"
    zone: ReferencePosition
    held_to: Annotated[tuple[str, ...], Setting("Its zone is held to", "landmarks")] = ()
    weight: float = Field(default=0.8, gt=0, le=1)

    @property
    def landmarks(self) -> tuple[str, ...]:
        """What the zone is held to."""
        return self.held_to

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        held = f", held to {' and '.join(self.held_to)}" if self.held_to else ""
        yield Piece(f"Take what stands on page {self.zone.page + 1} in ")
        yield Piece(f"its zone{held}", "fixed_place.held_to")
        yield Piece(".")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The words whose middles lie in the zone, as one value; nothing on an empty zone."""
        if self.zone.page >= len(context.document.pages):
            return
        box, held = self.place(context)
        if target.kind.told_by:
            yield from self._inked(context, target.kind, box, held)
            return
        inside = [
            [w for w in line.words if box.covers_centre_of(w.box)]
            for line in context.lines
            if line.page == self.zone.page
        ]
        rows = [row for row in inside if row]
        if not rows:
            return
        words = [word for row in rows for word in row]
        line = Line(self.zone.page, tuple(words))
        texts = [" ".join(word.text for word in row) for row in rows]
        text = ("\n" if target.kind.block else " ").join(texts)
        value = target.kind.joined(texts) if target.kind.block else _value(text, target.kind, context.style)
        if value is None:
            return
        sure = min(word.confidence for word in words)
        yield Candidate(
            value=value, raw=text, page=self.zone.page, box=line.box, confidence=sure, finder=self.finder,
            parts={"zone": self.weight, "held": held, "reading": legibility(sure)},
            reason="in its zone" + (f", held to {' and '.join(self.held_to)}" if held == 1 and self.held_to else ""),
        )  # fmt: skip

    def _inked(self, context: SearchContext, kind: Kind, box: Box, held: float) -> Iterator[Candidate]:
        """Whether a box in the zone is ticked, or anything is written there by hand."""
        page = context.document.pages[self.zone.page]
        ticks = tick_boxes(page, self.zone.page, "right")
        boxes = [tick for tick in ticks if box.covers_centre_of(tick.box)]
        boxes = boxes or [tick for tick in ticks if box.grown(BESIDE).shared_area(tick.box) > 0]
        if kind.told_by == "box" and boxes:
            nearest = min(boxes, key=lambda tick: abs(tick.box.cx - box.cx) + abs(tick.box.cy - box.cy))
            ticked = max(boxes, key=lambda tick: tick.inked) if len(boxes) > 1 else nearest
            there, where = ticked.inked, ticked.box
        else:
            there, seen = handwritten(page, box)
            where = seen or box
        value, sure = ("yes", there) if there > 0.5 else ("no", 1 - there)
        yield inked(value, sure, self.zone.page, where, {"zone": self.weight, "held": held}, self.finder)

    def place(self, context: SearchContext) -> tuple[Box, float]:
        """Where the zone lies on this document, and how well it is held there, in [0, 1]."""
        pairs = [
            (reference, seen.box)
            for key in self.held_to
            if (reference := context.reference_of(key))
            and (seen := context.landmark(key))
            and seen.page == self.zone.page
        ]
        if not pairs:
            return self.zone.box, UNHELD if self.held_to else 1.0
        return similarity(pairs).box(self.zone.box), 1.0


def _value(text: str, kind: Kind, style: Style) -> str | None:
    """The value of all that stands in the zone, else the longest one in it."""
    spans = list(kind.spot(line_of_text(text), style))
    return kind.parse(text, style) or (max(spans, key=lambda s: s.end - s.start).value if spans else None)


def similarity(pairs: list[tuple[Box, Box]]) -> Affine:
    """The shift, with two or more landmarks also scale and turn, that takes homes to where they are seen.

    Least squares over the boxes' left middles and, for one landmark alone, a mere shift (Umeyama 1991 without
    reflection).
    """
    there = np.array([(reference.x0, reference.cy) for reference, _ in pairs])
    here = np.array([(seen.x0, seen.cy) for _, seen in pairs])
    middle, target = there.mean(axis=0), here.mean(axis=0)
    one, other = there - middle, here - target
    spread = float((one**2).sum())
    if spread < 400.0:  # one landmark, or several within 20 points: they tell no scale
        return Affine(1, 0, target[0] - middle[0], 0, 1, target[1] - middle[1])
    a = float((one * other).sum()) / spread
    b = float((one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0]).sum()) / spread
    return Affine(
        a, -b, float(target[0] - a * middle[0] + b * middle[1]), b, a, float(target[1] - b * middle[0] - a * middle[1])
    )
