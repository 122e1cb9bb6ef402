"""Amounts that stand in a row of a found table are its own, hardly those of the whole document."""

from __future__ import annotations

from collections.abc import Sequence

from zestpail.core.finders import Candidate
from zestpail.core.tables.found import ExtractedTable, Row

IN_ROW = 0.35
"""What is left of the score of an amount in a row: it goes to a person even if nothing else is found."""
MOST_SURE = 0.85
"""How sure one can be that it is of the whole document all the same: a person looks at it."""
LEAST_FIGURES = 2
"""Cells with figures that make a row one: a line of sums that was taken for a row has fewer."""


def apart_from_rows(candidates: Sequence[Candidate], tables: Sequence[ExtractedTable]) -> tuple[Candidate, ...]:
    """The candidates, those that stand in a row of a table with less of a score."""
    rows = [row for table in tables for row in table.rows if _figures(row) >= LEAST_FIGURES]
    return tuple(_less(candidate) if _in_any(candidate, rows) else candidate for candidate in candidates)


def _in_any(candidate: Candidate, rows: Sequence[Row]) -> bool:
    return not candidate.made and any(
        row.page == candidate.page and row.box.covers_centre_of(candidate.box) for row in rows
    )


def _less(candidate: Candidate) -> Candidate:
    return candidate.model_copy(update={"parts": {**candidate.parts, "row": IN_ROW}, "most_sure": MOST_SURE})


def _figures(row: Row) -> int:
    return sum(_figure(cell.raw) for cell in row.cells.values())


def _figure(text: str) -> bool:
    """Whether it is a number more than words: “R$ 826,20” is, “45 pcs” is not."""
    return sum(c.isdigit() for c in text) > sum(c.isalpha() for c in text)
