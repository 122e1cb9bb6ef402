"""The lines of a paper held against the lines of an order: which answers which, and where they differ."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation

from rapidfuzz import fuzz

from zestpail.core.landmarks.labels import folded
from zestpail.core.reference.reference_list import Says

Line = Mapping[Says, str]
ALIKE = 0.55
"""How alike two lines must be, in [0, 1], for one to answer the other."""
_COUNTS: Mapping[Says, float] = {"line_code": 0.35, "line_text": 0.4, "line_price": 0.15, "line_quantity": 0.1}
"""What each counts for the likeness of two lines, where both say it."""


@dataclass(frozen=True)
class Difference:
    """A line of the paper, from 1, and how it differs from the order's."""

    row: int
    said: str
    wanted: str
    stated: Decimal | None = None
    agreed: Decimal | None = None
    """The two figures, where it is a price."""


def pairs(rows: Sequence[Line], lines: Sequence[Line]) -> dict[int, int]:
    """By line of the paper, the line of the order that it answers: the most alike first, each once."""
    likely = sorted(
        ((likeness, row, line) for row, one in enumerate(rows) for line, other in enumerate(lines)
         if (likeness := _alike(one, other)) >= ALIKE),
        key=lambda found: (-found[0], abs(found[1] - found[2])),
    )  # fmt: skip
    taken: dict[int, int] = {}
    for _, row, line in likely:
        if row not in taken and line not in taken.values():
            taken[row] = line
    return taken


def share_answered(rows: Sequence[Line], lines: Sequence[Line]) -> float:
    """How much of a paper's lines answers lines of an order, in [0, 1]."""
    return len(pairs(rows, lines)) / len(rows) if rows else 0.0


def differences(rows: Sequence[Line], lines: Sequence[Line], tolerance: Decimal) -> list[Difference]:
    """Where lines of the paper are not what was ordered: more of it, or at another price, by more than the tolerance.

    ``tolerance`` is a share, such as 0.02. Less than was ordered is no difference: the rest may follow.
    """
    taken = pairs(rows, lines)
    found: list[Difference] = []
    for at, row in enumerate(rows):
        if at not in taken:
            found.append(Difference(at + 1, f"“{_named(row)}” is not on the order", ""))
            continue
        line = lines[taken[at]]
        price, agreed = _number(row.get("line_price")), _number(line.get("line_price"))
        if price is not None and agreed is not None and abs(price - agreed) > tolerance * abs(agreed):
            found.append(Difference(at + 1, f"price {price}", f"{agreed} was agreed", price, agreed))
        many, ordered = _number(row.get("line_quantity")), _number(line.get("line_quantity"))
        if many is not None and ordered is not None and many > ordered * (1 + tolerance):
            found.append(Difference(at + 1, f"quantity {many}", f"{ordered} was ordered"))
    return found


def _alike(row: Line, line: Line) -> float:
    """How alike two lines are by all that both say."""
    said = total = 0.0
    for says, weight in _COUNTS.items():
        one, other = row.get(says, ""), line.get(says, "")
        if one and other:
            total += weight
            said += weight * _same(says, one, other)
    return said / total if total else 0.0


def _same(says: str, one: str, other: str) -> float:
    if says == "line_text":
        return float(fuzz.token_set_ratio(one.casefold(), other.casefold())) / 100
    if says == "line_code":
        return float(folded(one) == folded(other))
    return float(_number(one) == _number(other))


def _named(row: Line) -> str:
    text = row.get("line_text") or row.get("line_code") or "a row"
    return text.split("\n")[0][:60]


def _number(text: str | None) -> Decimal | None:
    try:
        number = Decimal(text) if text else None
    except InvalidOperation:
        return None
    return number.normalize() + 0 if number is not None and number.is_finite() else None
