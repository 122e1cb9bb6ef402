"""A table as it was found in a document: rows of cells, each with its place on the page."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.geometry import Box
from zestpail.core.tables.table import Grid

LEAST_APART = 4.0
"""Points between two dividers."""


class Cell(BaseModel):
    """One cell; ``value`` is normalised by its column's kind, None where nothing of that kind stands there."""

    model_config = ConfigDict(frozen=True)

    value: str | None = None
    raw: str = ""
    confidence: float = 0.0
    page: int | None = None
    """Number of the page in the document, from 0."""
    box: Box | None = None
    reason: str = ""
    """Why the value is not what was read at first, if it is not."""


class Row(BaseModel):
    """One row, and the piece of page that it was read from."""

    model_config = ConfigDict(frozen=True)

    page: int
    box: Box
    cells: dict[str, Cell]
    proven: bool | None = None
    """Whether the arithmetic over it holds; None where there is none."""

    def value(self, column: str) -> str | None:
        """The value in that column."""
        return self.cells[column].value if column in self.cells else None


class Strip(BaseModel):
    """Where the table lies on one page: its dividers and what stands between them, in points."""

    model_config = ConfigDict(frozen=True)

    page: int
    box: Box
    dividers: tuple[float, ...]
    columns: tuple[str, ...]
    """The columns between the dividers; "" for what belongs to none."""
    header: str = ""
    """The header line as it was read."""
    left: float = 0.0
    """Where the header line begins."""
    right: float = 0.0
    """From there to where the last column ends; 0 where it goes to the edge of the page."""

    @property
    def grid(self) -> Grid:
        """The dividers as they can be kept for this layout."""
        return self._saved(self.dividers, self.columns)

    def moved(self, number: int, x: float) -> Grid:
        """The grid with one divider moved to ``x`` (points), as far as its neighbours let it."""
        bounds = (self.box.x0, *self.dividers, self.box.x1)
        place = min(max(x, bounds[number] + LEAST_APART), bounds[number + 2] - LEAST_APART)
        return self._saved([place if at == number else there for at, there in enumerate(self.dividers)], self.columns)

    def divided(self, x: float, column: str) -> Grid | None:
        """The grid with a divider more, right of which ``column`` begins; None beside the table or near another."""
        bounds = (self.box.x0, *self.dividers, self.box.x1)
        if any(abs(x - bound) < LEAST_APART for bound in bounds) or not bounds[0] < x < bounds[-1]:
            return None
        at = sum(divider < x for divider in self.dividers)
        columns = (*self.columns[: at + 1], column, *self.columns[at + 1 :])
        return self._saved(sorted((*self.dividers, x)), columns)

    def joined(self, number: int) -> Grid:
        """The grid with one divider less: what stood right of it belongs to the column on its left, if that is one."""
        left, right = self.columns[number : number + 2]
        columns = (*self.columns[:number], left or right, *self.columns[number + 2 :])
        return self._saved([there for at, there in enumerate(self.dividers) if at != number], columns)

    def _saved(self, dividers: Sequence[float], columns: tuple[str, ...]) -> Grid:
        places = tuple(round(divider - self.left, 1) for divider in dividers)
        return Grid(header=self.header, left=self.left, dividers=places, columns=columns, right=self.right)


class LeftOut(BaseModel):
    """A line within the table that is no row, and why."""

    model_config = ConfigDict(frozen=True)

    page: int
    box: Box
    text: str
    why: str


class ExtractedTable(BaseModel):
    """All rows of one table of a document."""

    model_config = ConfigDict(frozen=True)

    key: str
    rows: tuple[Row, ...] = ()
    strips: tuple[Strip, ...] = ()
    left_out: tuple[LeftOut, ...] = ()
    rows_begin: str = ""
    """What was taken to make a row begin, in a sentence."""

    @property
    def values(self) -> tuple[dict[str, str | None], ...]:
        """The rows as plain values by column."""
        return tuple({key: cell.value for key, cell in row.cells.items()} for row in self.rows)
