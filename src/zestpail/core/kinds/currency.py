"""Currencies by code or sign, kept as ISO 4217 codes."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

CODES = (
    "AED", "ARS", "AUD", "BGN", "BRL", "CAD", "CHF", "CLP", "CNY", "COP", "CZK", "DKK", "EGP", "EUR",
    "GBP", "HKD", "HUF", "IDR", "ILS", "INR", "ISK", "JPY", "KES", "KRW", "MAD", "MXN", "MYR", "NGN",
    "NOK", "NZD", "PLN", "PYG", "QAR", "RON", "RSD", "SAR", "SEK", "SGD", "THB", "TND", "TRY", "TWD", "UAH",
    "USD", "UYU", "VND", "ZAR",
)  # fmt: skip
SIGNS = {
    "€": "EUR",
    "£": "GBP",
    "$": "USD",
    "¥": "JPY",
    "Kč": "CZK",
    "zł": "PLN",
    "R$": "BRL",
    "Fr.": "CHF",
    "kr": "SEK",
    "₹": "INR",
    "Rs.": "INR",
    "₺": "TRY",
    "TL": "TRY",
    "Ft": "HUF",
    "lei": "RON",
    "A$": "AUD",
    "C$": "CAD",
    "US$": "USD",
    "Euro": "EUR",
    "EURO": "EUR",
    "Euros": "EUR",
    "euro": "EUR",
    "euros": "EUR",
}
UNSURE = {"$": 0.8, "¥": 0.7, "Fr.": 0.5, "kr": 0.5, "Rs.": 0.8, "TL": 0.7, "Ft": 0.7, "lei": 0.7}
"""Signs that several currencies share, or that stand for other things."""
SHARED = {
    "$": ("USD", "ARS", "AUD", "CAD", "HKD", "MXN", "NZD", "SGD", "TWD", "CLP", "COP", "UYU"),
    "¥": ("JPY", "CNY"),
    "kr": ("SEK", "DKK", "ISK", "NOK"),
}

_WRITTEN = re.compile(
    rf"(?<![A-Za-z])(?:{'|'.join(CODES)})(?![A-Za-z])|(?<![A-Za-z])(?:US|R|A|C)\$"
    r"|(?<![A-Za-z])(?:Kč|zł|kr|Fr\.|Rs\.|TL|Ft|lei|[Ee]uros?|EURO)(?![A-Za-z])|[€£$¥₹₺]"
)


class Currency(Kind):
    """The currency that amounts are in."""

    proposal_rank: ClassVar[int] = 8
    of_maker: ClassVar[bool] = True
    kind: Literal["currency"] = "currency"

    @property
    def words(self) -> str:
        return "a currency"

    def meant_by(self, text: str, style: Style) -> bool:
        return len(text) <= 4 and self.parse(text, style) is not None

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _WRITTEN.finditer(line.text):
            yield Span(line, m.start(), m.end(), SIGNS.get(m[0], m[0]), UNSURE.get(m[0], 1.0))

    def parse(self, text: str, style: Style) -> str | None:
        return super().parse(text.strip().upper(), style) or super().parse(text, style)
