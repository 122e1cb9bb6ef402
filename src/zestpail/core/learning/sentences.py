"""The sentences of a page, and whether one says a thing or denies it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from zestpail.core.learning.contexts import goes_on
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.page import Word
from zestpail.core.reading.worded import Worded

LONGEST = 60
"""Words of a sentence."""
_END = re.compile(r"[.!?;]$")
_NUMBERED = re.compile(r"\d+[.)]?")
_NOT = re.compile(
    r"\b(?:not|nor|never|neither|cannot|no(?! (?:greater|more|less|later|longer|other|smaller|larger)\b)|"
    r"nicht|kein\w*|weder|ne|pas|aucun\w*|jamais|não|nem|nunca|ningún|ninguna|non|niet|geen|nesmí|není)\b|\w+n['’]t\b",
    re.IGNORECASE,
)
_FORBIDDEN = re.compile(
    r"\b(?:prohibited|forbidden|refused|excluded|untersagt|verboten|ausgeschlossen|interdit\w*|proibid\w*|vedad\w*|"
    r"prohibid\w*|vietat\w*|proibit\w*|verboden|zakáz\w*)\b",
    re.IGNORECASE,
)
"""Words that deny, and that forbid, in the languages of the catalogue; what is not forbidden is said."""


@dataclass(frozen=True)
class Sentence(Worded):
    """Words that belong together, where they begin and on which page."""

    page: int
    words: tuple[Word, ...]

    @property
    def denies(self) -> bool:
        """Whether it says no to what it speaks of."""
        return bool(_NOT.search(self.text)) != bool(_FORBIDDEN.search(self.text))


def sentences_of(document: DocumentReading) -> Iterator[Sentence]:
    """The sentences of all pages, also those that go on over several lines."""
    words: list[Word] = []
    for at, line in enumerate(document.lines):
        if words and not goes_on(document.lines[at - 1], line):
            yield Sentence(document.lines[at - 1].page, tuple(words))
            words = []
        for word in line.words:
            words.append(word)
            if (_END.search(word.text) and not _NUMBERED.fullmatch(word.text)) or len(words) >= LONGEST:
                yield Sentence(line.page, tuple(words))
                words = []
    if words:
        yield Sentence(document.lines[-1].page, tuple(words))
