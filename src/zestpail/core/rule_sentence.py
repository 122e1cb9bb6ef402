"""A rule as a sentence whose words are its settings."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import BesideLabel, Expression, FixedPlace

SHOWN = 3
"""Wordings of a label that a sentence names; the others are counted."""


@dataclass(frozen=True)
class Piece:
    """Some words of a sentence; ``setting`` names what they stand for, if that can be changed."""

    text: str
    setting: str = ""


def pieces(rule: FieldRule, needed: bool) -> list[Piece]:
    """The sentence of a field's rule, in pieces."""
    found = [piece for at, finder in enumerate(rule.finders) for piece in _finder(finder, first=at == 0)]
    return [
        *(found or [Piece("No rule yet. ")]),
        Piece("It is "),
        Piece(rule.kind.words, "kind"),
        *(
            [Piece(" "), Piece(rule.looks.sentence, "examples")]
            if rule.looks
            else [Piece(" of "), Piece("any shape", "examples")]
        ),
        Piece(", "),
        Piece(rule.within.sentence if rule.within else "on any page", "within"),
        Piece(", and "),
        Piece("needed" if needed else "may be missing", "needed"),
        Piece("."),
    ]


def _finder(finder: object, first: bool) -> Iterator[Piece]:
    if isinstance(finder, BesideLabel):
        where = " or ".join("right of" if direction == "right" else "below" for direction in finder.directions)
        labels = " or ".join(f"“{label}”" for label in finder.labels[:SHOWN]) or "no label"
        more = f" and {len(finder.labels) - SHOWN} more" if len(finder.labels) > SHOWN else ""
        yield Piece("Look " if first else "Else look ")
        yield Piece(where or "nowhere near", "directions")
        yield Piece(" ")
        yield Piece(labels + more, "labels")
        yield Piece(", up to ")
        yield Piece(f"{finder.reach_mm:g} mm", "reach_mm")
        yield Piece(" away. ")
    elif isinstance(finder, Expression):
        yield Piece("Take what fits the expression " if first else "Else take what fits the expression ")
        yield Piece(finder.expression, "expression")
        yield Piece(". ")
    elif isinstance(finder, FixedPlace):
        yield Piece("Take what stands in " if first else "Else take what stands in ")
        yield Piece("its zone" + (f", held to {' and '.join(finder.held_to)}" if finder.held_to else ""), "held_to")
        yield Piece(". ")
    else:
        yield Piece(f"{finder.sentence} ")  # type: ignore[attr-defined]
