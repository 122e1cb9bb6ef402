"""The check that one date does not come before another."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from zestpail.core.checks.check import Check, lower
from zestpail.core.checks.verdict import Named, Verdict


class DateOrder(Check):
    """The date ``then`` is not before the date ``first``."""

    check: Literal["date order"] = "date order"
    first: str
    then: str

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.first, self.then)

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.then]} is not before {lower(names[self.first])}."

    def judge(self, document: Named) -> Verdict | None:
        """Whether they are in order; None where one of them is missing."""
        first, then = document.values.get(self.first), document.values.get(self.then)
        if not first or not then:
            return None
        early, late = document.name(self.first), document.name(self.then)
        ordered = first <= then  # ISO dates sort as text
        said = f"{late} {then} is {'not ' if ordered else ''}before {lower(early)} {first}."
        return Verdict(name=f"{self.first} to {self.then}", passed=ordered, message=said, fields=self.touches)
