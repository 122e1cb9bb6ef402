"""E-mail addresses and telephone numbers."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

_EMAIL = re.compile(r"[\w.+-]+ ?@ ?[\w-]+(?:\.[\w-]+)+")
_PHONE = re.compile(r"(?<![\w/.-])(?:\+\d{1,3}|\(?0\d{1,5}\)?)(?:[ /.-]?\(?\d{2,}\)?){1,6}(?![\w])")


class Email(Kind):
    """An e-mail address, kept in small letters."""

    proposal_rank: ClassVar[int] = 2
    kind: Literal["email"] = "email"

    @property
    def words(self) -> str:
        return "an e-mail address"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _EMAIL.finditer(line.text):
            yield Span(line, m.start(), m.end(), m[0].replace(" ", "").lower(), 1.0)


class Phone(Kind):
    """A telephone number, kept with its leading plus and figures only."""

    kind: Literal["phone"] = "phone"

    @property
    def words(self) -> str:
        return "a telephone number"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _PHONE.finditer(line.text):
            figures = re.sub(r"[^\d+]", "", m[0])
            if 7 <= len(figures.lstrip("+")) <= 15:
                yield Span(line, m.start(), m.end(), figures, 1.0)
