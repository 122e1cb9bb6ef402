"""Checks of one value by itself: how long, how great, which of a list, whether its check figures come out."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal, InvalidOperation
from typing import Literal

from pydantic import Field, model_validator
from stdnum import ean, luhn
from stdnum.eu import vat
from stdnum.iso7064 import mod_97_10

from zestpail.core.checks.check import Check
from zestpail.core.checks.verdict import Named, Offer, Verdict

SHOWN = 5
"""Entries of a list that a sentence names."""


class _OfOne(Check):
    """A check of one field; an empty field is no matter of it."""

    field: str

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.field,)

    def verdict(self, document: Named, passed: bool, wanted: str, offers: tuple[Offer, ...] = ()) -> Verdict:
        """The verdict with what was found and what is wanted."""
        name, value = document.name(self.field), document.values[self.field]
        said = f"{name} is {value}, {wanted}." if passed else f"{name} is {value}; it should be {wanted}."
        return Verdict(
            name=f"{self.title}: {self.field}", passed=passed, message=said, fields=self.touches, offers=offers
        )

    @property
    def title(self) -> str:
        return str(self.model_dump()["check"])


class Length(_OfOne):
    """The value has so many characters, blanks not counted."""

    check: Literal["length"] = "length"
    least: int = Field(default=0, ge=0)
    most: int | None = Field(default=None, ge=1)

    @model_validator(mode="after")
    def _in_order(self) -> Length:
        if self.most is not None and self.most < self.least:
            raise ValueError(f"nothing is at least {self.least} and at most {self.most} characters long")
        return self

    @property
    def _wanted(self) -> str:
        if self.most is None:
            return f"at least {self.least} characters long"
        return (
            f"{self.least} to {self.most} characters long"
            if self.most != self.least
            else f"{self.most} characters long"
        )

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is {self._wanted}."

    def judge(self, document: Named) -> Verdict | None:
        """Whether the length is within the limits."""
        value = document.values.get(self.field)
        if not value:
            return None
        length = len("".join(value.split()))
        return self.verdict(document, self.least <= length <= (self.most or length), self._wanted)


class Range(_OfOne):
    """The number or date is not less than ``least`` nor more than ``most``; dates as 2026-09-03."""

    check: Literal["range"] = "range"
    least: str = ""
    most: str = ""

    @model_validator(mode="after")
    def _in_order(self) -> Range:
        if not self.least and not self.most:
            raise ValueError("a range needs a least or a most value")
        if self.least and self.most and _comparable(self.least) > _comparable(self.most):
            raise ValueError(f"nothing is at least {self.least} and at most {self.most}")
        return self

    @property
    def _wanted(self) -> str:
        if self.least and self.most:
            return f"from {self.least} to {self.most}"
        return f"at least {self.least}" if self.least else f"at most {self.most}"

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is {self._wanted}."

    def judge(self, document: Named) -> Verdict | None:
        """Whether the value lies in the range."""
        value = document.values.get(self.field)
        if not value:
            return None
        at = _comparable(value)
        within = (not self.least or _comparable(self.least) <= at) and (not self.most or at <= _comparable(self.most))
        return self.verdict(document, within, self._wanted)


class OneOf(_OfOne):
    """The value is in a list; capitals and blanks do not count."""

    check: Literal["one of"] = "one of"
    values: tuple[str, ...] = Field(min_length=1)

    @property
    def _wanted(self) -> str:
        more = f" or {len(self.values) - SHOWN} more" if len(self.values) > SHOWN else ""
        return f"one of {', '.join(self.values[:SHOWN])}{more}"

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is {self._wanted}."

    def judge(self, document: Named) -> Verdict | None:
        """Whether the value is in the list."""
        value = document.values.get(self.field)
        if not value:
            return None
        known = {_plain(one) for one in self.values}
        return self.verdict(document, _plain(value) in known, self._wanted)


class Shaped(_OfOne):
    """The value has the shape of one of the examples: letters, figures and marks in the same order and number."""

    check: Literal["shape"] = "shape"
    examples: tuple[str, ...] = Field(min_length=1)

    @property
    def _wanted(self) -> str:
        return f"of the shape of {' or '.join(self.examples[:SHOWN])}"

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is {self._wanted}."

    def judge(self, document: Named) -> Verdict | None:
        """Whether it has one of the shapes."""
        value = document.values.get(self.field)
        if not value:
            return None
        return self.verdict(document, _outline(value) in map(_outline, self.examples), self._wanted)


class CheckFigures(_OfOne):
    """The check figures of the number come out (ISO 7064, EAN, Luhn)."""

    check: Literal["check figures"] = "check figures"
    of: Literal["IBAN", "VAT number", "EAN", "Luhn number"]

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is a valid {self.of}."

    def judge(self, document: Named) -> Verdict | None:
        """Whether they come out."""
        value = "".join((document.values.get(self.field) or "").split()).upper()
        if not value:
            return None
        valid = {
            "IBAN": lambda: len(value) > 4 and mod_97_10.is_valid(value[4:] + value[:4]),
            "VAT number": lambda: vat.is_valid(value),
            "EAN": lambda: ean.is_valid(value),
            "Luhn number": lambda: luhn.is_valid(value),
        }
        return self.verdict(document, bool(valid[self.of]()), f"a valid {self.of}")


def _comparable(value: str) -> tuple[int, Decimal | str]:
    """Numbers by their size, everything else as text, as ISO dates sort."""
    try:
        return (0, Decimal(value))
    except InvalidOperation:
        return (1, value)


def _outline(value: str) -> str:
    return "".join("A" if c.isalpha() else "9" if c.isdigit() else c for c in "".join(value.split()))


def _plain(value: str) -> str:
    return " ".join(value.split()).casefold()
