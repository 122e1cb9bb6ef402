"""The check that one date does not come before another."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zestpail.core.checks.check import Check, ChoosingWeight, lower
from zestpail.core.checks.verdict import DocumentValues, Verdict
from zestpail.core.setting import Setting


class DateOrder(Check):
    """The date ``then`` is not before the date ``first``."""

    title: ClassVar[str] = "one date is not before another"
    in_choosing: ClassVar[ChoosingWeight | None] = ChoosingWeight(
        holds=0.0, fails=math.log(0.25), against="its dates are not in order"
    )
    check: Literal["date_order"] = "date_order"
    then: Annotated[str, Setting("later", "field")] = Field(min_length=1)
    first: Annotated[str, Setting("earlier", "field")] = Field(min_length=1)

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.first, self.then)

    @property
    def id(self) -> str:
        return f"date_order:{self.first}<={self.then}"

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.then]} is not before {lower(names[self.first])}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether they are in order; None where one of them is missing."""
        first, then = document.values.get(self.first), document.values.get(self.then)
        if not first or not then:
            return None
        early, late = document.name(self.first), document.name(self.then)
        ordered = first <= then  # ISO dates sort as text
        message = f"{late} {then} is {'not ' if ordered else ''}before {lower(early)} {first}."
        return self.verdict(ordered, message)
