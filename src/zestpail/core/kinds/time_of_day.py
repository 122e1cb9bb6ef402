"""Times of day: 14:30, 8h30, 9 Uhr, 7.15 pm, eleven o'clock, nove horas."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.number_words import PATTERN, number_of
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

_HOURS = r"(?:h|hrs|hours|uhr|horas?|heures?|o['’]?clock|ore|uur|hod)"
_FIGURES = re.compile(
    rf"(?<![\w.,:/-])(\d{{1,2}})(?:(?:[:.](\d\d)| ?(?:h|uhr) ?(\d\d))(?! ?%)(?:[:.]\d\d)?(?: ?{_HOURS})?| ?{_HOURS})"
    r"(?: ?([ap])\.?m\.?)?(?![\w:]|[.,]\d)",
    re.IGNORECASE,
)
_TWELVE = re.compile(r"(?<![\w.,:/-])(?<![^\W\d_]{5} )(\d{1,2}) ?([ap])\.?m\.?(?!\w)", re.IGNORECASE)
_WORDS = re.compile(rf"(?<!\w)({PATTERN}) {_HOURS}(?!\w)", re.IGNORECASE)
_NOON = re.compile(
    r"(?<!\w)(?:(noon|midday|mittags?|meio-dia|midi|mediodía)|(midnight|mitternacht|meia-noite|minuit))(?!\w)", re.I
)
BARE = 0.6
"""How well formed a time is that could be a decimal number."""


class Time(Kind):
    """A time of day, kept as HH:MM."""

    proposal_rank: ClassVar[int] = 4
    wraps: ClassVar[Literal["never", "in sentences", "always"]] = "in sentences"
    kind: Literal["time"] = "time"

    @property
    def words(self) -> str:
        return "a time of day"

    def meant_by(self, text: str, style: Style) -> bool:
        return ("." not in text or text[-1].isalpha()) and super().meant_by(text, style)

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _FIGURES.finditer(line.text):
            plain = re.fullmatch(r"\d{1,2}\.\d\d", m[0]) is not None
            yield from _span(line, m, int(m[1]), int(m[2] or m[3] or 0), m[4], BARE if plain else 1.0)
        for m in _TWELVE.finditer(line.text):
            yield from _span(line, m, int(m[1]), 0, m[2], 1.0)
        for m in _WORDS.finditer(line.text):
            yield from _span(line, m, number_of(m[1]) or 0, 0, None, 1.0)
        for m in _NOON.finditer(line.text):
            yield from _span(line, m, 12 if m[1] else 0, 0, None, 1.0)


def _span(line: Line, match: re.Match[str], hour: int, minute: int, half: str | None, shape: float) -> Iterator[Span]:
    if half and hour <= 12:
        hour = hour % 12 + (12 if half.lower() == "p" else 0)
    if hour <= 24 and minute < 60:
        yield Span(line, match.start(), match.end(), f"{hour % 24:02d}:{minute:02d}", shape)
