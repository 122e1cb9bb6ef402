"""A table as it was found in a document: rows of cells, each with its place on the page."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.geometry import Box


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
    head: str = ""
    """The header line as it was read."""
    left: float = 0.0
    """Where the header line begins."""


class LeftOut(BaseModel):
    """A line within the table that is no row, and why."""

    model_config = ConfigDict(frozen=True)

    page: int
    box: Box
    text: str
    why: str


class CapturedTable(BaseModel):
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
