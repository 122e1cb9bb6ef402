"""The finder of the addressee by the look of an address: short lines one under the other, with a postcode."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from zestpail.core.finders.candidate import Candidate, legibility
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.parties.blocks import Piece as PieceOfLine
from zestpail.core.finders.parties.blocks import pieces_of
from zestpail.core.finders.postcodes import POSTCODE
from zestpail.core.finders.printed.return_address import begins_under, sender_lines
from zestpail.core.landmarks.labels import folded

HEAD = 0.5
"""The share of the first page's height in which an addressee stands."""
LONGEST = 45
"""Letters; a longer piece is no line of an address."""
OWN = 0.15
"""What is left of a block that looks like the sender's own: it has numbers of its own, or its name is printed again."""


_ADDRESSED = tuple(map(folded, (
    "Frau", "Herr", "Herrn", "Firma", "An", "Mr", "Mrs", "Ms", "M.", "Mme", "Monsieur", "Madame", "Sr.", "Sra.",
    "Spett.le", "Aan", "To",
)))  # fmt: skip
"""What may stand on a line of its own before the name of who is addressed."""


class AddressBlock(Finder):
    """Take the first line of an address that stands by itself on the first page."""

    finder: Literal["address_block"] = "address_block"
    weight: float = Field(default=0.6, gt=0, le=1)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take the first line of an address that stands by itself.")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The first line of each block that looks like an address."""
        height = context.document.pages[0].height if context.document.pages else 0
        pieces = [
            p for line in context.lines if line.page == 0 and line.box.cy < HEAD * height for p in pieces_of(line)
        ]
        senders = sender_lines(context)
        whole = folded(" ".join(line.text for line in context.lines))
        for piece in pieces:
            block = _named(context, target, _block(piece, pieces))
            if not (3 <= len(block) <= 7) or not any(POSTCODE.search(p.text) for p in block[1:]):
                continue
            first = block[0]
            if any(len(p.text) > LONGEST for p in block) or not first.text[:1].isalpha():
                continue
            if POSTCODE.search(first.text):  # the name stands elsewhere
                continue
            repeated = whole.count(folded(first.text)) > 1
            labelled = any(m.line is p.line and p.start <= m.start < p.end for p in block for m in context.matches)
            announced = any(begins_under(line, piece.box) for line in senders)
            sure = first.line.confidence_of(first.start, first.end)
            yield Candidate(
                value=first.text.strip(" ,;:"),
                raw=first.text,
                page=0,
                box=first.box,
                confidence=sure,
                finder=self.finder,
                parts={
                    "address": self.weight,
                    "not the sender": OWN if (repeated or labelled) and not announced else 1.0,
                    "reading": legibility(sure),
                },
                reason="the first line of an address",
            )


def _named(context: SearchContext, target: FieldTarget, block: list[PieceOfLine]) -> list[PieceOfLine]:
    """The block from its name on: the field's own heading over it, or "Frau" on a line of its own, is none."""
    if not block:
        return block
    first = block[0]
    over = [m for m in context.matches if m.line is first.line and m.start <= first.start and first.end <= m.end + 2]
    headed = any(match.label.owner == target.key for match in over)
    return block[1:] if headed or folded(first.text) in _ADDRESSED else block


def _block(first: PieceOfLine, pieces: list[PieceOfLine]) -> list[PieceOfLine]:
    """The pieces that stand one under the other from ``first`` on; none if it is not the first of them."""
    if any(_follows(above, first) for above in pieces):
        return []
    block = [first]
    while following := next((p for p in pieces if _follows(block[-1], p)), None):
        block.append(following)
    return block


def _follows(above: PieceOfLine, below: PieceOfLine) -> bool:
    """Whether the lower piece goes on from the upper one: same left edge, same print, no gap."""
    one, other = above.box, below.box
    size = max(above.line.height, below.line.height)
    same_print = size < 1.35 * min(above.line.height, below.line.height)
    return (
        same_print
        and abs(one.x0 - other.x0) < 0.8 * size
        and 0 < other.y0 - one.y0 < 2.4 * size
        and other.y0 - one.y1 < size
    )
