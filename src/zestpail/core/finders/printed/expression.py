"""The finder by a regular expression, for those who want one. It is never needed."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

import regex
from pydantic import Field, field_validator

from zestpail.core.finders.candidate import Candidate, legibility
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece, TooSlow
from zestpail.core.setting import Setting

SECONDS = 0.05
"""How long one line may take."""


class Expression(Finder):
    """Take what a regular expression fits; its first group if it has one."""

    title: ClassVar[str] = "Pattern (advanced)"
    added_by: ClassVar[str] = "expression"
    unbounded: ClassVar[bool] = True
    finder: Literal["regex"] = "regex"
    expression: Annotated[str, Setting("expression")] = Field(min_length=1, max_length=500)
    weight: float = Field(default=0.7, gt=0, le=1)

    @field_validator("expression")
    @classmethod
    def _sensible(cls, text: str) -> str:
        try:
            compiled = regex.compile(text)
        except regex.error as problem:
            raise ValueError(f"“{text}” is not a valid pattern: {problem.msg}") from problem
        if compiled.fullmatch("", timeout=SECONDS):
            raise ValueError(f"“{text}” fits an empty text, and so everything")
        return text

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take what fits the expression ")
        yield Piece(self.expression, "regex.expression")
        yield Piece(".")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """Each match whose text is of the field's kind. Raises TooSlow."""
        compiled = regex.compile(self.expression)
        for order, line in enumerate(context.lines):
            try:
                found = list(compiled.finditer(line.text, timeout=SECONDS))
            except TimeoutError as problem:
                raise TooSlow(f"The expression {self.expression} takes too long on “{line.text[:40]}”.") from problem
            for match in found:
                start, end = match.span(1 if compiled.groups else 0)
                raw = line.text[start:end]
                value = target.kind.parse(raw, context.style) if raw.strip() else None
                if value:
                    sure = line.confidence_of(start, end)
                    yield Candidate(
                        value=value,
                        raw=raw.replace("\t", " "),
                        page=line.page,
                        box=line.box_of(start, end),
                        confidence=sure,
                        finder=self.finder,
                        parts={
                            "expression": self.weight,
                            "place": round(0.99**order, 3),
                            "reading": legibility(sure),
                        },
                        reason="fits the expression",
                    )
