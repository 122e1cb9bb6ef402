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
from zestpail.core.checks.verdict import Named, Verdict

SHOWN = 5
"""Entries of a list that a sentence names."""


class _OfOne(Check):
    """A check of one field by itself; an empty field is no matter of it."""

    field: str

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.field,)

    @property
    def wanted(self) -> str:
        """What the value should be, within a sentence."""
        raise NotImplementedError

    def fits(self, value: str) -> bool:
        """Whether the value is so."""
        raise NotImplementedError

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        return f"{names[self.field]} is {self.wanted}."

    def judge(self, document: Named) -> Verdict | None:
        """Whether the value is as wanted, with what was found; None where there is none."""
        value = document.values.get(self.field)
        if not value:
            return None
        passed, name = self.fits(value), document.name(self.field)
        said = f"{name} is {value}, {self.wanted}." if passed else f"{name} is {value}; it should be {self.wanted}."
        title = type(self).model_fields["check"].default
        return Verdict(name=f"{title}: {self.field}", passed=passed, message=said, fields=self.touches)


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
    def wanted(self) -> str:
        """What the value should be, within a sentence."""
        if self.most is None:
            return f"at least {self.least} characters long"
        return f"{self.most if self.least == self.most else f'{self.least} to {self.most}'} characters long"

    def fits(self, value: str) -> bool:
        """Whether the length is within the limits."""
        length = len("".join(value.split()))
        return self.least <= length <= (self.most or length)


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
    def wanted(self) -> str:
        """What the value should be, within a sentence."""
        if self.least and self.most:
            return f"from {self.least} to {self.most}"
        return f"at least {self.least}" if self.least else f"at most {self.most}"

    def fits(self, value: str) -> bool:
        """Whether the value lies in the range."""
        at = _comparable(value)
        return (not self.least or _comparable(self.least) <= at) and (not self.most or at <= _comparable(self.most))


class OneOf(_OfOne):
    """The value is in a list; capitals and blanks do not count."""

    check: Literal["one of"] = "one of"
    values: tuple[str, ...] = Field(min_length=1)

    @property
    def wanted(self) -> str:
        """What the value should be, within a sentence."""
        more = f" or {len(self.values) - SHOWN} more" if len(self.values) > SHOWN else ""
        return f"one of {', '.join(self.values[:SHOWN])}{more}"

    def fits(self, value: str) -> bool:
        """Whether the value is in the list."""
        return _plain(value) in map(_plain, self.values)


class Shaped(_OfOne):
    """The value has the shape of one of the examples: letters, figures and marks in the same order and number."""

    check: Literal["shape"] = "shape"
    examples: tuple[str, ...] = Field(min_length=1)

    @property
    def wanted(self) -> str:
        """What the value should be, within a sentence."""
        return f"of the shape of {' or '.join(self.examples[:SHOWN])}"

    def fits(self, value: str) -> bool:
        """Whether it has one of the shapes."""
        return _outline(value) in map(_outline, self.examples)


class CheckFigures(_OfOne):
    """The check figures of the number come out (ISO 7064, EAN, Luhn)."""

    check: Literal["check figures"] = "check figures"
    of: Literal["IBAN", "VAT number", "EAN", "Luhn number"]

    @property
    def wanted(self) -> str:
        """What the value should be, within a sentence."""
        return f"a valid {self.of}"

    def fits(self, value: str) -> bool:
        """Whether they come out."""
        number = "".join(value.split()).upper()
        valid = {
            "IBAN": lambda: len(number) > 4 and mod_97_10.is_valid(number[4:] + number[:4]),
            "VAT number": lambda: vat.is_valid(number),
            "EAN": lambda: ean.is_valid(number),
            "Luhn number": lambda: luhn.is_valid(number),
        }
        return bool(valid[self.of]())


def _comparable(value: str) -> tuple[int, Decimal | str]:
    """Numbers by their size, everything else as text, as ISO dates sort."""
    try:
        number = Decimal(value)
    except InvalidOperation:
        return (1, value)
    return (0, number) if number.is_finite() else (1, value)


def _outline(value: str) -> str:
    return "".join("A" if c.isalpha() else "9" if c.isdigit() else c for c in "".join(value.split()))


def _plain(value: str) -> str:
    return " ".join(value.split()).casefold()
