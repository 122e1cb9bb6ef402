"""The finder that goes by what a value looks like, anywhere in the document or in its head."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from decimal import Decimal
from typing import Literal

from pydantic import Field

from zestpail.core.finders.candidate import Candidate, of_span
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.kinds.kind import Span
from zestpail.core.landmarks.labels import Label

Where = Literal["anywhere", "head"]
WHERE: dict[Where, str] = {"anywhere": "anywhere", "head": "in the head of the first page"}
Prefer = Literal["first", "most_frequent", "largest_print", "largest_amount"]
PREFER: dict[Prefer, str] = {
    "first": "the first",
    "most_frequent": "the most frequent",
    "largest_print": "the largest print",
    "largest_amount": "the largest amount",
}
ALONE = 0.62
"""What a date is trusted that is the only one in the document; below a label that stands beside it."""
HEAD = 0.45
"""The share of the first page's height that counts as its head."""


class Pattern(Finder):
    """Take what fits the field's kind, preferring the first, the most frequent or the largest print."""

    finder: Literal["pattern"] = "pattern"
    where: Where = "anywhere"
    prefer: Prefer = "first"
    weight: float = Field(default=0.5, gt=0, le=1)
    """How far this is trusted against a label."""
    not_after: tuple[str, ...] = ()
    """Labels that make what follows them somebody else's ("Bill to")."""

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece(f"Look {WHERE[self.where]} for what fits, {PREFER[self.prefer]} first.")

    def wordings(self, key: str) -> Iterator[Label]:  # noqa: ARG002 - these belong to no field
        """The labels that this finder keeps away from."""
        yield from (Label(text, None) for text in self.not_after)

    def needs(self, key: str) -> dict[str, str | None]:
        """Amounts, where the largest is preferred."""
        return {key: "amount"} if self.prefer == "largest_amount" else {}

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """Everything of the right kind in the area, scored by what is preferred."""
        spans = [
            span for line in context.lines for span in context.spans(line, target.kind) if self._inside(context, span)
        ]
        if not spans:
            return
        frequent = Counter(span.value for span in spans)
        most = max(frequent.values())
        tallest = max(span.line.height for span in spans)
        ranks = _ranks(spans) if self.prefer == "largest_amount" else {}
        alone = target.kind.sheet == "date" and len(frequent) == 1 and self.where == "anywhere"
        weight = max(self.weight, ALONE) if alone else self.weight
        for order, span in enumerate(spans):
            wanted = {
                "first": 0.93**order,
                "most_frequent": frequent[span.value] / most * 0.99**order,
                "largest_print": (span.line.height / tallest) ** 0.5 * 0.97**order,
                "largest_amount": 0.8 ** ranks.get(span.value, 0),
            }[self.prefer]
            yield of_span(
                span,
                self.finder,
                {
                    "pattern": weight,
                    "place": round(wanted, 3),
                    "shape": round(span.shape**2, 3),  # nothing else says what it is
                    "ours": 0.2 if self._addressed(context, span) else 1.0,
                },
                "as the only date there is" if alone else f"by its form, {PREFER[self.prefer]}",
            )

    def _inside(self, context: SearchContext, span: Span) -> bool:
        if self.where == "anywhere":
            return True
        return span.line.page == 0 and span.box.cy <= HEAD * context.document.pages[0].height

    def _addressed(self, context: SearchContext, span: Span) -> bool:
        """Whether the span stands beside or under one of the labels to keep away from."""
        for match in context.matches:
            if match.label.owner is None and match.label.text in self.not_after and match.line.page == span.line.page:
                level = match.line is span.line and match.end <= span.start
                under = 0 < span.box.cy - match.box.cy < 4 * match.line.height and match.box.stacked(span.box) > 0.3
                if level or under:
                    return True
        return False


def _ranks(spans: list[Span]) -> dict[str, int]:
    """The place of each amount among all that are printed, from 0 for the largest."""
    return {value: at for at, value in enumerate(sorted({span.value for span in spans}, key=Decimal, reverse=True))}
