"""The finder of what samples taught: what stands where it stood on a labelled document of the same layout."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece


class Learned(Finder):
    """Take what samples taught; what that is is kept with the type, and not with the rule."""

    finder: Literal["learned"] = "learned"

    @property
    def stays_when_emptied(self) -> bool:
        """It has no settings."""
        return True

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take what stands as it did on samples.")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What the samples taught of the field; nothing where none was learned."""
        if context.memory is not None:
            yield from context.memory.candidates(context, target)
