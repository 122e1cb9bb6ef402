"""Hand-made readings: text on a grid becomes words in points, as if a page had been read."""

from __future__ import annotations

import re

from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box, scaling
from zestpail.core.reading.page import PageReading, Symbol, Word

COLUMN, ROW, HEIGHT = 5.0, 14.0, 9.0


def page(text: str, confidence: float = 0.96, size: dict[int, float] | None = None) -> PageReading:
    """Each line of text is a line on the page, each character 5 points wide; ``size`` makes lines taller."""
    words = []
    for number, line in enumerate(text.strip("\n").splitlines()):
        top, height = 40 + number * ROW, (size or {}).get(number, HEIGHT)
        for found in re.finditer(r"\S+", line):
            symbols = tuple(
                Symbol(
                    text=character,
                    box=Box(40 + at * COLUMN, top, 40 + (at + 1) * COLUMN, top + height),
                    confidence=confidence,
                )
                for at, character in enumerate(found[0], start=found.start())
            )
            box = Box(symbols[0].box.x0, top, symbols[-1].box.x1, top + height)
            words.append(Word(text=found[0], box=box, confidence=confidence, symbols=symbols))
    return PageReading(
        width=595, height=842, words=tuple(words), source="ocr", engine="by hand", dpi=72, to_pixels=scaling(1)
    )


def document(*pages: PageReading) -> DocumentReading:
    return DocumentReading(pages)
