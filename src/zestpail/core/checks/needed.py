"""The check that a value is there."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from zestpail.core.checks.verdict import Named, Verdict


class Needed(BaseModel):
    """The field must have a value."""

    model_config = ConfigDict(frozen=True)

    check: Literal["needed"] = "needed"
    field: str

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.field,)

    def judge(self, document: Named) -> Verdict | None:
        """Whether the value is there."""
        name = document.name(self.field)
        there = bool(document.values.get(self.field))
        said = f"{name} is there." if there else f"{name} is needed and was not found."
        return Verdict(name=f"needed: {self.field}", passed=there, message=said, fields=self.touches)
