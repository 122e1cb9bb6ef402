"""The finder that answers a question in plain words: what the answer is beside is worked out by meaning."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.setting import Setting


class Question(Finder):
    """Take what answers a question; no answer is an answer too."""

    title: ClassVar[str] = "A question"
    added_by: ClassVar[str] = "question"
    finder: Literal["question"] = "question"
    question: Annotated[str, Setting("What is asked, in plain words")] = Field(min_length=3, max_length=300)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Answer ")
        yield Piece(f"“{self.question}”", "question.question")
        yield Piece(" by what stands on the paper.")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What may be the answer."""
        if context.memory is not None:
            yield from context.memory.answers(context, target, self.question)
