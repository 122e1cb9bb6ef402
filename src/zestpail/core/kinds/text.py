"""One line of text, taken as it stands."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line


class OneLine(Kind):
    """A piece of one line up to the next wide gap."""

    free: ClassVar[bool] = True
    kind: Literal["one line of text"] = "one line of text"

    @property
    def words(self) -> str:
        return "one line of text"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in re.finditer(r"[^\t]+", line.text):
            yield Span(line, m.start(), m.end(), tidy(m[0]), 1.0)

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - what a person enters counts
        return " ".join(text.split()) or None


def tidy(text: str) -> str:
    """The text without the specks and marks that stand before it, and without a comma at its end."""
    return text.lstrip(" .,:;|'`´’_-–").rstrip(" ,:;|_") or text
