"""Tables against truth: rows aligned in order, and how many of their cells are right.

Rows are aligned so that the most cells agree (Needleman & Wunsch 1970 without a price for gaps); a cell counts as
found if it has a value, as there if the truth has one, and as right if both say the same.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from zestpail.core.evaluation.measure import Tally
from zestpail.core.kinds.equality import same

Cells = Mapping[str, str | None]


def cell_tally(found: Sequence[Cells], wanted: Sequence[Cells]) -> Tally:
    """How many cells are right, found and there, over the columns that the truth speaks of."""
    columns = list(dict.fromkeys(key for row in wanted for key in row))
    right = sum(_agree(found[a], wanted[b], columns) for a, b in aligned(found, wanted, columns))
    return Tally(
        right=right,
        found=sum(bool(row.get(key)) for row in found for key in columns),
        there=sum(bool(row.get(key)) for row in wanted for key in columns),
    )


def aligned(found: Sequence[Cells], wanted: Sequence[Cells], columns: Sequence[str]) -> list[tuple[int, int]]:
    """The pairs of rows, found and wanted, in order, that agree in the most cells together."""
    best = [[0] * (len(wanted) + 1) for _ in range(len(found) + 1)]
    agree = [[_agree(row, other, columns) for other in wanted] for row in found]
    for a in range(len(found) - 1, -1, -1):
        for b in range(len(wanted) - 1, -1, -1):
            best[a][b] = max(best[a + 1][b], best[a][b + 1], best[a + 1][b + 1] + agree[a][b])
    pairs, a, b = [], 0, 0
    while a < len(found) and b < len(wanted):
        if best[a][b] == best[a + 1][b + 1] + agree[a][b]:
            pairs.append((a, b))
            a, b = a + 1, b + 1
        elif best[a][b] == best[a + 1][b]:
            a += 1
        else:
            b += 1
    return pairs


def _agree(row: Cells, other: Cells, columns: Sequence[str]) -> int:
    return sum(bool(other.get(key)) and same(row.get(key), other.get(key)) for key in columns)
