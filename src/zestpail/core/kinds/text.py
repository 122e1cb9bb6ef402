"""One line of text, taken as it stands."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line


class OneLine(Kind):
    """A piece of one line up to the next wide gap."""

    kind: Literal["one line of text"] = "one line of text"

    @property
    def words(self) -> str:
        return "one line of text"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in re.finditer(r"[^\t]+", line.text):
            yield Span(line, m.start(), m.end(), m[0], 1.0)

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - what a person enters counts
        return " ".join(text.split()) or None
