"""The check that amounts add up."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping
from decimal import Decimal, InvalidOperation
from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from zestpail.core.checks.check import Check, ChoosingWeight, IsShare, lower
from zestpail.core.checks.slips import likely_slip
from zestpail.core.checks.verdict import DocumentValues, Offer, Verdict
from zestpail.core.setting import Setting

SHARE_FITS = math.log(4)
"""Besides adding up, the tax is a printed rate of the net."""


class Share(BaseModel):
    """One field is a printed percentage of another."""

    model_config = ConfigDict(frozen=True)

    part: str
    of: str


class Arithmetic(Check):
    """The fields in ``add`` together make the field ``equals``, but for ``tolerance``."""

    title: ClassVar[str] = "these add up"
    in_choosing: ClassVar[ChoosingWeight | None] = ChoosingWeight(
        holds=math.log(12), fails=math.log(0.25), against="its amounts add up less well", wide=True
    )
    check: Literal["sum"] = "sum"
    add: Annotated[tuple[str, ...], Setting("", "fields")] = Field(min_length=1)
    equals: Annotated[str, Setting("make", "field")] = Field(min_length=1)
    tolerance: Annotated[Decimal, Setting("within", "number")] = Decimal("0.02")
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

    @property
    def id(self) -> str:
        return f"sum:{'+'.join(self.add)}={self.equals}"

    @property
    def proves(self) -> tuple[str, ...]:
        return self.touches

    def requires(self, there: Collection[str]) -> tuple[str, ...]:
        """All of them, where any is there: without one of them the sum stays unproven."""
        return self.touches if set(there) & set(self.touches) else ()

    def weigh(self, values: Mapping[str, str | None], is_share: IsShare) -> float:
        """More for a sum that comes out where its share is a printed percentage, too."""
        weight = super().weigh(values, is_share)
        if weight > 0 and self.share and is_share(values[self.share.part], values[self.share.of]):
            weight += SHARE_FITS
        return weight

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        added = " + ".join(names[key] for key in self.add)
        within = f", within {self.tolerance}" if self.tolerance else ""
        return f"{added} makes {lower(names[self.equals])}{within}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether they add up; where one of them is missing, None, unless a part alone is more than the whole."""
        try:
            parts = [Decimal(document.values.get(key) or "") for key in self.add]
            stated = Decimal(document.values.get(self.equals) or "")
        except InvalidOperation:
            return self._impossible(document)
        expected = sum(parts, Decimal(0))
        title = " + ".join(document.name(key) for key in self.add)
        if abs(expected - stated) <= self.tolerance:
            message = f"{title} is {expected:,.2f}, and so says {lower(document.name(self.equals))}."
            return self.verdict(True, message)
        difference = stated - expected
        more = "more" if difference > 0 else "less"
        message = (
            f"{title} is {expected:,.2f}, {lower(document.name(self.equals))} says {stated:,.2f} "
            f"({abs(difference):,.2f} {more})."
        )
        slip = likely_slip(stated, expected)
        return self.verdict(
            False,
            f"{message} {slip}".strip(),
            offers=(Offer(field=self.equals, value=f"{expected:.2f}", text=f"use {expected:,.2f}"),),
        )

    def _impossible(self, document: DocumentValues) -> Verdict | None:
        """What cannot be, whatever is missing: a part that is more than the whole."""
        whole = _number(document.values.get(self.equals))
        for key in self.add:
            part = _number(document.values.get(key))
            if whole is not None and part is not None and 0 <= whole < part - self.tolerance:
                message = (
                    f"{document.name(key)} {part:,.2f} is more than {lower(document.name(self.equals))} {whole:,.2f}, "
                    "which it is a part of."
                )
                return self.verdict(False, message)
        return None


def _number(text: str | None) -> Decimal | None:
    try:
        return Decimal(text) if text else None
    except InvalidOperation:
        return None
