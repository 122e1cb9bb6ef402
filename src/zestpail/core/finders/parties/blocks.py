"""Address blocks: lines that stand one under the other and together say who somebody is and where."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

from zestpail.core.finders.parties.addresses import Part, part_of
from zestpail.core.kinds.names import legal_form_in
from zestpail.core.landmarks.labels import LabelMatch, folded
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line

MOST_LINES = 12
"""Lines of the longest block."""
NEXT = 2.4
"""Heights of print from one line's top to the next one's in a block."""
TOP = 0.2
"""The share of a page's print in which a letterhead is."""
LOOSER = 1.7
"""How much more room there may be under a line in larger print."""
SET_OFF = 1.2
"""How much more there may be between a name and its street, and between an address and the ways to reach somebody."""
_SET_OFF = {
    ("name", "street"),
    ("place", "contact"),
    ("country", "contact"),
    ("place", "number"),
    ("street", "contact"),
}
FLUSH = 0.8
"""Heights of print by which lines of one block may begin, or end, apart."""
SAME_PRINT, NAME_PRINT = 1.35, 2.8
"""How much taller one line may be than the next; the first one, a name, may be a good deal larger."""
LOOK_DOWN = 40
"""Pieces below another, in reading order, among which the next line of its block is."""
_BETWEEN = re.compile(r"\s*[·•|‧∙]\s*|\s+[-–—]\s+|,\s+")
_WITH_ADDRESS = re.compile(r"([^<>@]*[^<>@ ]) ?<\S{1,100}@\S{1,100}>")
"""A name with its e-mail address as mail programs write it."""
_TITLES = tuple(map(folded, (
    "Frau", "Herr", "Herrn", "Firma", "An", "Mr", "Mrs", "Ms", "M.", "Mme", "Monsieur", "Madame", "Sr.", "Sra.",
    "Spett.le", "Aan", "To",
)))  # fmt: skip
"""What may stand on a line of its own before the name of who is addressed."""


@dataclass(frozen=True, eq=False)
class Piece:
    """A piece of a line between two wide gaps, or from one sign between parts to the next."""

    line: Line
    start: int
    end: int

    @cached_property
    def text(self) -> str:
        return self.line.text[self.start : self.end]

    @cached_property
    def box(self) -> Box:
        return self.line.box_of(self.start, self.end)

    @cached_property
    def height(self) -> float:
        return max(word.box.height for word, _, _ in self.line.touched(self.start, self.end))

    @cached_property
    def part(self) -> Part:
        return part_of(self.text)

    @cached_property
    def inner(self) -> float:
        """Where what follows a label begins ("Buyer: Tidewell Joinery"), in points; else its left edge."""
        found = re.match(r"[^:\d]{2,30}: +(?=\S)", self.text)
        return self.line.box_of(self.start + found.end(), self.end).x0 if found else self.box.x0

    @property
    def is_sender_line(self) -> bool:
        """Whether it is a whole address by itself, as in the small line over an addressee."""
        return self.part == "place" and len(_BETWEEN.split(self.text)) >= 3

    def within(self, match: LabelMatch) -> bool:
        """Whether it is nothing but that label."""
        return match.line is self.line and match.start <= self.start and self.end <= match.end + 2


@dataclass(frozen=True, eq=False)
class Block:
    """An address: its pieces from the first one down."""

    pieces: tuple[Piece, ...]
    one_line: bool = False
    beside: bool = False
    """Whether it is but a name at the left of an address."""
    under_name: bool = False
    """Whether a name in much larger print stands right over it, whose address it may be."""

    @property
    def page(self) -> int:
        return self.pieces[0].line.page

    @cached_property
    def box(self) -> Box:
        return around(piece.box for piece in self.pieces)

    def has(self, part: Part) -> bool:
        """Whether one of its pieces is such a part."""
        return any(piece.part == part for piece in self.pieces)

    @property
    def is_address(self) -> bool:
        """Whether it says where somebody is, and not only who."""
        if self.has("place"):
            return True
        return self.has("street") and (self.has("country") or self.has("contact") or self.has("number"))

    @property
    def is_letterhead(self) -> bool:
        """Whether it is a firm's name in large print with a number or ways to reach it right under it."""
        first, *rest = self.pieces
        large = bool(rest) and legal_form_in(first.text) and first.height > SAME_PRINT * rest[0].height
        return large and rest[0].part in ("number", "contact", "street")


def blocks_in(lines: Sequence[Line]) -> tuple[Block, ...]:
    """The addresses on the first and on the last page, from top to bottom."""
    last = lines[-1].page if lines else 0
    found: list[Block] = []
    for page in sorted({0, last}):
        pieces = [piece for line in lines if line.page == page for piece in pieces_of(line)]
        top = TOP * max((line.box.y1 for line in lines if line.page == page), default=0.0)
        found += (
            block for block in _stacked(pieces) if block.is_address or (block.is_letterhead and block.box.y0 < top)
        )
        found += (block for line in lines if line.page == page for block in _along(line))
    return tuple(sorted(found, key=lambda block: (block.page, block.box.y0)))


def pieces_of(line: Line) -> Iterator[Piece]:
    """The pieces between wide gaps."""
    for found in re.finditer(r"[^\t]+", line.text):
        named = _WITH_ADDRESS.fullmatch(found[0])
        end = found.start() + named.end(1) if named else found.end()
        yield Piece(line, found.start(), end)
        if named:
            yield Piece(line, end, found.end())


def _along(line: Line) -> Iterator[Block]:
    """An address on one line: its parts have commas or dots between them."""
    for piece in pieces_of(line):
        at, parts = piece.start, []
        for gap in [*_BETWEEN.finditer(piece.text), None]:
            end = piece.start + gap.start() if gap else piece.end
            if end > at:
                parts.append(Piece(line, at, end))
            at = piece.start + gap.end() if gap else at
        if len(parts) >= 3 and parts[0].part == "name" and any(part.part == "place" for part in parts[1:]):
            yield Block(tuple(parts), one_line=True)


def _stacked(pieces: Sequence[Piece]) -> Iterator[Block]:
    """Chains of pieces, each of which is the next line of the one before."""
    following = {id(piece): _next(piece, pieces[at + 1 : at + 1 + LOOK_DOWN]) for at, piece in enumerate(pieces)}
    followers = {id(piece) for piece in following.values() if piece}
    for piece in pieces:
        if id(piece) in followers:
            continue
        chain = [piece]
        while (after := following[id(chain[-1])]) and len(chain) < MOST_LINES:
            if not _same_print(chain[-1], after, first=len(chain) == 1):
                break
            chain.append(after)
        yield Block(tuple(chain))
        if len(chain) > 2 and not _same_print(chain[0], chain[1], first=False):  # under a large name
            yield Block(tuple(chain[1:]), under_name=True)
        if after and len(chain) < MOST_LINES:  # smaller print below is a block of its own
            rest = [after]
            while (more := following[id(rest[-1])]) and len(rest) < MOST_LINES and _same_print(rest[-1], more, False):
                rest.append(more)
            yield Block(tuple(rest))


def _next(piece: Piece, below: Sequence[Piece]) -> Piece | None:
    fitting = [other for other in below if _under(piece, other)]
    return min(fitting, key=lambda other: (other.box.y0, abs(other.box.x0 - piece.box.x0)), default=None)


def _under(above: Piece, below: Piece) -> bool:
    """Whether the lower piece stands under the upper one with one edge in common and no gap.

    Under a letterhead's name there is more room.
    """
    one, other, size = above.box, below.box, max(above.height, below.height)
    if not 0.3 * size < other.y0 - one.y0 < NEXT * LOOSER * size:
        return False
    edges = (one.x0 - other.x0, above.inner - other.x0, one.x1 - other.x1, one.cx - other.cx)
    flush = min(map(abs, edges)) < FLUSH * size
    parted = (above.part, below.part) in _SET_OFF
    loose = LOOSER if above.height > SAME_PRINT * below.height else SET_OFF if parted else 1.0
    near = 0.3 * size < other.y0 - one.y0 < NEXT * loose * size and other.y0 - one.y1 < loose * size
    return flush and one.stacked(other) > 0 and near


def _same_print(above: Piece, below: Piece, first: bool) -> bool:
    taller, lower = max(above.height, below.height), min(above.height, below.height)
    return taller < (NAME_PRINT if first and above.height >= below.height else SAME_PRINT) * lower


def is_title(piece: Piece) -> bool:
    """Whether it is a form of address such as "Frau", which stands before a name."""
    return folded(piece.text) in _TITLES
