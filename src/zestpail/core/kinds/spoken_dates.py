"""Days as people name them to each other: next Tuesday, tomorrow, the 3rd of September, 5/11.

Which days these are is told by the day on which the letter was written.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import date, timedelta
from functools import cache

from babel import Locale

from zestpail.core.kinds.kind import Span
from zestpail.core.reading.lines import Line

LANGUAGES = ("en", "de", "fr", "pt", "es", "it", "nl", "cs")
_NEXT = (
    r"next|coming|this|kommende[nrms]?|nächste[nrms]?|diese[nrms]?|próxim[ao]|prochaine?|proxima|prossim[ao]|"
    r"volgende|příští"
)
_DAYS_AWAY = {
    0: "today heute aujourd'hui aujourd’hui hoje hoy oggi vandaag dnes",
    1: "tomorrow morgen demain amanhã mañana domani zítra",
    2: "übermorgen après-demain overmorgen pozítří",
}  # fmt: skip
_NUMBERED = re.compile(
    r"(?<![\w.,/])(?:the )?(\d{1,2})(?:\.|er|st|nd|rd|th|º)? ?(?:of |de |di )?([^\W\d_]{3,12})"
    r"(?![\w.]|,? ?(?:de |')?\d{4})",
    re.IGNORECASE,
)
_MONTH_FIRST = re.compile(r"(?<!\w)([^\W\d_]{3,12}) (\d{1,2})(?:st|nd|rd|th)?(?![\w/.:]|,? ?\d{4})", re.IGNORECASE)
_SLASHED = re.compile(r"(?<![\w.,/-])(\d{1,2})(?:/(\d{1,2})|\.(\d{1,2})\.)(?![\w/]|[.,]\d)")
SURE, SPOKEN, BARE = 1.0, 0.9, 0.6
"""How well formed a day without a year is, one that a weekday and “next” tell, and one of a weekday alone."""


def spoken_days(line: Line, of: date, months: dict[str, int], *, day_first: bool) -> Iterator[Span]:
    """Days on the line that have no year, as seen from the day ``of`` on which the letter was written."""
    for m in _NUMBERED.finditer(line.text):
        month = months.get(m[2].casefold())
        if month:
            yield from _coming(line, m, of, month, int(m[1]), SURE)
    for m in _MONTH_FIRST.finditer(line.text):
        month = months.get(m[1].casefold())
        if month:
            yield from _coming(line, m, of, month, int(m[2]), SURE)
    for m in _SLASHED.finditer(line.text):
        one, other = m[1], m[2] or m[3]
        first, second = (other, one) if day_first or m[3] else (one, other)
        yield from _coming(line, m, of, int(first), int(second), SPOKEN)
    for m in _weekday().finditer(line.text):
        ahead = (_weekdays()[m["day"].casefold()] - of.weekday() - 1) % 7 + 1
        yield Span(
            line,
            m.start(),
            m.end(),
            (of + timedelta(days=ahead)).isoformat(),
            SPOKEN if m["next"] or m["after"] else 0.6,
        )
    for m in _away().finditer(line.text):
        days = next(days for days, words in _DAYS_AWAY.items() if m[0].casefold() in words.split())
        yield Span(line, m.start(), m.end(), (of + timedelta(days=days)).isoformat(), SPOKEN)


def _coming(line: Line, match: re.Match[str], of: date, month: int, day: int, shape: float) -> Iterator[Span]:
    """The next day of that name on or after the letter's."""
    for year in (of.year, of.year + 1):
        try:
            found = date(year, month, day)
        except ValueError:
            continue
        if found >= of:
            yield Span(line, match.start(), match.end(), found.isoformat(), shape)
            return


@cache
def _weekdays() -> dict[str, int]:
    names: dict[str, int] = {}
    for language in LANGUAGES:
        for number, name in Locale(language).days["format"]["wide"].items():
            names.setdefault(name.casefold(), int(number))
    return names


@cache
def _weekday() -> re.Pattern[str]:
    names = "|".join(sorted(map(re.escape, _weekdays()), key=len, reverse=True))
    return re.compile(
        rf"(?<!\w)(?P<next>(?:{_NEXT}) )?(?P<day>{names})(?P<after> (?:prochaine?|que vem|próxim[ao]|prossim[ao]))?"
        rf"(?!\w|,? (?:the |den |dem |le |o |el )?\d)",
        re.IGNORECASE,
    )


@cache
def _away() -> re.Pattern[str]:
    names = sorted((w for words in _DAYS_AWAY.values() for w in words.split()), key=len, reverse=True)
    return re.compile(rf"(?<!\w)(?:{'|'.join(map(re.escape, names))})(?!\w)", re.IGNORECASE)
