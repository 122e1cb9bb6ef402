"""What words that belong together say, and where they stand."""

from __future__ import annotations

from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.page import Word


class Worded:
    """Something that is made of words of one page, left to right."""

    words: tuple[Word, ...]

    @property
    def text(self) -> str:
        """The words with blanks between them."""
        return " ".join(word.text for word in self.words)

    @property
    def box(self) -> Box:
        """The box around them, in points."""
        return around(word.box for word in self.words)
