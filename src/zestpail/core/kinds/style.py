"""How a document writes numbers and dates, decided once by all its evidence together."""

from __future__ import annotations

import re
from functools import lru_cache

from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.lines import Line

_CENTS = re.compile(r"(?<![\d.,])\d{1,3}(?:[.,' ’]\d{3})*([.,])\d{2}(?![\d.,/])")
_DATE = re.compile(r"(?<!\d)(\d{1,2})([./-])(\d{1,2})\2(\d{4}|\d{2})(?!\d)")


class Style(BaseModel):
    """The number style and date order of one document."""

    model_config = ConfigDict(frozen=True)

    decimal_mark: str = "."
    day_first: bool = True


@lru_cache(maxsize=600)
def style_of(lines: tuple[Line, ...]) -> Style:
    """The style that most of the document's own amounts and dates speak for.

    Dates with a figure over 12 are evidence for the order; where there is none, the day comes first unless the
    document writes slashes and decimal points with dollars, as is done where the month does.
    """
    commas = points = day_first = month_first = dollars = slashes = 0
    for line in lines:
        for found in _CENTS.finditer(line.text):
            commas += found[1] == ","
            points += found[1] == "."
        for found in _DATE.finditer(line.text):
            day_first += int(found[1]) > 12 >= int(found[3])
            month_first += int(found[3]) > 12 >= int(found[1])
            slashes += found[2] == "/"
        dollars += "$" in line.text
    mark = "," if commas > points else "."
    if day_first == month_first:
        return Style(decimal_mark=mark, day_first=not (slashes and dollars and mark == "."))
    return Style(decimal_mark=mark, day_first=day_first > month_first)
