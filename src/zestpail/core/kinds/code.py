"""Codes that name a thing, such as invoice numbers, and plain whole numbers."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import REPAIR_PRICE, Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

_CODE = re.compile(r"(?<![\w/.-])[A-Za-z0-9À-ž]+(?:(?:[-/._#]|(?<=[A-Z])- (?=\d))[A-Za-z0-9À-ž]+)*(?![\w])")
"""A dash after a capital may have been torn from its figures: "ORD- 49069"."""
_NUMBER = re.compile(r"(?<![\w.,/-])\d+(?![\w/]|[.,]\d)")
_ZERO_IN_LETTERS = re.compile(r"((?:[A-Z]+0+[A-Z]*|0+[A-Z]+))-\d")
_DATE_LIKE = re.compile(r"\d{1,4}[./-]\d{1,2}[./-]\d{1,4}")
_AMOUNT_LIKE = re.compile(r"\d+[.,]\d{1,2}")


MOST_WORDS = 2
"""In a column of codes these need no figures."""


class Code(Kind):
    """Letters, figures, dashes and slashes with at least one figure: BB-20418, 2026/0442, F2600178."""

    identifies: ClassVar[bool] = True
    in_totals: ClassVar[bool] = True
    proposal_rank: ClassVar[int] = 11
    kind: Literal["code"] = "code"

    @property
    def words(self) -> str:
        return "a code"

    def meant_by(self, text: str, style: Style) -> bool:  # noqa: ARG002 - one way to write it
        return any(c.isdigit() for c in text) and len(text.split()) == 1

    def in_cell(self, text: str, style: Style) -> str | None:
        return self.parse(text, style) if len(text.split()) <= MOST_WORDS else None

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _CODE.finditer(line.text):
            text, left = _letters_put_right(m[0], line.confidence_of(m.start(), m.end()))
            shape = _shape(text) * left
            if shape:
                yield Span(line, m.start(), m.end(), text.replace(" ", ""), shape)

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - what a person enters counts
        return " ".join(text.split()) or None


class Number(Kind):
    """A whole number without separators."""

    proposal_rank: ClassVar[int] = 10
    kind: Literal["number"] = "number"

    @property
    def words(self) -> str:
        return "a number"

    def meant_by(self, text: str, style: Style) -> bool:  # noqa: ARG002 - one way to write it
        return text.isdigit() and len(text) < 4

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _NUMBER.finditer(line.text):
            yield Span(line, m.start(), m.end(), m[0], 1.0)


def _letters_put_right(text: str, confidence: float) -> tuple[str, float]:
    """A zero among the letters before a dash was an O: 0C-3430; born-digital text (confidence 1) is left alone."""
    found = _ZERO_IN_LETTERS.match(text)
    if not found or confidence >= 1:
        return text, 1.0
    return found[1].replace("0", "O") + text[found.end(1) :], REPAIR_PRICE


def _shape(text: str) -> float:
    """How much the text looks like a code: figures wanted, dates and amounts are something else."""
    figures = sum(c.isdigit() for c in text)
    if not figures or len(text) > 30:
        return 0.0
    if _DATE_LIKE.fullmatch(text) or _AMOUNT_LIKE.fullmatch(text):
        return 0.15
    if any(c.islower() for c in text[1:]) and figures < 3:
        return 0.3
    return {1: 0.3, 2: 0.5}.get(figures, 1.0)
