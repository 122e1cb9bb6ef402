"""A field's rule as a sentence whose words are its settings."""

from __future__ import annotations

from collections.abc import Iterator

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import Piece
from zestpail.core.writing.value_formats import VALUE_FORMATS


def pieces(rule: FieldRule, needed: bool) -> list[Piece]:
    """The sentence of a field's rule, in pieces."""
    return [
        *_finders(rule),
        Piece("It is "),
        Piece(rule.kind.words, "kind"),
        Piece(" "),
        Piece(rule.profile.sentence if rule.profile else "of any shape", "examples"),
        Piece(", "),
        Piece(rule.within.sentence if rule.within else "on any page", "within"),
        Piece(", and "),
        Piece("needed" if needed else "may be missing", "needed"),
        Piece("."),
        *_review(rule),
        *_delivery(rule),
    ]


def sentence(rule: FieldRule, needed: bool) -> str:
    """The whole sentence."""
    return "".join(piece.text for piece in pieces(rule, needed))


def _review(rule: FieldRule) -> Iterator[Piece]:
    if rule.review_below is not None:
        yield Piece(" A person looks at it ")
        yield Piece(f"when less than {rule.review_below:.0%} sure" if rule.review_below else "never", "review_below")
        yield Piece(".")


def _delivery(rule: FieldRule) -> Iterator[Piece]:
    if rule.export_as != "as_kept":
        yield Piece(" It is delivered ")
        yield Piece(
            f"as {VALUE_FORMATS[rule.export_as]}".replace("as in ", "in ").replace("as without", "without"), "export_as"
        )
        yield Piece(".")


def _finders(rule: FieldRule) -> Iterator[Piece]:
    if not rule.finders:
        yield Piece("No rule yet. ")
    for at, finder in enumerate(rule.finders):
        first, *rest = finder.pieces()
        other = at > 0 and first.text.startswith(("Look", "Take", "Work"))
        joined = "Else" if rule.tries == "in_order" else "Or"
        yield Piece(f"{joined} {first.text[0].lower()}{first.text[1:]}", first.setting) if other else first
        yield from rest
        yield Piece(" ")
