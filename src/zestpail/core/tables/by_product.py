"""Line items without any header: told by lines in which two numbers multiplied make a third."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal
from itertools import pairwise

from zestpail.core.checks.over_rows import RowProduct
from zestpail.core.kinds import Amount, Quantity, Style
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line
from zestpail.core.reading.page import Word
from zestpail.core.tables.body import value_in
from zestpail.core.tables.dividers import between
from zestpail.core.tables.found import Strip
from zestpail.core.tables.table import Table

MOST_NUMBERS = 8
"""Numbers of a line that are tried as quantity, price and amount: the tries grow with their cube."""
LEAST_CODES = 0.75
"""The share of rows whose first word looks like a code, for it to be a column of its own."""


@dataclass(frozen=True)
class _Product:
    """A line with the words of its factors and of what they make."""

    line: Line
    places: dict[str, tuple[Word, ...]]

    @property
    def others(self) -> list[Word]:
        taken = {id(word) for words in self.places.values() for word in words}
        return [word for word in self.line.words if id(word) not in taken]


def multiplied_strip(
    lines: Sequence[Line], table: Table, check: RowProduct, width: float, style: Style
) -> Strip | None:
    """Where on a page rows multiply out, with their columns; None where no line does."""
    found = [product for line in lines if (product := _product(line, check, style))]
    if not found:
        return None
    found = _priced(found, check)
    places = {key: around(w.box for p in found for w in p.places[key]) for key in (*check.multiply, check.equals)}
    for key, words in _texts(found, table):
        places[key] = around(word.box for word in words)
    ordered = sorted(places, key=lambda key: places[key].cx)
    if any(one.x1 > other.x0 + 6 for one, other in pairwise([places[key] for key in ordered])):
        return None  # columns that lie over each other are none
    area = around(product.line.box for product in found)
    dividers = between([places[key] for key in ordered], [product.line for product in found], width)
    low = max((line.box.y1 for line in lines if line.box.y1 < area.y0), default=0.0)
    return Strip(page=found[0].line.page, box=Box(area.x0 - 6, max(low, area.y0 - 2), area.x1 + 6, 10_000.0),
                 dividers=dividers, columns=tuple(ordered), left=area.x0)  # fmt: skip


def _product(line: Line, check: RowProduct, style: Style) -> _Product | None:
    """The last number of the line as a product of two before it; None where it is none."""
    numbers = list(_numbers(line, style))[-MOST_NUMBERS:]
    if len(numbers) < 3 or len(check.multiply) != 2:
        return None
    words, product = numbers[-1]
    if Decimal(product) == 0:
        return None
    for at in range(len(numbers) - 2, 0, -1):
        for before in range(at):
            first, second = Decimal(numbers[before][1]), Decimal(numbers[at][1])
            if abs(first * second - Decimal(product)) <= check.tolerance and first * second:
                quantity, price = check.multiply
                times = _with_times(line, numbers[before][0])
                return _Product(line, {quantity: times, price: numbers[at][0], check.equals: words})
    return None


def _priced(found: Sequence[_Product], check: RowProduct) -> list[_Product]:
    """The products, their factors in the other order where only the first one has decimals: it is the price."""
    quantity, price = check.multiply

    def parted(key: str) -> list[bool]:
        return [any(c in word.text for c in ".,'’" for word in product.places[key]) for product in found]

    if not all(parted(quantity)) or any(parted(price)):
        return list(found)
    swapped = {quantity: price, price: quantity}
    return [
        _Product(product.line, {swapped.get(key, key): words for key, words in product.places.items()})
        for product in found
    ]


def _with_times(line: Line, words: tuple[Word, ...]) -> tuple[Word, ...]:
    """The words of a quantity with the sign for "times" after it."""
    at = next(at for at, word in enumerate(line.words) if word is words[-1])
    after = line.words[at + 1 : at + 2]
    return (*words, *after) if after and after[0].text in ("x", "×", "X") else words


def _numbers(line: Line, style: Style) -> Iterator[tuple[tuple[Word, ...], str]]:
    """The numbers of a line with their words, left to right: amounts, which may be torn in two, and quantities."""
    at = 0
    while at < len(line.words):
        pair = line.words[at : at + 2]
        torn = len(pair) == 2 and pair[0].text.isdigit() and pair[1].box.x0 - pair[0].box.x1 < 0.6 * line.height
        whole = value_in(Amount(), " ".join(word.text for word in pair), style) if torn else None
        if whole and len(pair[1].text) > 2 and any(c in ".,'’" for c in pair[1].text):
            yield pair, whole
            at += 2
            continue
        word = line.words[at]
        kind = Amount() if any(c in ".,'’" for c in word.text) else Quantity()
        value = value_in(kind, word.text, style)
        if value is not None and sum(c.isdigit() for c in word.text) >= 0.6 * len(word.text.strip("x× ")):
            yield (word,), value
        at += 1


def _texts(found: Sequence[_Product], table: Table) -> Iterator[tuple[str, list[Word]]]:
    """The words that are no numbers, given to the column of text, and to that of codes if each row begins with one."""
    text = next((c for c in table.columns if not c.kind.narrow and c.needed), None)
    code = next((c for c in table.columns if c.kind.identifies), None)
    others = [product.others for product in found]
    if text is None or not all(others):
        return
    firsts = [words[0] for words in others]
    coded = sum(any(c.isdigit() for c in w.text) and len(w.text) > 2 for w in firsts) >= LEAST_CODES * len(firsts)
    if code and coded and all(len(words) > 1 for words in others):
        yield code.key, firsts
        others = [words[1:] for words in others]
    yield text.key, [word for words in others for word in words]
