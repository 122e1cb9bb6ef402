"""Names of people: two to four words with capitals, with or without a title."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

_TITLE = r"(?:(?:Mr|Mrs|Ms|Dr|Prof|Capt|Ing|Herr|Frau|Mme|M)\.? )?"
_NAME = r"[A-ZÀ-ÖØ-ÞČŘŠŽ](?:[a-zà-öø-ÿčřšž’'-]+[A-ZÀ-Þ]?[a-zà-ÿčřšž]*|\.)"
_PERSON = re.compile(rf"(?<![\w.-]){_TITLE}{_NAME}(?: (?:{_NAME}|de|da|van|von|der|den|la|le)){{1,4}}(?![\w])")


class Person(Kind):
    """The name of a person, with its title if it has one."""

    kind: Literal["person"] = "person"

    @property
    def words(self) -> str:
        return "the name of a person"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _PERSON.finditer(line.text):
            yield Span(line, m.start(), m.end(), m[0], 1.0)

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - what a person enters counts
        return " ".join(text.split()) or None
