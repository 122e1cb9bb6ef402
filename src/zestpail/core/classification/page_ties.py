"""What binds a page to the one before it: counters, numbers, head and foot, form, words; as facts for the cutting.

Each fact compares two pages next to each other in a pile or says how much the second one looks like a beginning. How
much each of them weighs was learned, see :mod:`zestpail.core.classification.joining`.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np
from rapidfuzz import fuzz

from zestpail.core.classification.concepts import BEGINNINGS, concepts_in
from zestpail.core.classification.page_sketch import PageSketch, folded_words, sketch_of
from zestpail.core.classification.stop_words import STOP_WORDS
from zestpail.core.reading.page import PageReading, Word

EDGE = 0.09
"""The share of the page's height that is head or foot."""
_COUNTER = re.compile(
    r"(?<![\w.,/-])(\d{1,3})\s?(?:/|of|von|de|sur|di|van|av|af|z|ze|iz|din|da|/\s|\()\s?(\d{1,3})(?![\w.,/-])",
    re.IGNORECASE,
)
_SAID = re.compile(
    r"\b(?:page|seite|blatt|pag|pagina|página|p|side|sida|sivu|strona|str|strana|oldal|sayfa|sheet|folio|feuille|hoja|foglio)"
    r"\b[\s.:]*n?[.°º]?\s*(\d{1,3})(?:\s*(?:/|of|von|de|sur|di|van|av|af|z|ze|iz|din|da|\()\s*(\d{1,3}))?",
    re.IGNORECASE,
)  # fmt: skip
_LONE = re.compile(r"^[-–—\[(|]*\s*(\d{1,3})\s*[-–—\])|]*$")
_NUMBER = re.compile(r"[\w/.-]*\d[\w/.-]*\d[\w/.-]*\d[\w/.-]*")
LEAST_NUMBER, MOST_NUMBERS = 5, 200
"""Characters of a number that tells documents apart."""

Facts = dict[str, float]


@dataclass(frozen=True)
class PageTies:
    """A page as it is compared with its neighbours."""

    sketch: PageSketch
    width: float
    height: float
    dpi: float
    own_text: bool
    count: int
    """Which page of its document it says it is; 0 where it does not say."""
    of: int
    """Of how many it says that; 0 where it does not say."""
    head: str
    foot: str
    numbers: frozenset[str]
    usual: float
    left: float
    highest: float
    lowest: float
    opens_inside: bool
    """Whether its text begins in the middle of a sentence."""
    ends_open: bool
    """Whether its text ends in the middle of one."""
    words: frozenset[str]
    titles: frozenset[str]
    """Kinds of paper that its headings name."""
    greets: bool


def ties_of(page: PageReading, sketch: PageSketch | None = None) -> PageTies:
    """What a page has that may bind it to others."""
    known = sketch or sketch_of(page)
    words = [word for word in page.words if word.text.strip()]
    tall = max(page.height, 1.0)
    head = [word for word in words if word.box.y1 < EDGE * tall]
    foot = [word for word in words if word.box.y0 > (1 - EDGE) * tall]
    body = [word for word in words if EDGE * tall <= word.box.cy <= (1 - EDGE) * tall]
    count, of = _counter(words, head, foot)
    numbers = {found for word in words for found in _NUMBER.findall(word.text) if len(found) >= LEAST_NUMBER}
    told = frozenset(word for word in known.words if len(word) > 2 and word not in STOP_WORDS and not word.isdigit())
    headings = concepts_in(known.large, True) | concepts_in(known.top)
    heights = sorted(word.box.height for word in words)
    lefts = sorted(word.box.x0 for word in words)
    return PageTies(
        sketch=known, width=page.width, height=page.height, dpi=page.dpi, own_text=page.source == "text_layer",
        count=count, of=of, head=_plain(head), foot=_plain(foot),
        numbers=frozenset(sorted(numbers)[:MOST_NUMBERS]), usual=heights[len(heights) // 2] if words else 0.0,
        left=lefts[len(lefts) // 20] / page.width if words else 0.0,
        highest=min((word.box.y0 for word in words), default=0.0) / tall,
        lowest=max((word.box.y1 for word in body), default=0.0) / tall,
        opens_inside=bool(body) and _first(body).text[:1].islower(),
        ends_open=(bool(body) and _last(body).text[-1:].isalpha()) or (bool(body) and _last(body).text[-1:] in ",-;"),
        words=told, titles=frozenset(headings & BEGINNINGS.keys()), greets="letter" in concepts_in(known.words[:120]),
    )  # fmt: skip


def _plain(words: list[Word]) -> str:
    """What stands there with its figures folded, in reading order."""
    return " ".join(part for word in words for part in folded_words(word.text))


def _first(words: list[Word]) -> Word:
    return min(words, key=lambda word: (round(word.box.y0 / 6), word.box.x0))


def _last(words: list[Word]) -> Word:
    return max(words, key=lambda word: (round(word.box.y1 / 6), word.box.x1))


def _counter(words: list[Word], head: list[Word], foot: list[Word]) -> tuple[int, int]:
    """Which page of how many it says it is: "Page 2 of 3" anywhere, "2/3" or a lone figure at the edge."""
    for match in _SAID.finditer(" ".join(word.text for word in words)):
        count, of = int(match[1]), int(match[2] or 0)
        if count and (not of or count <= of):
            return count, of
    for edge in (foot, head):
        for match in _COUNTER.finditer(" ".join(word.text for word in edge)):
            count, of = int(match[1]), int(match[2])
            if 0 < count <= of:
                return count, of
    for edge in (foot, head):
        for at, word in enumerate(edge):
            lone = _LONE.match(word.text)
            if lone and 0 < int(lone[1]) < 400 and _apart(edge, at):
                return int(lone[1]), 0
    return 0, 0


def _apart(edge: list[Word], at: int) -> bool:
    """Whether a word has no near neighbour on its line, or stands at its end."""
    word = edge[at]
    near = [
        other for number, other in enumerate(edge)
        if number != at and abs(other.box.cy - word.box.cy) < word.box.height
        and max(other.box.x0 - word.box.x1, word.box.x0 - other.box.x1) < 2 * word.box.height
    ]  # fmt: skip
    return not near


def facts_between(before: PageTies, page: PageTies) -> Facts:
    """What speaks for and against the second page going on with the document of the first."""
    shared = before.words & page.words
    numbers = before.numbers & page.numbers
    fewer = min(len(before.numbers), len(page.numbers))
    return {
        "counts_on": _counts_on(before, page), "says_first": float(page.count == 1), "says_count": float(page.count),
        "has_count": float(page.count > 0), "before_last": float(before.count == before.of) if before.of else -1.0,
        "count_rises": float(page.count > before.count) * 2 - 1 if page.count and before.count else 0.0,
        "before_count": float(before.count), "same_of": float(before.of == page.of) if before.of and page.of else -1.0,
        "head_alike": _alike(before.head, page.head), "foot_alike": _alike(before.foot, page.foot),
        "head_length": min(len(page.head) / 60, 3.0), "foot_length": min(len(page.foot) / 60, 3.0),
        "numbers_shared": float(len(numbers)), "numbers_share": len(numbers) / fewer if fewer else -1.0,
        "words_shared": len(shared) / max(min(len(before.words), len(page.words)), 1),
        "words_alike": len(shared) / max(len(before.words | page.words), 1),
        "words": min(len(page.words) / 100, 4.0), "words_before": min(len(before.words) / 100, 4.0),
        "same_size": float(abs(before.width - page.width) + abs(before.height - page.height) < 6),
        "size_apart": abs(before.width - page.width) / 100 + abs(before.height - page.height) / 100,
        "same_source": float(before.own_text == page.own_text and abs(before.dpi - page.dpi) < 2),
        "print_alike": min(before.usual, page.usual) / max(before.usual, page.usual, 1.0),
        "left_apart": abs(before.left - page.left), "highest": page.highest,
        "highest_apart": abs(before.highest - page.highest),
        "lowest_before": before.lowest, "lowest": page.lowest, "opens_inside": float(page.opens_inside),
        "ends_open": float(before.ends_open), "titles": float(len(page.titles)),
        "titles_same": len(page.titles & before.titles) / len(page.titles | before.titles) if page.titles else -1.0,
        "new_titles": float(len(page.titles - before.titles)), "greets": float(page.greets),
        "large": page.sketch.shape[4] if page.sketch.shape else 0.0,
        "large_words": page.sketch.shape[5] if page.sketch.shape else 0.0,
        "large_before": before.sketch.shape[4] if before.sketch.shape else 0.0,
        "prose": page.sketch.shape[21], "prose_before": before.sketch.shape[21],
        "figures": page.sketch.shape[6], "figures_before": before.sketch.shape[6],
        "edges_alike": 1 - min(abs(page.sketch.shape[10] - before.sketch.shape[10]) * 2, 1.0),
        "ink_alike": _ink_alike(before.sketch, page.sketch),
        "ink": _ink_share(page.sketch),
        "ink_before": _ink_share(before.sketch),
        "words_ratio": min(len(page.words), 400) / max(len(before.words), 1),
        "columns_apart": abs(page.sketch.shape[11] - before.sketch.shape[11]),
        "top_alike": _alike(" ".join(before.sketch.top), " ".join(page.sketch.top)),
        "page_alike": _alike(" ".join(before.sketch.words[:80]), " ".join(page.sketch.words[:80])),
    }  # fmt: skip


def _counts_on(before: PageTies, page: PageTies) -> float:
    """1 where the second page's number follows the first one's, -1 where it does not, 0 where one has none."""
    if not page.count:
        return 0.0
    if not before.count:
        return 0.3 if page.count == 2 else 0.0 if page.count > 1 else -0.3
    return 1.0 if page.count == before.count + 1 and before.of in (0, page.of) else -1.0


def _ink_alike(one: PageSketch, other: PageSketch) -> float:
    """How alike the coarse pictures of two pages are (correlation), in [-1, 1]; 0 where one has none."""
    first, second = one.ink(), other.ink()
    if len(first) != len(second) or not len(first) or not first.std() or not second.std():
        return 0.0
    return round(float(np.corrcoef(first, second)[0, 1]), 3)


def _ink_share(page: PageSketch) -> float:
    ink = page.ink()
    return round(float(ink.mean()), 3) if len(ink) else 0.0


def _alike(one: str, other: str) -> float:
    """How alike two texts are, in [0, 1]; -1 where one is empty."""
    return fuzz.ratio(one, other) / 100 if one and other else -1.0
