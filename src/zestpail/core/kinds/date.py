"""Dates: 2026-09-03, 03.09.2026, 9/3/26, 3. Sept. 2026, le 3 juillet 2026, September 3, 2026."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator
from datetime import date
from functools import cache
from typing import ClassVar, Literal

from babel import Locale

from zestpail.core.kinds.kind import Kind, SheetFormat, Span, repaired
from zestpail.core.kinds.spoken_dates import spoken_days
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

LANGUAGES = (
    "en", "de", "fr", "es", "it", "nl", "pt", "cs", "pl", "sv", "da", "nb", "fi", "hu", "ro", "sk", "hr", "sl", "lt", "lv",
    "et", "tr", "ca",
)  # fmt: skip
_F = r"[0-9OolI|SB]"
_ISO = re.compile(rf"(?<![\w.-])({_F}{{4}})[-./]({_F}{{2}})[-./]({_F}{{2}})(?![\w-])")
_NUMERIC = re.compile(rf"(?<![\w.,/-])({_F}{{1,2}})\s?([./-])\s?({_F}{{1,2}})\s?\2\s?({_F}{{4}}|{_F}{{2}})(?![\w/-])")
_DAY_FIRST = re.compile(
    rf"(?<![\w.,/])({_F}{{1,2}})(?:\.|er|st|nd|rd|th|º)?[ -]?(?:de )?([^\W\d_]{{3,12}})\.?,?[ -]?(?:de |')?"
    r"(\d{4}|\d\d(?! ?(?:h|uhr|horas|heures)|:\d))(?!\w)",
    re.IGNORECASE,
)
_MONTH_FIRST = re.compile(rf"(?<!\w)([^\W\d_]{{3,12}})\.? ({_F}{{1,2}})(?:st|nd|rd|th)?,? (\d{{4}})(?!\w)")


class Date(Kind):
    """A calendar day, kept as YYYY-MM-DD."""

    sheet: ClassVar[SheetFormat] = "date"
    proposal_rank: ClassVar[int] = 3
    wraps: ClassVar[Literal["never", "in sentences", "always"]] = "in sentences"
    kind: Literal["date"] = "date"

    @property
    def words(self) -> str:
        return "a date"

    def said(self, value: str) -> str:
        return f"{date.fromisoformat(value):%-d %B %Y}"

    def in_cell(self, text: str, style: Style) -> str | None:
        points = re.sub(r"(?<=\d),(?=\d\d[.,]\d)|(?<=[.,]\d\d),(?=\d)", ".", text)  # 08,02.2026
        return super().in_cell(points, style)

    def ambiguous(self, raw: str, style: Style) -> bool:
        if style.order_told or not _NUMERIC.search(raw):
            return False
        other = self.parse(raw, style.model_copy(update={"day_first": not style.day_first}))
        return other is not None and other != self.parse(raw, style)

    def spot(self, line: Line, style: Style) -> Iterator[Span]:
        text = line.text
        for m in _ISO.finditer(text):
            yield from _span(line, m, m[1], m[2], m[3])
        for m in _NUMERIC.finditer(text):
            first, second = (m[1], m[3]) if style.day_first else (m[3], m[1])
            either = list(_span(line, m, m[4], second, first)) or list(_span(line, m, m[4], first, second))
            yield from either
        for m in _DAY_FIRST.finditer(text):
            if month := _month(m[2]):
                yield from _span(line, m, m[3], str(month), m[1])
        for m in _MONTH_FIRST.finditer(text):
            if month := _month(m[1]):
                yield from _span(line, m, m[3], str(month), m[2])
        if style.day:
            yield from spoken_days(line, style.day, _month_names(), day_first=style.day_first)


def _span(line: Line, match: re.Match[str], year: str, month: str, day: str) -> Iterator[Span]:
    figures, shape = repaired(f"{int(len(year) == 2) * '20'}{year}-{month}-{day}")
    try:
        value = date(*(int(part) for part in figures.split("-")))
    except ValueError:
        return
    if 1950 <= value.year <= 2100:
        yield Span(line, match.start(), match.end(), value.isoformat(), shape)


def _month(name: str) -> int | None:
    folded = _folded(name)
    months = _months()
    if folded in months:
        return months[folded]
    near = {month for known, month in months.items() if len(known) >= 5 and _one_off(known, folded)}
    return near.pop() if len(near) == 1 else None


@cache
def _months() -> dict[str, int]:
    """Month names and their abbreviations in all languages, without accents and dots (from CLDR)."""
    names: dict[str, int] = {"sept": 9, "mrz": 3}
    for language in LANGUAGES:
        for widths in Locale(language).months.values():
            for width in ("wide", "abbreviated"):
                for number, name in widths[width].items():
                    names.setdefault(_folded(name), number)
    return {name: number for name, number in names.items() if len(name) >= 3 and name.isalpha()}


@cache
def _month_names() -> dict[str, int]:
    """Month names as they are written."""
    names: dict[str, int] = {}
    for language in LANGUAGES:
        for number, name in Locale(language).months["format"]["wide"].items():
            names.setdefault(name.casefold(), number)
    return names


def _folded(name: str) -> str:
    plain = unicodedata.normalize("NFKD", name.casefold())
    return "".join(c for c in plain if c.isalpha())


def _one_off(known: str, read: str) -> bool:
    """Whether one character was read wrongly."""
    return len(known) == len(read) and sum(a != b for a, b in zip(known, read, strict=True)) == 1
