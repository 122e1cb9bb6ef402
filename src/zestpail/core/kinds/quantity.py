"""Quantities with their unit, and percentages."""

from __future__ import annotations

import re
from collections.abc import Iterator
from decimal import Decimal
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, SheetFormat, Span, repaired
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

UNITS = (
    "l",
    "L",
    "ltr",
    "litres",
    "m3",
    "m³",
    "kg",
    "t",
    "m",
    "km",
    "pcs",
    "pc",
    "h",
    "hrs",
    "kWh",
    "°C",
    "mm",
    "cm",
    "g",
    "GT",
)
_D = r"[0-9OolISB]"
_QUANTITY = re.compile(
    rf"(?<![\w.,/’'-])(\d{_D}{{0,2}}(?:[.,'’ ]\d{{3}})+|\d{_D}*)([.,]\d{{1,3}})?"
    rf"(?: ?({'|'.join(re.escape(unit) for unit in sorted(UNITS, key=len, reverse=True))}))?(?![\w/’'%]|[.,]\d|-\w)"
)
_PERCENTAGE = re.compile(r"(?<![\w.,])(\d{1,3})(?:[.,](\d{1,3}))? ?%")


class Quantity(Kind):
    """How much of something, kept as a decimal number without its unit."""

    sheet: ClassVar[SheetFormat] = "number"
    proposal_rank: ClassVar[int] = 7
    numeric: ClassVar[bool] = True
    kind: Literal["quantity"] = "quantity"

    @property
    def words(self) -> str:
        return "a quantity"

    def meant_by(self, text: str, style: Style) -> bool:
        return bool(re.search(r"\d [^\W\d_]{1,4}³?$", text) and self.parse(text, style))

    def in_cell(self, text: str, style: Style) -> str | None:
        return super().in_cell(re.sub(r"(?<=\d)(?=[^\W\d_])", " ", text), style)

    def spot(self, line: Line, style: Style) -> Iterator[Span]:
        for m in _QUANTITY.finditer(line.text):
            whole, rest = m[1], m[2] or ""
            if rest and rest[0] != style.decimal_mark and len(rest) == 4:
                whole, rest = whole + rest, ""  # three figures after the other mark: thousands
            figures, shape = repaired(re.sub(r"[^\w]", "", whole))
            if len(figures) <= 9:
                value = Decimal(f"{figures}.{rest[1:] or '0'}").normalize()
                yield Span(line, m.start(), m.end(), f"{value:f}", shape if m[3] else 0.8 * shape)


class Percentage(Kind):
    """A share of a hundred, kept as a decimal number."""

    in_totals: ClassVar[bool] = True
    sheet: ClassVar[SheetFormat] = "number"
    proposal_rank: ClassVar[int] = 4
    numeric: ClassVar[bool] = True
    kind: Literal["percentage"] = "percentage"

    @property
    def words(self) -> str:
        return "a percentage"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _PERCENTAGE.finditer(line.text):
            yield Span(line, m.start(), m.end(), f"{Decimal(f'{m[1]}.{m[2] or 0}').normalize():f}", 1.0)

    def show(self, value: str) -> str:
        return f"{value} %"
