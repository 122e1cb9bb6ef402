"""Pieces of a line that may be a text: what stands apart, what follows a colon, names within a sentence."""

from __future__ import annotations

import re
from collections.abc import Iterator

from zestpail.core.kinds.kind import Span
from zestpail.core.kinds.text import tidy
from zestpail.core.reading.lines import Line

NAMED = 0.85
"""How well formed a text is that is told from its sentence by capitals alone."""
WHOLE_SENTENCE = 8
"""Words from which a piece is a sentence and no value."""
_WORD = r"[A-ZÀ-Þ][\w'’-]*"
_MORE = rf"(?:(?: (?:of|de|du|von|van|&))? (?:{_WORD}|\d+))"
_NAME = re.compile(rf"(?<![.?!:] )(?<!^)\b[A-ZÀ-Þ][\w'’-]+{_MORE}*")
_FIRST = re.compile(rf"(?:(?<=[.?!:] )|^)[A-ZÀ-Þ][\w'’-]{{3,}}{_MORE}+")
"""Capitals within a sentence; and at its beginning, where more than one word has them."""


def names_in(line: Line) -> Iterator[Span]:
    """What of a line of a letter is told by capitals, and what follows a colon."""
    for start, end in _names(line.text):
        yield Span(line, start, end, line.text[start:end], NAMED)


def text_spans(line: Line) -> Iterator[Span]:
    """What of a line may be a text by itself."""
    for piece in re.finditer(r"[^\t]+", line.text):
        text = piece[0]
        after = re.search(r": (?=\S)", text)
        start = piece.start() + (after.end() if after else 0)
        words = line.text[start : piece.end()]
        if len(words.split()) < WHOLE_SENTENCE:
            yield Span(line, start, piece.end(), tidy(words), 1.0)
        if len(text.split()) >= WHOLE_SENTENCE - 3:
            for start, end in _names(text):
                yield Span(line, piece.start() + start, piece.start() + end, text[start:end], NAMED)


def _names(text: str) -> list[tuple[int, int]]:
    found = {found.span() for form in (_NAME, _FIRST) for found in form.finditer(text)}
    return sorted(found)
