"""Yes or no, as a word in several languages."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

YES = ("yes", "ja", "oui", "si", "sí", "sì", "sim", "ano", "ok", "passed", "true")
NO = ("no", "nein", "nee", "non", "não", "nao", "ne", "nej", "failed", "false")
_WORD = re.compile(r"(?<![\w-])[^\W\d_]+(?![\w-])")


class YesNo(Kind):
    """A word that means yes or no, kept as one of these two."""

    kind: Literal["yes/no"] = "yes/no"

    @property
    def words(self) -> str:
        return "yes or no"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _WORD.finditer(line.text):
            said = m[0].casefold()
            if said in YES or said in NO:
                yield Span(line, m.start(), m.end(), "yes" if said in YES else "no", 1.0)
