"""The check that a document was not delivered before: the same invoice sent twice."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zestpail.core.checks.check import Check, lower
from zestpail.core.checks.verdict import DocumentValues, Verdict
from zestpail.core.setting import Setting


class NotDeliveredBefore(Check):
    """No earlier document has the same values in all of ``same``."""

    title: ClassVar[str] = "no document came before with the same"
    check: Literal["not_delivered_before"] = "not_delivered_before"
    same: Annotated[tuple[str, ...], Setting("", "fields")] = Field(min_length=1)

    @property
    def touches(self) -> tuple[str, ...]:
        return self.same

    @property
    def id(self) -> str:
        return f"not_delivered_before:{','.join(self.same)}"

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"No document with the same {_listed([lower(names[key]) for key in self.same])} came before."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether none came before; None where a value is missing, or nobody can say what came before."""
        values = {key: value for key in self.same if (value := document.values.get(key))}
        if document.before is None or len(values) < len(self.same):
            return None
        earlier = document.before(values)
        same = _listed([lower(document.name(key)) for key in self.same])
        message = f"{earlier} has the same {same}." if earlier else f"No earlier document has the same {same}."
        return self.verdict(not earlier, message)


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
