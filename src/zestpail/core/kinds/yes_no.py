"""Yes or no: as a word in several languages, or said with ink, as a tick or a signature."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

YES = ("yes", "ja", "oui", "si", "sí", "sì", "sim", "ano", "ok", "passed", "true")
NO = ("no", "nein", "nee", "non", "não", "nao", "ne", "nej", "failed", "false")
_WORD = re.compile(r"(?<![\w-])[^\W\d_]+(?![\w-])")


class YesNo(Kind):
    """A word that means yes or no, kept as one of these two."""

    in_words: ClassVar[bool] = True
    kind: Literal["yes_no"] = "yes_no"

    @property
    def words(self) -> str:
        return "yes or no"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _WORD.finditer(line.text):
            message = m[0].casefold()
            if message in YES or message in NO:
                yield Span(line, m.start(), m.end(), "yes" if message in YES else "no", 1.0)


class _Inked(Kind):
    there: ClassVar[str]
    absent: ClassVar[str]

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - ink is not spotted among letters
        yield from ()

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - one way to write it
        """Yes or no, for these words in several languages and for those that it is shown with."""
        message = " ".join(text.split()).casefold()
        if message in (*YES, self.there):
            return "yes"
        return "no" if message in (*NO, self.absent) else None

    def show(self, value: str) -> str:
        """In words."""
        return self.there if value == "yes" else self.absent


class Tick(_Inked):
    """Whether a box is ticked."""

    told_by: ClassVar[Literal["", "box", "stroke"]] = "box"
    kind: Literal["tick"] = "tick"
    there = "ticked"
    absent = "not ticked"

    @property
    def words(self) -> str:
        return "a tick box"


class Signature(_Inked):
    """Whether somebody signed."""

    told_by: ClassVar[Literal["", "box", "stroke"]] = "stroke"
    kind: Literal["signature"] = "signature"
    there = "signed"
    absent = "not signed"

    @property
    def words(self) -> str:
        return "a signature"
