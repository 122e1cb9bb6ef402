"""Text taken as it stands: a piece of one line, several lines, and a paragraph that runs on."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line


class OneLine(Kind):
    """A piece of one line up to the next wide gap."""

    narrow: ClassVar[bool] = False
    free: ClassVar[bool] = True
    kind: Literal["line"] = "line"

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


BETWEEN = " / "
"""How the end of a line is shown where a value must fit on one."""


class Block(Kind):
    """A piece of a line, and the lines under it that belong to it."""

    narrow: ClassVar[bool] = False
    free: ClassVar[bool] = True
    block: ClassVar[bool] = True

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in re.finditer(r"[^\t]+", line.text):
            yield Span(line, m.start(), m.end(), m[0], 1.0)

    def joined(self, lines: Sequence[str]) -> str:
        """The value of these lines."""
        raise NotImplementedError


class SeveralLines(Block):
    """Lines one under the other, kept apart."""

    kind: Literal["lines"] = "lines"

    @property
    def words(self) -> str:
        return "several lines"

    def joined(self, lines: Sequence[str]) -> str:
        return "\n".join(" ".join(line.split()) for line in lines)

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - what a person enters counts
        return self.joined([line for line in re.split(rf"\n|{BETWEEN}", text) if line.strip()]) or None

    def show(self, value: str) -> str:
        return value.replace("\n", BETWEEN)


class Paragraph(Block):
    """Lines that run on; words cut at the end of a line are joined."""

    kind: Literal["paragraph"] = "paragraph"

    @property
    def words(self) -> str:
        return "a paragraph"

    def joined(self, lines: Sequence[str]) -> str:
        return " ".join(re.sub(r"(?<=[^\W\d_])-\n(?=[a-zà-ÿ])", "", "\n".join(lines)).split())

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - what a person enters counts
        return self.joined(text.splitlines()) or None
