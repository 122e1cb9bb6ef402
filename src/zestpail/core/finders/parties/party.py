"""The finder of a party: the name at the head of the address that is likeliest to be the seller's, or the buyer's."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Literal

from zestpail.core.finders.candidate import Candidate, legibility
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.parties.blocks import Block, pieces_of
from zestpail.core.finders.parties.blocks import Piece as PieceOfLine
from zestpail.core.finders.parties.evidence import Heading, NameInBlock, facts_of, heading_of, names_in
from zestpail.core.finders.printed.return_address import begins_under, sender_lines
from zestpail.core.landmarks.labels import Label, LabelMatch
from zestpail.core.landmarks.wordings import usual_labels, words_for

HIGHEST, LARGER = 6.0, 1.2
"""Heights of an address's print by which a name may stand over it, and how much larger it then is."""
_LABELLED = re.compile(r" ?(?:[:\t]|$)")
"""What follows a label that is one, and not a word of a name: "Compagnie des Îles"."""
Role = Literal["seller", "buyer"]
ROLES: Mapping[Role, str] = {"seller": "the seller", "buyer": "the buyer"}
OPPOSITE: Mapping[Role, Role] = {"seller": "buyer", "buyer": "seller"}
WEIGHTS: Mapping[Role, Mapping[str, float]] = {
    "seller": {
        "bias": -0.6, "headed": 4.0, "others_heading": -4.0, "delivery": -4.0, "headed_elsewhere": -2.0, "foot": 0.8,
        "head": 0.9, "right": 0.1, "print": 1.5, "account": 1.6, "number": 1.2, "contact": 1.2, "asked": -2.0,
        "own_host": 2.0, "repeated": 1.2, "legal_form": 0.5, "second_line": -1.5, "later_block": -0.5, "window": -1.5,
        "lower_half": -0.5, "under_name": -2.0,
        "more_names": 0.3, "titled": -0.5, "part_label": -2.0, "street": -3.0, "outdone": -1.5,
    },
    "buyer": {
        "bias": -0.2, "headed": 4.0, "others_heading": -4.0, "delivery": -1.0, "headed_elsewhere": -2.5, "foot": -3.0,
        "head": -1.0, "right": 0.0, "print": -1.5, "account": -2.5, "number": -0.6, "contact": -0.7, "asked": 1.5,
        "own_host": -2.0, "repeated": -0.6, "legal_form": 0.2, "second_line": -1.5, "one_line": -2.0, "window": 1.5,
        "lower_half": -1.0, "person": -1.0, "titled": -1.5, "part_label": -2.0, "street": -3.0, "outdone": -1.5,
    },
}  # fmt: skip
"""What each piece of evidence counts for where no judge has learned it (logarithms of odds); set by hand."""


class Party(Finder):
    """Take the name at the head of the address that all evidence together makes this party's."""

    finder: Literal["party"] = "party"
    role: Role
    other: str = ""
    """The field of the other party; "" where the type has none."""

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece(f"Take the name over the address that fits {ROLES[self.role]} best.")

    def wordings(self, key: str) -> Iterator[Label]:
        """The headings of this party, and those of a delivery address."""
        yield from usual_labels((self.role,), key)
        if not self.other:
            yield from usual_labels((OPPOSITE[self.role],), None)
        yield from usual_labels(("delivery_address", "name", "address_part", "document_title", "contact"), None)

    def needs(self, key: str) -> dict[str, str | None]:  # noqa: ARG002 - whichever field it is
        """The other party's field."""
        return {self.other: None} if self.other else {}

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The names of all addresses, each with what speaks for it."""
        blocks = (*context.blocks, *_named(context), *_left_of(context), *_high_over(context))
        headings: list[Heading] = [heading_of(context, b, target.key, self._of_other, _of_delivery) for b in blocks]
        senders = sender_lines(context)
        headed = any(heading == "own" for heading in headings)
        found: list[tuple[NameInBlock, dict[str, float]]] = []
        for block, heading in zip(blocks, headings, strict=True):
            for name in names_in(context, block):
                facts = facts_of(context, name, heading, headed, blocks)
                facts["window"] = float(any(begins_under(line, block.box) for line in senders))
                found.append((name, facts))
        for name, facts in found:
            yield self._candidate(name, facts | self._among(name, facts, found))

    def _among(
        self, name: NameInBlock, facts: dict[str, float], found: Sequence[tuple[NameInBlock, dict[str, float]]]
    ) -> dict[str, float]:
        """How well the other party would fit the name, and how well either party fits the best of the other names."""
        others = [known for other, known in found if other.text != name.text]
        opposite = OPPOSITE[self.role]
        return {
            "opposite": share_of(opposite, _seen_by_other(facts)),
            "others_own": max((share_of(self.role, known) for known in others), default=0.0),
            "others_opposite": max((share_of(opposite, _seen_by_other(known)) for known in others), default=0.0),
        }

    def _of_other(self, match: LabelMatch) -> bool:
        if self.other:
            return match.label.owner == self.other
        return match.label.owner is None and match.label.text in words_for(OPPOSITE[self.role])

    def _candidate(self, name: NameInBlock, facts: dict[str, float]) -> Candidate:
        sure = name.confidence
        return Candidate(
            value=name.text,
            raw=name.text,
            page=name.block.page,
            box=name.box,
            confidence=sure,
            finder=self.finder,
            parts={"party": share_of(self.role, facts), "reading": legibility(sure)},
            facts=facts,
            reason="the name over the address under its heading" if facts["headed"] else "the name over an address",
        )


def share_of(role: Role, facts: Mapping[str, float]) -> float:
    """How well a name fits a party by the evidence, in [0, 1], as weighed by hand."""
    weights = WEIGHTS[role]
    odds = weights["bias"] + sum(weights.get(fact, 0.0) * value for fact, value in facts.items())
    return round(1 / (1 + math.exp(-odds)), 3)


def _seen_by_other(facts: Mapping[str, float]) -> dict[str, float]:
    """The same evidence as the other party would see it: whose heading is whose."""
    return {**facts, "headed": facts["others_heading"], "others_heading": facts["headed"]}


def _named(context: SearchContext) -> Iterator[Block]:
    """Names that a label announces, as if each were a block of its own: "Name: Tidewell Joinery"."""
    for match in context.matches:
        if match.label.text not in words_for("name") or not _LABELLED.match(match.line.text, match.end):
            continue
        for piece in pieces_of(match.line):
            start = max(piece.start, match.end) if piece.start <= match.start < piece.end else piece.start
            start += len(match.line.text[start : piece.end]) - len(match.line.text[start : piece.end].lstrip(" :."))
            if start >= match.end and any(c.isalpha() for c in match.line.text[start : piece.end]):
                yield Block((PieceOfLine(match.line, start, piece.end),), one_line=True)
                break


def _left_of(context: SearchContext) -> Iterator[Block]:
    """Names at the left of an address, as if each were a block of its own: a letterhead may be parted so."""
    in_blocks = {(id(piece.line), piece.start) for block in context.blocks for piece in block.pieces}
    for block in context.blocks:
        first = block.pieces[0]
        for piece in pieces_of(first.line):
            if piece.end < first.start and (id(piece.line), piece.start) not in in_blocks and piece.part == "name":
                yield Block((piece,), one_line=True, beside=True)


def _high_over(context: SearchContext) -> Iterator[Block]:
    """Names in larger print further over an address, as if each were a block of its own: a letterhead has room."""
    in_blocks = {(id(piece.line), piece.start) for block in context.blocks for piece in block.pieces}
    for block in context.blocks:
        first = block.pieces[0]
        above = [
            piece
            for line in context.lines
            if line.page == block.page and 0 < first.box.y0 - line.box.y1 < HIGHEST * first.line.height
            for piece in pieces_of(line)
            if piece.box.stacked(block.box) > 0
        ]
        nearest = max(above, key=lambda piece: piece.box.y1, default=None)
        if nearest is None or nearest.part != "name" or (id(nearest.line), nearest.start) in in_blocks:
            continue
        if nearest.line.height > LARGER * first.line.height:
            yield Block((nearest,), one_line=True, beside=True)


def _of_delivery(match: LabelMatch) -> bool:
    return match.label.text in words_for("delivery_address")
