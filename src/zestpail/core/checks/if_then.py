"""The check that one value calls for another: if this, then that."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from zestpail.core.checks.check import Check, lower
from zestpail.core.checks.verdict import DocumentValues, Verdict
from zestpail.core.setting import Setting

State = Literal["present", "empty", "equals"]
STATES: dict[str, str] = {"present": "is there", "empty": "is empty", "equals": "is"}


class Condition(BaseModel):
    """What may be said of a field: it is there, it is empty, or it is one of some values."""

    model_config = ConfigDict(frozen=True)

    field: Annotated[str, Setting("", "field")] = Field(min_length=1)
    state: Annotated[State, Setting("state", "choice", STATES)] = "present"
    values: Annotated[tuple[str, ...], Setting("values", "listed")] = ()

    @model_validator(mode="after")
    def _which(self) -> Condition:
        if self.state == "equals" and not self.values:
            raise ValueError("say which values it may be, with commas between")
        return self

    @property
    def code(self) -> str:
        """It as a part of a code."""
        return f"{self.field}:{self.state}:{'|'.join(self.values)}"

    def words(self, names: Mapping[str, str]) -> str:
        """The condition within a sentence."""
        name = lower(names.get(self.field, self.field))
        return f"{name} is {' or '.join(self.values)}" if self.state == "equals" else f"{name} {STATES[self.state]}"

    def holds(self, values: Mapping[str, str | None]) -> bool:
        """Whether it is so."""
        value = values.get(self.field) or ""
        if self.state == "equals":
            return value.casefold() in {one.casefold() for one in self.values}
        return bool(value) == (self.state == "present")


class IfThen(Check):
    """If the first condition holds, so must the second."""

    title: ClassVar[str] = "if this, then that"
    check: Literal["if_then"] = "if_then"
    when: Annotated[Condition, Setting("if", "group")]
    then: Annotated[Condition, Setting("then", "group")]

    @property
    def id(self) -> str:
        return f"if_then:{self.when.code}>{self.then.code}"

    @property
    def touches(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys((self.when.field, self.then.field)))

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"If {self.when.words(names)}, then {self.then.words(names)}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether the second holds; None where the first does not."""
        if not self.when.holds(document.values):
            return None
        held = self.then.holds(document.values)
        wanted, so = self.then.words(document.names), self.when.words(document.names)
        message = f"As {so}, {wanted}." if held else f"As {so}, it should be that {wanted}."
        return self.verdict(held, message)
