"""The check that a value is there."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from zestpail.core.checks.check import Check
from zestpail.core.checks.verdict import Named, Verdict


class Needed(Check):
    """The field must have a value."""

    check: Literal["needed"] = "needed"
    field: str

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.field,)

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is needed."

    def judge(self, document: Named) -> Verdict | None:
        """Whether the value is there."""
        name = document.name(self.field)
        there = bool(document.values.get(self.field))
        said = f"{name} is there." if there else f"{name} is needed and was not found."
        return Verdict(name=f"needed: {self.field}", passed=there, message=said, fields=self.touches)
