"""The check that amounts add up."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal, InvalidOperation
from typing import Literal

from pydantic import BaseModel, ConfigDict, model_validator

from zestpail.core.checks.check import Check, lower
from zestpail.core.checks.slips import likely_slip
from zestpail.core.checks.verdict import Named, Offer, Verdict


class Share(BaseModel):
    """One field is a printed percentage of another."""

    model_config = ConfigDict(frozen=True)

    part: str
    of: str


class Arithmetic(Check):
    """The fields in ``add`` together make the field ``equals``, but for ``tolerance``."""

    check: Literal["arithmetic"] = "arithmetic"
    add: tuple[str, ...]
    equals: str
    tolerance: Decimal = Decimal("0.02")
    share: Share | None = None
    """Where a rate of tax is printed, it makes a sum that comes out surer."""

    @model_validator(mode="after")
    def _own_share(self) -> Arithmetic:
        if self.share and not {self.share.part, self.share.of} <= set(self.touches):
            raise ValueError("a share must be of the fields that are added up")
        return self

    @property
    def touches(self) -> tuple[str, ...]:
        return (*self.add, self.equals)

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        added = " + ".join(names[key] for key in self.add)
        within = f", within {self.tolerance}" if self.tolerance else ""
        return f"{added} makes {lower(names[self.equals])}{within}."

    def judge(self, document: Named) -> Verdict | None:
        """Whether they add up; None where one of them is missing or is no number."""
        try:
            parts = [Decimal(document.values.get(key) or "") for key in self.add]
            stated = Decimal(document.values.get(self.equals) or "")
        except InvalidOperation:
            return None
        expected = sum(parts, Decimal(0))
        title = " + ".join(document.name(key) for key in self.add)
        name = f"{' + '.join(self.add)} = {self.equals}"
        if abs(expected - stated) <= self.tolerance:
            said = f"{title} is {expected:,.2f}, and so says {lower(document.name(self.equals))}."
            return Verdict(name=name, passed=True, message=said, fields=self.touches)
        difference = stated - expected
        more = "more" if difference > 0 else "less"
        said = (
            f"{title} is {expected:,.2f}, {lower(document.name(self.equals))} says {stated:,.2f} "
            f"({abs(difference):,.2f} {more})."
        )
        slip = likely_slip(stated, expected)
        return Verdict(
            name=name,
            passed=False,
            message=f"{said} {slip}".strip(),
            fields=self.touches,
            offers=(Offer(field=self.equals, value=f"{expected:.2f}", text=f"use {expected:,.2f}"),),
        )
