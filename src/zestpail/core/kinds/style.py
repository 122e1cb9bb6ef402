"""How a document writes numbers and dates, decided once by all its evidence together."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date
from email.utils import parsedate
from functools import lru_cache

from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.lines import Line

_CENTS = re.compile(r"(?<![\d.,])\d{1,3}(?:[.,' ’]\d{3})*([.,])\d{2}(?![\d.,/])")
_DATE = re.compile(r"(?<!\d)(\d{1,2})([./-])(\d{1,2})\2(\d{4}|\d{2})(?!\d)")


_DOLLARS = re.compile(r"\$ ?\d")
_EUROPE = re.compile(r"[€£] ?\d|\d ?[€£]|\b(?:EUR|GBP)\b")
_STATES = re.compile(r"\b[A-Z]{2},? \d{5}(?:-\d{4})?\b|\bUSA\b|\bUnited States\b")
"""Signs that a paper comes from where the day is written first, or from where the month is."""
HEAD = 8
"""Lines at the head of an e-mail."""
_MAIL_DATE = re.compile(r"Date: ?(.{8,60})")
_ENGLISH = frozenset(
    re.findall(r"\w+", "the of and date due invoice number total order from payment bill ship page subtotal tax")
)
_OTHERS = frozenset(re.findall(
    r"\w+",
    "de la el los las del para por fecha factura número numero importe y en le les des du facture montant et numéro "
    "der die das und von für rechnung nummer betrag il di data fattura importo een het van datum factuur bedrag "
    "da do fatura valor dne faktura částka og dato belopp och",
))  # fmt: skip
"""Words by which English is told from languages that write the day first; set by hand."""


class Style(BaseModel):
    """The number style and date order of one document."""

    model_config = ConfigDict(frozen=True)

    decimal_mark: str = "."
    day_first: bool = True
    order_told: bool = True
    """Whether anything told which comes first, the day or the month."""
    day: date | None = None
    """The day on which a letter was written; None where days without a year cannot be told."""


@lru_cache(maxsize=600)
def in_english(lines: tuple[Line, ...]) -> bool:
    """Whether more of a document's words are common ones of English than of the other languages told from it."""
    words = [word.strip(".:,;").casefold() for line in lines for word in line.text.split()]
    return sum(word in _ENGLISH for word in words) > sum(word in _OTHERS and word not in _ENGLISH for word in words)


def decimal_marks(lines: Iterable[Line]) -> dict[str, int]:
    """How many amounts are written with each sign before their cents."""
    found = [found[1] for line in lines for found in _CENTS.finditer(line.text)]
    return {mark: found.count(mark) for mark in ",."}


@lru_cache(maxsize=600)
def style_of(lines: tuple[Line, ...]) -> Style:
    """The style that most of the document's own amounts and dates speak for.

    Dates with a figure over 12 are evidence for the order; where there is none, the day comes first unless the
    document is in English and writes slashes and decimal points with dollars, as is done where the month does.
    """
    day_first = month_first = dollars = slashes = english = others = europe = states = 0
    marks = decimal_marks(lines)
    for line in lines:
        for found in _DATE.finditer(line.text):
            day_first += int(found[1]) > 12 >= int(found[3])
            month_first += int(found[3]) > 12 >= int(found[1])
            slashes += found[2] == "/"
        dollars += _DOLLARS.search(line.text) is not None
        europe += _EUROPE.search(line.text) is not None
        states += _STATES.search(line.text) is not None
        words = [word.strip(".:,;").casefold() for word in line.text.split()]
        english += sum(word in _ENGLISH for word in words)
        others += sum(word in _OTHERS and word not in _ENGLISH for word in words)
    mark, day = "," if marks[","] > marks["."] else ".", _written_on(lines)
    if day_first == month_first:
        american = bool(slashes and dollars and mark == "." and english > others)
        told = not slashes or others > english or bool(states if american else europe)
        return Style(decimal_mark=mark, day_first=not american, order_told=told, day=day)
    return Style(decimal_mark=mark, day_first=day_first > month_first, day=day)


def _written_on(lines: tuple[Line, ...]) -> date | None:
    """The day of an e-mail, as its head says (RFC 5322)."""
    for line in lines[:HEAD]:
        said = _MAIL_DATE.fullmatch(line.text.replace("\t", " "))
        found = parsedate(said[1]) if said else None
        if found:
            return date(*found[:3])
    return None
