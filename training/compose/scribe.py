"""How one invoice words and writes what it says: labels by lot from many catalogues, amounts and dates in one style."""

from __future__ import annotations

import html
import json
import random
from collections.abc import Sequence
from datetime import date
from decimal import Decimal
from functools import cache
from pathlib import Path

from babel.dates import format_date

from training.compose.bill import Bill
from zestpail.core.landmarks import wordings

MEANINGS = Path(__file__).parents[1] / "meanings.json"


class Scribe:
    """The habits of one invoice, drawn once."""

    def __init__(self, lot: random.Random, bill: Bill) -> None:
        self.lot, self.bill = lot, bill
        self.language = bill.tongue.code if lot.random() < 0.93 else "en"
        self.also = "en" if lot.random() < 0.05 and self.language != "en" else ""
        self.letters = lot.choice(("as they are", "as they are", "as they are", "CAPITALS", "Each"))
        self.colon = lot.choice((":", ":", "", "", " :"))
        self.marks = lot.choice(bill.tongue.marks)
        self.thousands = lot.random() < 0.8
        self.date_form = lot.choice(bill.tongue.dates)
        self.sign = lot.choice(bill.tongue.signs)
        self.signed = lot.choice(("none", "before", "after", "after", "before"))
        self.shortest = lot.random() < 0.04
        """Whether zeros at the end of an amount are dropped, but for one: 640.0."""
        self.code_once = self.signed == "none"
        self._said: dict[str, str] = {}

    def say(self, meaning: str) -> str:
        """The label for a meaning; the same one throughout the invoice."""
        if meaning not in self._said:
            text = _drawn(self.lot, meaning, self.language)
            other = _drawn(self.lot, meaning, self.also) if self.also else ""
            self._said[meaning] = self._cased(f"{text} / {other}" if other and other != text else text)
        return self._said[meaning]

    def _cased(self, text: str) -> str:
        if self.letters == "CAPITALS":
            return text.upper()
        return text.title() if self.letters == "Each" else text[:1].upper() + text[1:]

    def plain(self, value: Decimal) -> str:
        """An amount without its currency."""
        value = -value if self.bill.negative else value
        mark = self.marks[0] if self.thousands else ""
        text = f"{value:,.2f}"
        text = text.removesuffix("0") if self.shortest else text
        return text.replace(",", "\0").replace(".", self.marks[1]).replace("\0", mark)

    def money(self, value: Decimal) -> str:
        """An amount as this invoice writes it."""
        text = self.plain(value)
        if self.signed == "before":
            gap = " " if len(self.sign) > 1 else ""
            return f"{self.sign}{gap}{text}"
        return f"{text} {self.sign}" if self.signed == "after" else text

    def number(self, value: Decimal) -> str:
        """A quantity."""
        text = f"{value.normalize():f}"
        return text.replace(".", self.marks[1])

    def day(self, value: date) -> str:
        """A date."""
        spoken = f"{self.language}_{self.bill.tongue.country}" if self.language != "en" else "en_GB"
        return format_date(value, self.date_form, locale=spoken)


def esc(text: str) -> str:
    """Text as it stands in HTML."""
    return html.escape(text)


def _drawn(lot: random.Random, meaning: str, language: str) -> str:
    known = _known(meaning, language) or _known(meaning, "en")
    return lot.choices(list(known), list(known.values()))[0]


@cache
def _known(meaning: str, language: str) -> dict[str, float]:
    """The words of a language for a meaning, each with how often catalogues say so."""
    said = wordings.catalogue().get(meaning, {}).get(language, {})
    found = {text: float(len(sources)) ** 0.5 for text, sources in said.items()}
    if language == "en":
        seeds: Sequence[str] = json.loads(MEANINGS.read_text("utf-8"))[meaning]
        found = dict.fromkeys(seeds, 1.0) | found
    return found
