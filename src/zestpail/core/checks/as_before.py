"""Checks against earlier documents: sent or scanned again, another account than ever, ten times the usual."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from decimal import Decimal, InvalidOperation
from statistics import median
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zestpail.core.checks.check import Check, lower
from zestpail.core.checks.verdict import DocumentValues, Offer, Verdict
from zestpail.core.setting import Setting

KNOWN = 2
"""Earlier documents from which on there is a usual."""
MULTIPLES = (10, 100, 1000)
NEAR = Decimal("0.02")
"""How near to a round multiple of the usual an amount is taken for a slip of the decimal point, as a share."""


class NotSentAgain(Check):
    """No earlier document has the same in all of ``same`` and something else in ``but``."""

    title: ClassVar[str] = "nothing came before that is alike but for"
    check: Literal["not_sent_again"] = "not_sent_again"
    but: Annotated[str, Setting("", "field")]
    same: Annotated[tuple[str, ...], Setting("and the same", "fields")] = Field(min_length=1)

    @property
    def touches(self) -> tuple[str, ...]:
        return (*self.same, self.but)

    @property
    def id(self) -> str:
        return f"not_sent_again:{self.but}:{','.join(self.same)}"

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        listed = ", ".join(lower(names[key]) for key in self.same)
        return f"No document came before with the same {listed} and another {lower(names[self.but])}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether none did; None where a value is missing, or nobody can say what came before."""
        values = {key: value for key in self.same if (value := document.values.get(key))}
        number = document.values.get(self.but)
        if document.history is None or len(values) < len(self.same) or not number:
            return None
        found = document.history.alike(values, self.but)
        if found is None or found[1] == number:
            return self.verdict(True, "Nothing alike came before.")
        listed = ", ".join(lower(document.name(key)) for key in self.same)
        message = f"{found[0]} has the same {listed} under the {lower(document.name(self.but))} {found[1]}."
        return self.verdict(False, message)


class NotScannedAgain(Check):
    """No other document shows the same paper: its first page is no second scan of one that is here."""

    title: ClassVar[str] = "the same paper was not scanned before"
    check: Literal["not_scanned_again"] = "not_scanned_again"

    @property
    def touches(self) -> tuple[str, ...]:
        return ()

    @property
    def id(self) -> str:
        return "not_scanned_again"

    def sentence(self, names: Mapping[str, str]) -> str:  # noqa: ARG002 - it speaks of the page, not of a field
        """The check as a person reads it."""
        return "No other document shows the same paper, scanned a second time."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether none does; None where nobody can say."""
        if document.history is None:
            return None
        other = document.history.same_paper()
        message = f"{other} shows the same paper." if other else "No other document shows the same paper."
        return self.verdict(not other, message)


class AsBefore(Check):
    """A field has what earlier documents of the same maker had: the account to pay into, for instance."""

    title: ClassVar[str] = "it is as it was before"
    check: Literal["as_before"] = "as_before"
    field: Annotated[str, Setting("", "field")]
    by: Annotated[str, Setting("with the same", "field")]

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.by, self.field)

    @property
    def id(self) -> str:
        return f"as_before:{self.field}:{self.by}"

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is one that came before with the same {lower(names[self.by])}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether it is; None where too little came before."""
        value, by = document.values.get(self.field), document.values.get(self.by)
        if document.history is None or not value or not by:
            return None
        earlier = document.history.usual({self.by: by}, self.field)
        if len(earlier) < KNOWN:
            return None
        name, many = document.name(self.field), len(earlier)
        if value in earlier:
            return self.verdict(True, f"{name} came before.")
        usual, times = Counter(earlier).most_common(1)[0]
        message = f"{name} {value} is new: {times} of {many} earlier documents of {by} had {usual}."
        return self.verdict(False, message, offers=(Offer(field=self.field, value=usual, text=f"{usual}, as before"),))


class NotTenfold(Check):
    """An amount is not a round multiple of what earlier documents of the same maker usually came to."""

    title: ClassVar[str] = "it is not ten or a hundred times the usual"
    check: Literal["not_tenfold"] = "not_tenfold"
    field: Annotated[str, Setting("", "field")]
    by: Annotated[str, Setting("with the same", "field")]

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.by, self.field)

    @property
    def id(self) -> str:
        return f"not_tenfold:{self.field}:{self.by}"

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is not ten or a hundred times what is usual with the same {lower(names[self.by])}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether it is not; None where too little came before."""
        value, by = _number(document.values.get(self.field)), document.values.get(self.by)
        if document.history is None or not value or not by:
            return None
        earlier = [number for text in document.history.usual({self.by: by}, self.field) if (number := _number(text))]
        if len(earlier) < KNOWN:
            return None
        name = document.name(self.field)
        for usual in dict.fromkeys((*earlier, median(earlier))):
            times = next((many for many in MULTIPLES if abs(value - many * usual) <= NEAR * many * abs(usual)), 0)
            if times:
                message = (
                    f"{name} {value:.2f} is {times} times {usual:.2f}, which came before of {by}. Is the point right?"
                )
                return self.verdict(False, message)
        return self.verdict(True, f"{name} is within the usual.")


def _number(text: str | None) -> Decimal | None:
    try:
        return Decimal(text) if text else None
    except InvalidOperation:
        return None
