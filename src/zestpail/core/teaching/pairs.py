"""Labels and the values that stand beside them: every pair of a page, by how it is set."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from zestpail.core.kinds import PROPOSED, Style
from zestpail.core.landmarks.wordings import meaning_of
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import WIDE_GAP, Line
from zestpail.core.reading.page import Word
from zestpail.core.reading.worded import Worded

Direction = Literal["right", "below"]

LONGEST_LABEL, LONGEST_VALUE = 6, 12
"""Words."""
UNDER = 1.4
"""Heights of print between a label and the value under it at most."""
FLUSH = 7.0
"""Points by which a value may begin beside its label's left edge to stand under it."""
SMALLER = 0.88
"""Print of this share of the value's height is set as a label."""
COLON, SMALL_PRINT, ENDING, GAP, ABOVE, KNOWN = 0.9, 0.85, 0.75, 0.7, 0.55, 0.1
"""How likely a pair is one: by a colon, by small print over it, by a figure at its end, by a wide gap, by standing over
it; and what a label adds that is known from papers of many makers. Set by hand."""


@dataclass(frozen=True)
class Pair(Worded):
    """A label and the words of its value."""

    label: str
    labelled: tuple[Word, ...]
    """The words of the label."""
    words: tuple[Word, ...]
    page: int
    direction: Direction
    score: float
    """How likely it is one, in [0, 1]."""


@dataclass(frozen=True)
class _Piece(Worded):
    """Words of a line without a wide gap between them."""

    line: Line
    words: tuple[Word, ...]

    @property
    def height(self) -> float:
        heights = sorted(word.box.height for word in self.words)
        return heights[len(heights) // 2]


def pairs_on(lines: Sequence[Line], taken: Collection[Box], style: Style) -> list[Pair]:
    """The pairs on a page's lines, best first, no word being in two; what lies in ``taken`` is none."""
    pieces = [
        piece for line in lines for piece in _pieces(line) if not any(box.covers_centre_of(piece.box) for box in taken)
    ]
    found = sorted(_pairs(pieces, style), key=lambda pair: (-pair.score, pair.box.cy, pair.box.x0))
    kept: list[Pair] = []
    used: set[Box] = set()
    for pair in found:
        boxes = {word.box for word in (*pair.labelled, *pair.words)}
        if not boxes & used:
            kept.append(pair)
            used |= boxes
    return kept


def _pieces(line: Line) -> Iterator[_Piece]:
    words: list[Word] = []
    for word in line.words:
        if words and word.box.x0 - words[-1].box.x1 > WIDE_GAP * line.height:
            yield _Piece(line, tuple(words))
            words = []
        words.append(word)
    if words:
        yield _Piece(line, tuple(words))


def _pairs(pieces: Sequence[_Piece], style: Style) -> Iterator[Pair]:
    by_line: dict[int, list[_Piece]] = {}
    for piece in pieces:
        by_line.setdefault(id(piece.line), []).append(piece)
    for piece in pieces:
        row = by_line[id(piece.line)]
        after = row[row.index(piece) + 1 :]
        label, value = _at_colon(piece)
        if label:
            yield from _of_colon(piece, label, value, after, pieces)
        else:
            yield from _of_place(piece, after, pieces, style)


def _at_colon(piece: _Piece) -> tuple[tuple[Word, ...], tuple[Word, ...]]:
    """The words up to a colon, and those after it; no words where there is none."""
    for at, word in enumerate(piece.words[:LONGEST_LABEL]):
        if word.text.endswith(":") and any(c.isalpha() for w in piece.words[: at + 1] for c in w.text):
            return piece.words[: at + 1], piece.words[at + 1 :]
    return (), ()


def _of_colon(
    piece: _Piece, label: Sequence[Word], value: tuple[Word, ...], after: Sequence[_Piece], pieces: Sequence[_Piece]
) -> Iterator[Pair]:
    said = tuple(label)
    if value:
        yield _pair(said, value, piece, "right", COLON)
    elif after and not _at_colon(after[0])[0]:
        yield _pair(said, after[0].words, piece, "right", COLON)
    else:
        for under in _under(piece, pieces):
            yield _pair(said, under.words, piece, "below", COLON - 0.1)


def _of_place(piece: _Piece, after: Sequence[_Piece], pieces: Sequence[_Piece], style: Style) -> Iterator[Pair]:
    said = piece.words
    if _like_label(piece):
        if after and not _at_colon(after[0])[0]:
            yield _pair(said, after[0].words, piece, "right", GAP)
        for under in _under(piece, pieces):
            if any(_beside(under, other) for other in pieces) and _like_label(under):
                continue  # it is a label itself
            small = piece.height < SMALLER * under.height
            yield _pair(said, under.words, piece, "below", SMALL_PRINT if small else ABOVE)
    at = _value_at_end(piece, style)
    if at:
        yield _pair(piece.words[:at], piece.words[at:], piece, "right", ENDING)


def _value_at_end(piece: _Piece, style: Style) -> int:
    """From which word on a piece that begins with a label is a value of a narrow kind; 0 if it is none."""
    for at in range(1, min(len(piece.words), LONGEST_LABEL)):
        rest = " ".join(word.text for word in piece.words[at:])
        before = piece.words[:at]
        if not any(c.isdigit() for word in before for c in word.text) and any(c.isdigit() for c in rest):
            kinds = (kind for kind in PROPOSED if kind.narrow)
            if any(kind.meant_by(rest, style) for kind in kinds):
                return at
    return 0


def _under(piece: _Piece, pieces: Sequence[_Piece]) -> list[_Piece]:
    """What stands right under a piece, flush with it."""
    near = [
        other
        for other in pieces
        if other.line.page == piece.line.page
        and abs(other.box.x0 - piece.box.x0) < FLUSH
        and other.box.cy - piece.box.cy > 0
        and other.box.y0 - piece.box.y1 < UNDER * max(piece.height, other.height)
    ]
    return sorted(near, key=lambda other: other.box.cy)[:1]


def _beside(one: _Piece, other: _Piece) -> bool:
    """Whether the other piece stands right of the one on its line."""
    return other.line is one.line and other.box.x0 > one.box.x1


def _like_label(piece: _Piece) -> bool:
    text = piece.text
    letters = sum(c.isalpha() for c in text)
    return (
        len(piece.words) <= LONGEST_LABEL
        and letters >= 2
        and letters >= 0.5 * len(text)
        and not any(c.isdigit() for c in text)
    )


def _pair(labelled: tuple[Word, ...], words: Sequence[Word], piece: _Piece, direction: Direction, score: float) -> Pair:
    label = _plain(labelled)
    known = KNOWN if meaning_of(label) else 0.0
    long = 0.3 if len(words) > LONGEST_VALUE else 0.0
    return Pair(label, labelled, tuple(words), piece.line.page, direction, round(min(score + known, 1.0) - long, 3))


def _plain(words: Sequence[Word]) -> str:
    return " ".join(word.text for word in words).strip(" :.-–·")
