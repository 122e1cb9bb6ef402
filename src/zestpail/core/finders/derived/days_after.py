"""The finder that computes a date from another one and the terms of payment: "within 30 days", "on receipt"."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import date, timedelta
from typing import ClassVar, Literal

from rapidfuzz import fuzz

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece, Stage
from zestpail.core.landmarks.labels import folded, unaccented
from zestpail.core.reading.lines import Line

MOST_DAYS = 180
"""A number of more days is taken for something else than a term of payment."""
MOST_BASES = 3
"""Readings of the other date that are counted from."""
LONG_PHRASE, ALIKE = 9, 90.0
"""Letters from which a phrase may be garbled, and how alike (0 to 100) it must then be."""
COMPUTED = 0.6
"""What a computed date scores against one that is printed."""


class DaysAfter(Finder):
    """The date of another field plus the days that the terms give it; the same day if they say so."""

    stage: ClassVar[Stage] = "candidates"
    finder: Literal["days_after"] = "days_after"
    field: str
    day_words: tuple[str, ...]
    """What days are called: "days", "Tage"."""
    near_words: tuple[str, ...]
    """One of these stands on the same line: "payment", "zahlbar"."""
    same_day: tuple[str, ...] = ()
    """Phrases that mean the day itself: "on receipt"."""

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        at_once = f"; “{self.same_day[0]}” is the day itself" if self.same_day else ""
        yield Piece(f"If only terms are given, count the days from the {self.field.replace('_', ' ')}{at_once}.")

    def needs(self, key: str) -> dict[str, str | None]:
        """Two dates."""
        return {key: "date", self.field: "date"}

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """A date for each way in which the terms and the best candidates of the other field can be read."""
        for line in context.lines:
            for start, end, days in self._terms(line):
                for base in target.others[self.field][:MOST_BASES]:
                    yield self._candidate(line, start, end, days, base)

    def _terms(self, line: Line) -> Iterator[tuple[int, int, int]]:
        text = unaccented(line.text)
        units = "|".join(re.escape(unaccented(word)) for word in self.day_words)
        if any(unaccented(word) in text for word in self.near_words):
            for m in re.finditer(rf"(?<![\d.,/-])(\d{{1,3}})[ \t]?(?:{units})(?!\w)", text):
                if 0 < int(m[1]) <= MOST_DAYS:
                    yield m.start(), m.end(), int(m[1])
        whole = folded(line.text)
        if any(_says(whole, folded(phrase)) for phrase in self.same_day):
            yield 0, len(line.text), 0

    def _candidate(self, line: Line, start: int, end: int, days: int, base: Candidate) -> Candidate:
        due = date.fromisoformat(base.value) + timedelta(days=days)
        return Candidate(
            value=due.isoformat(),
            raw=line.text[start:end].replace("\t", " "),
            page=line.page,
            box=line.box_of(start, end),
            confidence=line.confidence_of(start, end),
            finder=self.finder,
            made=True,
            parts={"computed": COMPUTED, "from": round(min(base.score / 0.7, 1.0), 3)},
            reason=f"{base.value} and {days} days" if days else f"{base.value}, payable at once",
        )


def _says(whole: str, phrase: str) -> bool:
    """Whether the folded line has the phrase; a long phrase may be garbled in one letter."""
    if len(whole) < len(phrase) or len(phrase) < LONG_PHRASE:
        return phrase in whole
    return fuzz.partial_ratio(phrase, whole) >= ALIKE
