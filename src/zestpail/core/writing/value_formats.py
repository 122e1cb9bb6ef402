"""How a value is written where it is delivered: dates, numbers and text in the form that the receiver wants."""

from __future__ import annotations

from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Literal

DeliveredAs = Literal[
    "as it is kept",
    "31.12.2026",
    "31/12/2026",
    "12/31/2026",
    "20261231",
    "1234,56",
    "1.234,56",
    "1,234.56",
    "in capitals",
    "in small letters",
    "without blanks",
]

_DATES = {"31.12.2026": "%d.%m.%Y", "31/12/2026": "%d/%m/%Y", "12/31/2026": "%m/%d/%Y", "20261231": "%Y%m%d"}


def delivered(value: str | None, form: DeliveredAs) -> str | None:
    """The value in that form; a value that is no date or number stays as it is kept."""
    if not value or form == "as it is kept":
        return value
    if form in _DATES:
        try:
            return date.fromisoformat(value).strftime(_DATES[form])
        except ValueError:
            return value
    if form[0].isdigit():
        return _number(value, form)
    plain = {"in capitals": value.upper(), "in small letters": value.lower(), "without blanks": "".join(value.split())}
    return plain[form]


def _number(value: str, form: DeliveredAs) -> str:
    try:
        number = Decimal(value)
    except InvalidOperation:
        return value
    if form == "1234,56":
        return f"{number:f}".replace(".", ",")
    grouped = f"{number:,f}"
    return grouped if form == "1,234.56" else grouped.translate(str.maketrans(",.", ".,"))
