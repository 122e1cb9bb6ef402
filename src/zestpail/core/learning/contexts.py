"""What stands around a piece of a page: its labels left and above, and the words of its sentence."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import WIDE_GAP, Line
from zestpail.core.reading.page import Word

LONGEST_LABEL, IN_PROSE, BEFORE, AFTER = 6, 3, 9, 5
"""Words of a label, of what stands for one in prose, and of a sentence before and after a value."""
ABOVE = 1.6
"""Heights of print between a label and what stands under it at most."""
FLUSH = 8.0
"""Points by which a label may begin beside what stands under it."""
FAR = 90.0
"""Points from which what stands before a value is rather another column than its label, if one stands over it."""
SMALLER = 0.88
"""Print of this share of the value's height is set as a label."""
NEXT = 1.0
"""Heights of print between two lines of a sentence at most."""
BLANK = "…"
"""What stands for the value in its sentence."""


@dataclass(frozen=True)
class Around:
    """The words around a piece of the page; "" where there are none."""

    label: str
    """What stands before it or over it, apart from other text."""
    lead: str
    """The last words before it, where it stands in a sentence."""
    sentence: str
    """The words before and after it, with a mark in its place."""
    over: bool = False
    """Whether its label stands over it."""
    follow: str = ""
    """The word right after it."""


class Pages:
    """The lines of a document as what stands around their words is asked for."""

    def __init__(self, document: DocumentReading) -> None:
        self.document = document
        self._kept: dict[tuple[int, int, int], Around] = {}

    @cached_property
    def _at(self) -> dict[int, int]:
        return {id(line): at for at, line in enumerate(self.document.lines)}

    def around(self, line: Line, first: int, last: int) -> Around:
        """What stands around the words ``first`` to ``last`` (not included) of a line of the document."""
        key = (id(line), first, last)
        if key not in self._kept:
            before, after = self._sentence(line, first, last)
            label, lead, over = self._label(line, first)
            self._kept[key] = Around(label, lead, f"{before} {BLANK} {after}", over, after.split(" ", 1)[0])
        return self._kept[key]

    def _label(self, line: Line, first: int) -> tuple[str, str, bool]:
        """The label of a word, or the words that lead to it where it stands in a sentence; whether that is over it."""
        piece = _piece_before(line, first)
        box, gap = line.words[first].box, line.words[first].box.x0 - piece[-1].box.x1 if piece else FAR
        over = self._above(line, box)
        over = () if _figures(over) else over
        if piece and len(piece) <= LONGEST_LABEL and not _figures(piece) and (gap < FAR or not over):
            smaller = bool(over) and over[0].box.height < SMALLER * box.height < piece[-1].box.height * 1.2
            above = smaller and gap > line.height
            return _plain(over if above else piece), "", above
        if over and (not piece or gap > WIDE_GAP * line.height):
            return _plain(over), "", True
        return "", _plain(_until_figures(piece)[-IN_PROSE:]), False

    def _above(self, line: Line, box: Box) -> Sequence[Word]:
        """The piece right over a box and flush with it."""
        at = self._at.get(id(line), 0)
        for other in reversed(self.document.lines[max(at - 4, 0) : at]):
            gap = box.y0 - other.box.y1
            if other.page != line.page or gap > ABOVE * max(line.height, other.height):
                break
            for piece in _pieces(other.words, other.height):
                if abs(piece[0].box.x0 - box.x0) < FLUSH or around(w.box for w in piece).stacked(box) > 0.6:
                    return piece[:LONGEST_LABEL]
        return ()

    def _sentence(self, line: Line, first: int, last: int) -> tuple[str, str]:
        at = self._at.get(id(line))
        before, after = list(line.words[max(first - BEFORE, 0) : first]), list(line.words[last : last + AFTER])
        if at is not None and len(before) < BEFORE and at and goes_on(self.document.lines[at - 1], line):
            before = [*self.document.lines[at - 1].words[-(BEFORE - len(before)) :], *before]
        if at is not None and len(after) < AFTER and at + 1 < len(self.document.lines):
            following = self.document.lines[at + 1]
            if goes_on(line, following):
                after += following.words[: AFTER - len(after)]
        return _said(before), _said(after)


def goes_on(line: Line, under: Line) -> bool:
    """Whether a line is likely the next one of the same paragraph."""
    near = 0 <= under.box.y0 - line.box.y1 + 1 < NEXT * line.height
    return line.page == under.page and near and len(line.words) > 3 and "\t" not in line.text


def _piece_before(line: Line, first: int) -> Sequence[Word]:
    """The words before a word: those that it follows without a gap, else the piece before the gap."""
    words = list(line.words[:first])
    if not words:
        return ()
    return _pieces(words, line.height)[-1]


def _figures(words: Sequence[Word]) -> bool:
    return any(c.isdigit() for word in words for c in word.text)


def _until_figures(words: Sequence[Word]) -> list[Word]:
    """The last words of a piece, back to one with figures: that is a value itself."""
    found: list[Word] = []
    for word in reversed(words):
        if _figures([word]):
            break
        found.insert(0, word)
    return found


def _pieces(words: Sequence[Word], height: float) -> list[list[Word]]:
    pieces: list[list[Word]] = []
    for word in words:
        if pieces and word.box.x0 - pieces[-1][-1].box.x1 <= WIDE_GAP * height:
            pieces[-1].append(word)
        else:
            pieces.append([word])
    return pieces


def _said(words: Sequence[Word]) -> str:
    return " ".join(word.text for word in words)


def _plain(words: Sequence[Word]) -> str:
    return _said(words).strip(" :.-–·_")
