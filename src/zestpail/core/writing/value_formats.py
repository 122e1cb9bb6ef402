"""How a value is written where it is delivered: dates, numbers and text in the form that the receiver wants."""

from __future__ import annotations

from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Literal

ValueFormat = Literal[
    "as_kept", "date_dots", "date_slashes", "date_month_first", "date_compact", "decimal_comma", "grouped_comma",
    "grouped_point", "upper", "lower", "no_blanks",
]  # fmt: skip
VALUE_FORMATS: dict[ValueFormat, str] = {
    "as_kept": "as it is kept",
    "date_dots": "31.12.2026",
    "date_slashes": "31/12/2026",
    "date_month_first": "12/31/2026",
    "date_compact": "20261231",
    "decimal_comma": "1234,56",
    "grouped_comma": "1.234,56",
    "grouped_point": "1,234.56",
    "upper": "in capitals",
    "lower": "in small letters",
    "no_blanks": "without blanks",
}
"""What each is called: an example, or a few words."""

_DATES: dict[ValueFormat, str] = {
    "date_dots": "%d.%m.%Y", "date_slashes": "%d/%m/%Y", "date_month_first": "%m/%d/%Y", "date_compact": "%Y%m%d",
}  # fmt: skip
_NUMBERS = ("decimal_comma", "grouped_comma", "grouped_point")


def formatted(value: str | None, form: ValueFormat) -> str | None:
    """The value in that form; a value that is no date or number stays as it is kept."""
    if not value or form == "as_kept":
        return value
    if form in _DATES:
        try:
            return date.fromisoformat(value).strftime(_DATES[form])
        except ValueError:
            return value
    if form in _NUMBERS:
        return _number(value, form)
    plain = {"upper": value.upper(), "lower": value.lower(), "no_blanks": "".join(value.split())}
    return plain[form]


def _number(value: str, form: ValueFormat) -> str:
    try:
        number = Decimal(value)
    except InvalidOperation:
        return value
    if form == "decimal_comma":
        return f"{number:f}".replace(".", ",")
    grouped = f"{number:,f}"
    return grouped if form == "grouped_point" else grouped.translate(str.maketrans(",.", ".,"))
