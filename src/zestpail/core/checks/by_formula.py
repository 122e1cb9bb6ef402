"""The check by a formula, for what the parts of the other checks cannot say."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import Annotated, ClassVar, Literal

from pydantic import Field, field_validator

from zestpail.core.checks.check import Check
from zestpail.core.checks.formula import (
    Lacking,
    NotAFormula,
    in_words,
    names_in,
    parsed,
    sides,
    worked_out,
)
from zestpail.core.checks.verdict import DocumentValues, Verdict
from zestpail.core.setting import Setting


class ByFormula(Check):
    """The formula holds, such as ``net_total + tax_total == grand_total``."""

    title: ClassVar[str] = "a formula holds"
    check: Literal["formula"] = "formula"
    formula: Annotated[str, Setting("formula", hint="days(issue_date, due_date) <= 60")] = Field(min_length=1)
    says: Annotated[str, Setting("if not, say")] = ""
    """What a person is told where it does not hold; the formula in words, if nothing is given."""

    @field_validator("formula")
    @classmethod
    def _sound(cls, text: str) -> str:
        try:
            parsed(text)
        except NotAFormula as problem:
            raise ValueError(str(problem)) from problem
        if not names_in(text):
            raise ValueError("a formula that speaks of no field is always the same")
        return text

    @property
    def id(self) -> str:
        return f"formula:{self.formula}"

    @property
    def touches(self) -> tuple[str, ...]:
        return tuple(name for name in names_in(self.formula) if "." not in name)

    @property
    def columns(self) -> tuple[tuple[str, str], ...]:
        """The tables and columns that it speaks of."""
        split = (name.partition(".") for name in names_in(self.formula) if "." in name)
        return tuple((table, column) for table, _, column in split)

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{in_words(self.formula, names)}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether it holds; None where a value that it speaks of is missing."""
        try:
            held = bool(worked_out(parsed(self.formula), document.values, document.tables))
        except Lacking:
            return None
        worded = in_words(self.formula, document.names)
        message = (
            f"{worded} holds." if held else f"{self.says.rstrip('.') or f'{worded} does not hold'}{self._by(document)}."
        )
        return self.verdict(held, message)

    def _by(self, document: DocumentValues) -> str:
        """What either side of a comparison comes to, and by how much they differ."""
        compared = sides(self.formula)
        if compared is None:
            return ""
        left, right = (worked_out(side, document.values, document.tables) for side in compared)
        differ = f", {abs(left - right):f} apart" if isinstance(left, Decimal) and isinstance(right, Decimal) else ""
        return f": {left} against {right}{differ}"
