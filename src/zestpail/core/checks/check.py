"""What all checks share: they are data, they say themselves in a sentence, and they judge a document's values.

Adding one is a module here and a line in ``checks/__init__.py``: its form follows from its model, and what it proves,
requires and counts for in choosing from the members below.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

from pydantic import BaseModel, ConfigDict

from zestpail.core.checks.verdict import DocumentValues, Verdict

Row = Mapping[str, str | None]
IsShare = Callable[[str | None, str | None], bool]
"""Whether one amount is a printed percentage of another."""


@dataclass(frozen=True)
class ChoosingWeight:
    """How much it counts, among combinations of candidates, that a check holds (logarithms of odds)."""

    holds: float
    fails: float
    against: str
    """What is said against a combination of which it does not hold."""
    wide: bool = False
    """Whether its fields depend on each other so much that many combinations of them are kept."""


class Check(BaseModel):
    """A rule that values must satisfy. Each subclass has a ``check`` code of its own."""

    model_config = ConfigDict(frozen=True)

    title: ClassVar[str] = ""
    """What it is called where one is added."""
    of_one_field: ClassVar[bool] = False
    """Whether it is among the settings of the one ``field`` that it speaks of."""
    in_choosing: ClassVar[ChoosingWeight | None] = None
    can_be_waived: ClassVar[bool] = True
    """Whether a person may keep the values as printed although it fails."""

    @classmethod
    def code(cls) -> str:
        """What tells it apart in files."""
        return str(cls.model_fields["check"].default)

    @classmethod
    def from_form(cls, values: Mapping[str, Any]) -> dict[str, Any]:
        """The model's values for what a form sends; for those that a form asks for in another way."""
        return dict(values)

    @property
    def id(self) -> str:
        """A code that stays the same for the same check of the same fields; its results are kept under it."""
        raise NotImplementedError

    @property
    def touches(self) -> tuple[str, ...]:
        """The fields that it speaks of."""
        raise NotImplementedError

    @property
    def columns(self) -> tuple[tuple[str, str], ...]:
        """The columns that it speaks of, each with its table."""
        return ()

    @property
    def proves(self) -> tuple[str, ...]:
        """The fields whose values are right if it holds."""
        return ()

    @property
    def column_total(self) -> tuple[str, str] | None:
        """The column whose sum it speaks of, and the field that the sum should make."""
        return None

    def requires(self, there: Collection[str]) -> tuple[str, ...]:  # noqa: ARG002 - most require nothing
        """The fields that must have a value, where those in ``there`` have one."""
        return ()

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it, with the fields' names."""
        raise NotImplementedError

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether the values satisfy it; None where it cannot be applied."""
        raise NotImplementedError

    def weigh(self, values: Mapping[str, str | None], is_share: IsShare) -> float:  # noqa: ARG002
        """What it counts for these values in choosing (a logarithm of odds); 0 where it says nothing."""
        verdict = self.judge(DocumentValues(values, {})) if self.in_choosing else None
        if verdict is None or self.in_choosing is None:
            return 0.0
        return self.in_choosing.holds if verdict.passed else self.in_choosing.fails

    def row_problem(self, before: Row | None, row: Row, names: Mapping[str, str]) -> str:  # noqa: ARG002 - most have none
        """What is wrong with a row of its table, with the columns' names, in a few words; "" where nothing is."""
        return ""

    def rows_told(self, document: DocumentValues) -> Mapping[int, str]:  # noqa: ARG002 - most have none
        """What it says of rows of its table for what stands outside of them, by their numbers from 1."""
        return {}

    def verdict(self, passed: bool, message: str, **more: object) -> Verdict:
        """What it says, under its own code."""
        return Verdict.model_validate(
            {"check": self.id, "passed": passed, "message": message, "fields": self.touches, **more}
        )


def lower(name: str) -> str:
    """A field's name within a sentence."""
    return name[:1].lower() + name[1:] if not name[:2].isupper() else name
