"""What is said with ink and not with letters: a tick, a signature. Kept as yes or no."""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.kinds.yes_no import NO, YES
from zestpail.core.reading.lines import Line


class _Inked(Kind):
    there: ClassVar[str]
    absent: ClassVar[str]

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - ink is not spotted among letters
        yield from ()

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - one way to write it
        """Yes or no, for these words in several languages and for those that it is shown with."""
        said = " ".join(text.split()).casefold()
        if said in (*YES, self.there):
            return "yes"
        return "no" if said in (*NO, self.absent) else None

    def show(self, value: str) -> str:
        """In words."""
        return self.there if value == "yes" else self.absent


class Tick(_Inked):
    """Whether a box is ticked."""

    kind: Literal["tick"] = "tick"
    there = "ticked"
    absent = "not ticked"

    @property
    def words(self) -> str:
        return "ticked or not"


class Signature(_Inked):
    """Whether somebody signed."""

    kind: Literal["signature"] = "signature"
    there = "signed"
    absent = "not signed"

    @property
    def words(self) -> str:
        return "signed or not"
