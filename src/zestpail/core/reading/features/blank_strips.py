"""The blank strips of a page: parts of its height without print, although specks lie in them."""

from __future__ import annotations

from collections.abc import Iterator

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import PageReading, Word

LEAST_STRIP = 14.0
"""Points; less is the distance of two lines."""
SURE_PRINT = 0.4
"""Single characters that were read less surely than this are specks."""


def strips_of(page: PageReading) -> Iterator[Box]:
    """The blank strips of a page between its print, top to bottom; those at its edges are none."""
    printed = sorted(
        (box.y0, box.y1)
        for box in (*(w.box for w in page.words if _print(w)), *page.rules, *(code.box for code in page.barcodes))
    )
    bottom = printed[0][1] if printed else 0.0
    for top, end in printed:
        if top - bottom >= LEAST_STRIP:
            yield Box(0.0, bottom, page.width, top)
        bottom = max(bottom, end)


def _print(word: Word) -> bool:
    return len(word.text) > 1 or (word.text.isalnum() and word.confidence >= SURE_PRINT)
