"""The lines of a table's body: their words by column, and what can be read in them."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from statistics import median

from zestpail.core.kinds import Style
from zestpail.core.kinds.kind import Kind
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line
from zestpail.core.reading.page import Word
from zestpail.core.tables.found import Strip
from zestpail.core.tables.sum_lines import is_word_for_total, total
from zestpail.core.tables.table import Table
from zestpail.core.tables.tokens import box_of, tokens

SIGNS = ("-", "–", "—", "/", "+", "|")
"""What may stand alone between two words of a text."""
SIGN_GAP = 0.8
"""How far from both, in heights of print: what stands further off is a mark of its own, or a speck."""
SPECK = 0.4
"""Words lower than this share of the usual height are specks that were read as figures."""


@dataclass(frozen=True, eq=False)
class BodyLine:
    """One line of print within a table, its words by the column that they stand in ("" for none)."""

    line: Line
    words: Mapping[str, tuple[Word, ...]]
    values: Mapping[str, str]
    """What the columns of narrow kinds hold, where it is of their kind."""
    free: frozenset[str]
    """The columns of free text in which something stands."""

    @cached_property
    def box(self) -> Box:
        return around(word.box for words in self.words.values() for word in words)

    @cached_property
    def text(self) -> str:
        return " ".join(word.text for words in self.words.values() for word in words)

    @property
    def height(self) -> float:
        return self.line.height

    def raw(self, column: str) -> str:
        """What stands in a column, as it was read."""
        return " ".join(word.text for word in self.words.get(column, ()))


def value_in(kind: Kind, text: str, style: Style) -> str | None:
    """The value of a cell: all of its text, or the piece of it that fits its kind best."""
    text = re.sub(r"(?<=\d) ?[x×]$", "", text.strip(" |:;_*"))
    return kind.in_cell(text, style) if any(c.isalnum() for c in text) else None


def body_of(lines: Iterable[Line], strip: Strip, table: Table, style: Style) -> list[BodyLine]:
    """The lines within a strip of a page, top to bottom."""
    kinds = {column.key: column.kind for column in table.columns}
    lines = [line for line in lines if line.page == strip.page]
    usual = median([line.height for line in lines]) if lines else 0.0
    found = []
    for line in lines:
        if not strip.box.y0 <= line.box.cy <= strip.box.y1:
            continue
        words = _by_column([word for word in line.words if word.box.height > SPECK * usual], strip)
        if words:
            words = {
                key: several if not key or kinds[key].narrow else _with_signs(several, line)
                for key, several in words.items()
            }
            texts = {key: " ".join(word.text for word in several) for key, several in words.items()}
            values = {
                key: value
                for key, text in texts.items()
                if key and kinds[key].narrow and (value := value_in(kinds[key], text, style)) is not None
            }
            free = frozenset(key for key in texts if key and not kinds[key].narrow)
            found.append(BodyLine(line, words, values, free))
    return found


def _by_column(words: Sequence[Word], strip: Strip) -> dict[str, tuple[Word, ...]]:
    by_column: dict[str, list[Word]] = {}
    for token in tokens(words):
        place = box_of(token)
        if strip.box.x0 <= place.cx <= strip.box.x1 and any(word.text.strip("|[]_-—.:·'") for word in token):
            at = sum(place.cx > divider for divider in strip.dividers)
            by_column.setdefault(strip.columns[at], []).extend(token)
    return {key: tuple(sorted(several, key=lambda w: w.box.x0)) for key, several in by_column.items()}


def _with_signs(words: tuple[Word, ...], line: Line) -> tuple[Word, ...]:
    """The words with the signs that stand alone between two of them: "Consulting - Strategy"."""
    signs = [word for word in line.words if word.text in SIGNS and word not in words]
    gap = SIGN_GAP * line.height
    between = [
        sign
        for sign in signs
        if any(0 <= sign.box.x0 - word.box.x1 < gap for word in words)
        and any(0 <= word.box.x0 - sign.box.x1 < gap for word in words)
    ]
    return tuple(sorted((*words, *between), key=lambda word: word.box.x0)) if between else words


def says_total_only(line: BodyLine) -> bool:
    """Whether all its text is a word for the sum of all, whatever numbers stand beside it."""
    texts = [line.raw(key) for key in line.free]
    return bool(texts) and all(is_word_for_total(text) for text in texts)


def is_total(line: BodyLine, table: Table) -> bool:
    """Whether it says a word for a sum and has amounts at most: no date, no quantity, no code."""
    kinds = {column.key: column.kind for column in table.columns}
    others = [key for key in line.values if not kinds[key].in_totals and "%" not in line.text]
    if others:
        return False
    pieces = [line.text, *(line.raw(key) for key in line.words)]
    return any(total(piece) for piece in pieces)
