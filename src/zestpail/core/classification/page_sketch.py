"""What classification keeps of a page: its words with figures folded, where they stand, its shape, a coarse picture.

A sketch is made of the stored reading alone, in about a millisecond, and is small enough to be kept in a classifier's
file. It has no figures, so no amounts, dates or account numbers; its words are those of the page.
"""

from __future__ import annotations

import re
import unicodedata
from functools import lru_cache
from typing import Annotated

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from zestpail.core.reading.page import PageReading

MOST_WORDS = 450
"""Words of a page that are looked at."""
LARGE = 1.35
"""Print of so many times the page's usual height is a heading's."""
TOP, FOOT = 0.22, 0.9
"""Shares of the page's height: what stands above and below."""
PICTURE = (16, 12)
"""Rows and columns of the coarse picture."""
_APART = re.compile(r"[^\w#&]+", re.UNICODE)
_FIGURES = re.compile(r"\d")
_HEXADECIMAL = "0123456789abcdef"


class PageSketch(BaseModel):
    """One page as classification sees it."""

    model_config = ConfigDict(frozen=True)

    words: tuple[str, ...] = Field(max_length=MOST_WORDS)
    """In reading order, without case, accents and marks; every figure is a 0."""
    large: tuple[str, ...] = ()
    """Those in large print."""
    top: tuple[str, ...] = ()
    """Those on the first lines of the page."""
    foot: tuple[str, ...] = ()
    """Those on the last ones."""
    shape: tuple[float, ...]
    """Numbers of its form, see :func:`shape_of`; about [0, 1] each."""
    picture: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{0,1000}$")] = ""
    """How dark each part of it is, row by row, in hexadecimal digits."""

    @property
    def empty(self) -> bool:
        """Whether there is nothing to tell it by."""
        return not self.words and set(self.picture) <= {"0"}

    def ink(self) -> NDArray[np.float32]:
        """The coarse picture, shares of ink in [0, 1]; empty where the reading has no picture."""
        codes = np.frombuffer(self.picture.encode("ascii", "replace"), np.uint8).astype(np.float32)
        return np.asarray((codes - np.where(codes > ord("9"), ord("a") - 10, ord("0"))) / 15, np.float32)


def sketch_of(page: PageReading) -> PageSketch:
    """The sketch of a page that was read."""
    words = [word for word in page.words if word.text.strip()]
    boxes = np.array([word.box for word in words], np.float32).reshape(-1, 4)
    heights = boxes[:, 3] - boxes[:, 1]
    usual = float(np.median(heights)) if words else 0.0
    tall = max(page.height, 1.0)
    large, top = heights > LARGE * usual, boxes[:, 1] < TOP * tall
    foot = boxes[:, 1] > FOOT * tall
    told = [folded_words(word.text) for word in words]
    return PageSketch(
        words=tuple(part for parts in told for part in parts)[:MOST_WORDS],
        large=_chosen(told, large, 40),
        top=_chosen(told, top, 60),
        foot=_chosen(told, foot, 40)[-40:],
        shape=shape_of(page, boxes, heights, usual),
        picture=picture_of(page),
    )


def _chosen(told: list[tuple[str, ...]], wanted: NDArray[np.bool_], most: int) -> tuple[str, ...]:
    return tuple(told_part for at in np.flatnonzero(wanted) for told_part in told[at])[:most]


@lru_cache(maxsize=50_000)
def folded_words(text: str) -> tuple[str, ...]:
    """The words in a piece of text without case, accents and marks, each figure a 0."""
    plain = "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))
    return tuple(part for part in _APART.split(_FIGURES.sub("0", plain)) if part)


def picture_of(page: PageReading) -> str:
    """How dark each part of the page is, in hexadecimal digits; "" where the reading has no map of its ink."""
    if page.ink is None:
        return ""
    small = cv2.resize(page.ink.cells, PICTURE[::-1], interpolation=cv2.INTER_AREA)
    levels = np.round(np.minimum(small * 3, 1) * 15).astype(int).ravel()
    return "".join([_HEXADECIMAL[level] for level in levels])


SHAPE = (
    "width", "height", "words", "usual height", "largest print", "share of large words", "figures", "capitals",
    "word length", "full lines", "left edges", "columns", "ruled across", "ruled down", "boxes", "barcodes", "top ink",
    "lowest word", "left margin", "right margin", "density", "prose", "form fields", "marks",
)  # fmt: skip
"""What each number of a shape tells."""


def shape_of(
    page: PageReading, boxes: NDArray[np.float32], heights: NDArray[np.float32], usual: float
) -> tuple[float, ...]:
    """Numbers that tell a receipt from a letter from an article, scaled to about [0, 1]."""
    width, height = max(page.width, 1.0), max(page.height, 1.0)
    count = len(boxes)
    text = "".join(word.text for word in page.words)
    letters = max(len(text), 1)
    across = sum(1 for rule in page.rules if rule.width >= rule.height)
    down = len(page.rules) - across
    if count:
        rights, lefts = boxes[:, 2], boxes[:, 0]
        edges = np.bincount(np.clip(lefts / width * 60, 0, 59).astype(int), minlength=60) / count
        rows = np.bincount(np.clip((boxes[:, 1] + boxes[:, 3]) / 2 / height * 110, 0, 109).astype(int), minlength=110)
        filled = np.zeros(110, np.float32)
        np.add.at(filled, np.clip((boxes[:, 1] + boxes[:, 3]) / 2 / height * 110, 0, 109).astype(int), rights - lefts)
        prose = float((filled > 0.55 * width).sum() / max((rows > 0).sum(), 1))
        middle = _gutter(boxes, width)
        lower = sum(map(str.islower, text))
        plain = (
            float(heights.max() / max(usual, 1)) / 5, float((heights > LARGE * usual).mean()),
            sum(map(str.isdigit, text)) / letters, sum(map(str.isupper, text)) / letters,
            letters / count / 12, float((rows > 0).sum() / 80), float(np.sort(edges)[-3:].sum()), middle,
        )  # fmt: skip
        placed = (
            float(rights.max(initial=0) and boxes[:, 3].max() / height), float(np.percentile(lefts, 5) / width),
            float(1 - np.percentile(rights, 95) / width),
            float(((rights - lefts) * heights).sum() / (width * height) * 3), prose * lower / letters,
        )  # fmt: skip
    else:
        plain, placed = (0.0,) * 8, (0.0,) * 5
    numbers = (
        width / 850, height / 1200, min(count / 600, 1.5), usual / 20, *plain, min(across / 20, 1.0),
        min(down / 12, 1.0), min(len(page.marks) / 20, 1.0), min(len(page.barcodes) / 2, 1.0), _top_ink(page), *placed,
        min(len(page.form) / 20, 1.0), min(sum(mark.ink > 0.1 for mark in page.marks) / 10, 1.0),
    )  # fmt: skip
    return tuple(round(float(min(number, 3.0)), 3) for number in numbers)


def _gutter(boxes: NDArray[np.float32], width: float) -> float:
    """How clear of words a strip near the middle is: of two columns of print, in [0, 1]."""
    best = 0.0
    for at in np.linspace(0.4, 0.6, 9):
        crossing = ((boxes[:, 0] < at * width) & (boxes[:, 2] > at * width)).mean()
        both = min((boxes[:, 2] < at * width).mean(), (boxes[:, 0] > at * width).mean())
        best = max(best, float(both * 2 * (1 - min(crossing * 20, 1))))
    return best


def _top_ink(page: PageReading) -> float:
    if page.ink is None:
        return 0.0
    cells = page.ink.cells
    upper = cells[: max(len(cells) // 6, 1)]
    return float(min(upper.mean() * 5, 1.0))
