"""A field's rule as a sentence whose words are its settings."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import Piece
from zestpail.core.writing.value_formats import VALUE_FORMATS


def pieces(rule: FieldRule, needed: bool, names: Mapping[str, str]) -> list[Piece]:
    """The sentence of a field's rule, in pieces; ``names`` are those of all fields."""
    shape = [] if rule.kind.told_by else [Piece(" "), Piece(_shape(rule), "examples")]
    return [
        *_finders(rule, names),
        Piece("It is "),
        Piece(rule.kind.words, "kind"),
        *shape,
        Piece(", "),
        Piece(rule.within.sentence if rule.within else "on any page", "within"),
        Piece(", and "),
        Piece("required" if needed else "may be missing", "needed"),
        Piece("."),
        *_review(rule),
        *_delivery(rule),
    ]


def sentence(rule: FieldRule, needed: bool, names: Mapping[str, str]) -> str:
    """The whole sentence."""
    return "".join(piece.text for piece in pieces(rule, needed, names))


def _shape(rule: FieldRule) -> str:
    return rule.profile.sentence if rule.profile else "in any form"


def _named(piece: Piece, keys: Collection[str], names: Mapping[str, str]) -> Piece:
    """The piece with the names of the fields that it speaks of instead of their keys."""
    if not keys:
        return piece
    either = re.compile(rf"\b({'|'.join(map(re.escape, keys))})\b")
    return Piece(either.sub(lambda found: names.get(found[0], found[0]), piece.text), piece.setting)


def _review(rule: FieldRule) -> Iterator[Piece]:
    if rule.review_below is not None:
        yield Piece(" It is reviewed ")
        yield Piece(f"when less than {rule.review_below:.0%} sure" if rule.review_below else "never", "review_below")
        yield Piece(".")


def _delivery(rule: FieldRule) -> Iterator[Piece]:
    if rule.export_as != "as_kept":
        yield Piece(" It is delivered ")
        yield Piece(
            f"as {VALUE_FORMATS[rule.export_as]}".replace("as in ", "in ").replace("as without", "without"), "export_as"
        )
        yield Piece(".")


def _finders(rule: FieldRule, names: Mapping[str, str]) -> Iterator[Piece]:
    if not rule.finders:
        yield Piece("No rule yet. ")
    for at, finder in enumerate(rule.finders):
        first, *rest = [_named(piece, finder.needs(rule.key), names) for piece in finder.pieces()]
        other = at > 0 and first.text.startswith(("Look", "Take", "Calculate"))
        joined = "Else" if rule.tries == "in_order" else "Or"
        yield Piece(f"{joined} {first.text[0].lower()}{first.text[1:]}", first.setting) if other else first
        yield from rest
        yield Piece(" ")
