"""The finder of a signature: whether anything is written by hand beside, under or over its label."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.inked.handwritten import handwritten
from zestpail.core.landmarks.labels import Label, LabelMatch
from zestpail.core.reading.geometry import Box
from zestpail.core.setting import Setting

HIGH, WIDE = 56.0, 230.0
"""How much room a signature takes, in points."""
LINE_OVER = 14.0
"""A ruled line so near over the label, in points, is the one to sign on."""


class Signed(Finder):
    """See whether there is a signature by one of the labels."""

    title: ClassVar[str] = "A place to sign"
    finder: Literal["signature"] = "signature"
    labels: Annotated[tuple[str, ...], Setting("Words beside it, one wording a line", "lines")] = Field(min_length=1)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("See whether somebody signed by ")
        yield Piece(" or ".join(f"“{label}”" for label in self.labels), "signature.labels")
        yield Piece(".")

    def wordings(self, key: str) -> Iterator[Label]:
        """The labels as they take part in the matching."""
        yield from (Label(text, key) for text in self.labels)

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """Signed or not, for every place where the label stands by itself."""
        for match in context.matches:
            if match.label.owner == target.key:
                area = _room(context, match)
                there, stroke = handwritten(context.document.pages[match.line.page], area, [match.box])
                yield inked("yes" if there > 0.5 else "no", max(there, 1 - there), match.line.page, stroke or area,
                            {"label": round(match.similarity, 3), "alone": _alone(match)}, "signature")  # fmt: skip


def inked(value: str, sure: float, page: int, box: Box, parts: dict[str, float], finder: str) -> Candidate:
    """The candidate of a value that is told by ink and not by letters."""
    return Candidate(
        value=value, raw="", page=page, box=box, confidence=round(0.5 + sure / 2, 3), finder=finder,
        parts={**parts, "ink": round(sure, 3)},
        reason="something is written by hand" if value == "yes" else "nothing is written there", made=True,
        agreed=True if sure > 0.9 else None,
    )  # fmt: skip


def _room(context: SearchContext, match: LabelMatch) -> Box:
    """Where one signs: over the label if a line is drawn there, else under it and right of it up to the next line."""
    page, box = context.document.pages[match.line.page], match.box
    over = [r for r in page.rules if 0 <= box.y0 - r.cy < LINE_OVER and r.x0 < box.cx < r.x1]
    right = min(
        [m.x0 for m in _words_right(match)] + [w.box.x0 for w in page.words if w.box.x0 > box.x1 + WIDE] + [page.width]
    )
    right = min(right, box.x0 + WIDE)
    if over and over[-1].width < 0.7 * page.width:
        line = over[-1]
        return Box(line.x0, line.cy - HIGH, max(line.x1, right), line.cy - 1)
    below = [r.cy for r in page.rules if r.cy > box.y1 + 8 and r.x0 < box.cx + 20 < r.x1]
    return Box(box.x0 - 4, box.y0 - 4, right, min([*below, box.y1 + HIGH]) - 1)


def _words_right(match: LabelMatch) -> list[Box]:
    return [
        word.box for word, _, _ in match.line.touched(match.end, len(match.line.text)) if word.box.x0 > match.box.x1
    ]


def _alone(match: LabelMatch) -> float:
    """A label amid a sentence ("without a signature are sent back") is no place to sign."""
    before, after = match.line.text[: match.start], match.line.text[match.end :].lstrip(" :._-")
    return 1.0 if (not before or before[-1] == "\t") and (not after or after[0] == "\t") else 0.1
