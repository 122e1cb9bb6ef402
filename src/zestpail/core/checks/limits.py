"""Checks of one value by itself: how long, how great, which of a list, whether its check figures come out."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal, InvalidOperation
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator
from stdnum import ean, luhn
from stdnum.eu import vat
from stdnum.iso7064 import mod_97_10

from zestpail.core.checks.check import Check
from zestpail.core.checks.verdict import DocumentValues, Verdict
from zestpail.core.setting import Setting

SHOWN = 5
"""Entries of a list that a sentence names."""


Numbers = Literal["iban", "vat_number", "ean", "luhn"]
NUMBERS: dict[str, str] = {"iban": "an IBAN", "vat_number": "a VAT number", "ean": "an EAN", "luhn": "a Luhn number"}


class _OfOne(Check):
    """A check of one field by itself; an empty field is no matter of it."""

    of_one_field: ClassVar[bool] = True
    field: str

    @property
    def id(self) -> str:
        return f"{self.code()}:{self.field}"

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

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether the value is as wanted, with what was found; None where there is none."""
        value = document.values.get(self.field)
        if not value:
            return None
        passed, name = self.fits(value), document.name(self.field)
        message = f"{name} is {value}, {self.wanted}." if passed else f"{name} is {value}; it should be {self.wanted}."
        return self.verdict(passed, message)


class Length(_OfOne):
    """The value has so many characters, blanks not counted."""

    check: Literal["length"] = "length"
    least: Annotated[int, Setting("at least so long", "number")] = Field(default=0, ge=0)
    most: Annotated[int | None, Setting("at most so long", "number")] = Field(default=None, ge=1)

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
    least: Annotated[str, Setting("from")] = ""
    most: Annotated[str, Setting("to")] = ""

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

    check: Literal["one_of"] = "one_of"
    values: Annotated[tuple[str, ...], Setting("one of these, one a line", "lines")] = Field(min_length=1)

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
    examples: Annotated[tuple[str, ...], Setting("of the shape of one of these", "lines")] = Field(min_length=1)

    @property
    def wanted(self) -> str:
        """What the value should be, within a sentence."""
        return f"of the shape of {' or '.join(self.examples[:SHOWN])}"

    def fits(self, value: str) -> bool:
        """Whether it has one of the shapes."""
        return _outline(value) in map(_outline, self.examples)


class CheckDigits(_OfOne):
    """The check figures of the number come out (ISO 7064, EAN, Luhn)."""

    check: Literal["check_digits"] = "check_digits"
    of: Annotated[Numbers, Setting("check figures of", "choice", {"": "none", **NUMBERS})]

    @property
    def wanted(self) -> str:
        """What the value should be, within a sentence."""
        return f"a valid {NUMBERS[self.of].partition(' ')[2]}"

    def fits(self, value: str) -> bool:
        """Whether they come out."""
        number = "".join(value.split()).upper()
        valid = {
            "iban": lambda: len(number) > 4 and mod_97_10.is_valid(number[4:] + number[:4]),
            "vat_number": lambda: vat.is_valid(number),
            "ean": lambda: ean.is_valid(number),
            "luhn": lambda: luhn.is_valid(number),
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
