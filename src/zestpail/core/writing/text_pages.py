"""Plain text as pages, so that it goes the way of everything else: a PDF whose text layer is the text itself."""

from __future__ import annotations

import textwrap
from collections.abc import Iterator, Sequence

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from zestpail.core.problems import Unreadable
from zestpail.core.reading.geometry import Box, scaling
from zestpail.core.reading.page import PageReading, Word
from zestpail.core.writing.searchable_pdf import PageToWrite, searchable_pdf

DPI, WIDTH, HEIGHT = 150, 1240, 1754
MARGIN, LINE, SIZE = 120, 34, 24
"""Pixels of an A4 page at that resolution."""
MOST_WIDE = 78
"""Characters of a line before it is broken."""
MOST_LINES = 6_000
"""A longer text is refused."""


def text_pdf(text: str, title: str) -> bytes:
    """The text on A4 pages, long lines broken between words; characters that cannot be printed are left out.

    Raises Unreadable for a text of more than MOST_LINES lines.
    """
    lines = [piece for line in text.splitlines() for piece in _broken(line)] or [""]
    if len(lines) > MOST_LINES:
        raise Unreadable(f"The text has {len(lines)} lines; at most {MOST_LINES} are made into pages.")
    deep = (HEIGHT - 2 * MARGIN) // LINE
    return searchable_pdf([_page(lines[at : at + deep]) for at in range(0, len(lines), deep)], title)


def pages_of_text(text: str) -> int:
    """About how many pages the text makes, without making them."""
    lines = sum(1 + len(line) // MOST_WIDE for line in text.splitlines())
    return 1 + lines // ((HEIGHT - 2 * MARGIN) // LINE)


def _broken(line: str) -> list[str]:
    plain = "".join(c for c in line.expandtabs(4) if c.isprintable())
    return textwrap.wrap(plain, MOST_WIDE, drop_whitespace=False, break_on_hyphens=False) or [""]


def _page(lines: Sequence[str]) -> PageToWrite:
    image = Image.new("L", (WIDTH, HEIGHT), 255)
    pen, font = ImageDraw.Draw(image), ImageFont.load_default(SIZE)
    words = []
    for at, line in enumerate(lines):
        top = MARGIN + at * LINE
        pen.text((MARGIN, top), line, fill=0, font=font)
        words += [_word(line, start, end, top, font) for start, end in _words(line)]
    points = 72 / DPI
    reading = PageReading(
        width=WIDTH * points, height=HEIGHT * points, words=tuple(words), source="text_layer", engine="plain text",
        dpi=DPI, to_pixels=scaling(1 / points),
    )  # fmt: skip
    return PageToWrite(np.array(image), reading)


def _words(line: str) -> Iterator[tuple[int, int]]:
    start = None
    for at, character in enumerate(f"{line} "):
        if character.isspace():
            if start is not None:
                yield start, at
            start = None
        elif start is None:
            start = at


def _word(line: str, start: int, end: int, top: int, font: ImageFont.FreeTypeFont | ImageFont.ImageFont) -> Word:
    points = 72 / DPI
    left, right = (MARGIN + font.getlength(line[:at]) for at in (start, end))
    box = Box(left * points, (top + 2) * points, right * points, (top + SIZE + 4) * points)
    return Word(text=line[start:end], box=box, confidence=1.0)
