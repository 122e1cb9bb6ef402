"""The check that a value is there."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import ClassVar, Literal

from zestpail.core.checks.check import Check
from zestpail.core.checks.verdict import DocumentValues, Verdict


class Required(Check):
    """The field must have a value."""

    title: ClassVar[str] = "must be there"
    of_one_field: ClassVar[bool] = True
    can_be_waived: ClassVar[bool] = False
    check: Literal["required"] = "required"
    field: str

    @property
    def id(self) -> str:
        return f"required:{self.field}"

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.field,)

    def requires(self, there: Collection[str]) -> tuple[str, ...]:  # noqa: ARG002 - it is required at any rate
        return (self.field,)

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is needed."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether the value is there."""
        name = document.name(self.field)
        there = bool(document.values.get(self.field))
        message = f"{name} is there." if there else f"{name} is needed and was not found."
        return self.verdict(there, message)
