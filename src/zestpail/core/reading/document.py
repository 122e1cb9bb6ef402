"""A document as it was read: its pages in order and the lines on them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from zestpail.core.reading.lines import Line, lines_of
from zestpail.core.reading.page import PageReading


@dataclass(frozen=True, eq=False)  # the same document is the same reading: never compared word by word
class DocumentReading:
    """The readings of all pages of one document."""

    pages: tuple[PageReading, ...]

    @cached_property
    def lines(self) -> tuple[Line, ...]:
        """All lines, page by page, top to bottom."""
        return tuple(line for number, page in enumerate(self.pages) for line in lines_of(page, number))
