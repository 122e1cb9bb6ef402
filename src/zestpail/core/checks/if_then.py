"""The check that one value calls for another: if this, then that."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.checks.check import Check, lower
from zestpail.core.checks.verdict import Named, Verdict


class Condition(BaseModel):
    """What may be said of a field: it is there, it is empty, or it is one of some values."""

    model_config = ConfigDict(frozen=True)

    field: str
    state: Literal["is there", "is empty", "is"] = "is there"
    values: tuple[str, ...] = Field(default=())

    def words(self, names: Mapping[str, str]) -> str:
        """The condition within a sentence."""
        name = lower(names.get(self.field, self.field))
        return f"{name} is {' or '.join(self.values)}" if self.state == "is" else f"{name} {self.state}"

    def holds(self, values: Mapping[str, str | None]) -> bool:
        """Whether it is so."""
        value = values.get(self.field) or ""
        if self.state == "is":
            return value.casefold() in {one.casefold() for one in self.values}
        return bool(value) == (self.state == "is there")


class IfThen(Check):
    """If the first condition holds, so must the second."""

    check: Literal["if then"] = "if then"
    when: Condition
    then: Condition

    @property
    def touches(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys((self.when.field, self.then.field)))

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"If {self.when.words(names)}, then {self.then.words(names)}."

    def judge(self, document: Named) -> Verdict | None:
        """Whether the second holds; None where the first does not."""
        if not self.when.holds(document.values):
            return None
        held = self.then.holds(document.values)
        wanted, so = self.then.words(document.names), self.when.words(document.names)
        said = f"As {so}, {wanted}." if held else f"As {so}, it should be that {wanted}."
        return Verdict(
            name=f"if {self.when.field} then {self.then.field}", passed=held, message=said, fields=self.touches
        )
