"""How a table is described in a document type: its columns, what makes a row begin, and layouts shown by hand."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from zestpail.core.kinds import AnyKind

Part = Literal["", "first_line", "other_lines", "figures", "letters"]
PARTS: dict[Part, str] = {
    "": "",
    "first_line": "the first line",
    "other_lines": "the other lines",
    "figures": "the figures",
    "letters": "the letters",
}
Mark = Literal["as_document", "point", "comma"]
MARKS: dict[Mark, str] = {"as_document": "as the document writes them", "point": "a point", "comma": "a comma"}
"""What stands before the decimals of a column's numbers."""
By = Literal["column_text", "ruled_line", "gap", "every_line"]
Stands = Literal["head", "foot"]


class Column(BaseModel):
    """One column: what its header may say and what kind of values it holds, wherever it stands."""

    model_config = ConfigDict(frozen=True)

    key: str = Field(pattern=r"^[a-z][a-z0-9_]*$")
    name: str = Field(min_length=1)
    kind: AnyKind
    headers: tuple[str, ...] = ()
    meanings: tuple[str, ...] = ()
    """What its header may mean: the usual words for that, in many languages, are taken for headers too."""
    needed: bool = False
    """Whether a row without it is doubtful."""
    of: str = ""
    """The column whose cells it is cut from, where it has no place of its own."""
    part: Part = ""
    """Which part of those cells it takes."""
    decimals: Mark = "as_document"
    """What stands before decimals; for a document that writes them in two ways."""


class RowsBegin(BaseModel):
    """What makes a row begin; worked out from the page unless a person showed it."""

    model_config = ConfigDict(frozen=True)

    by: By = "column_text"
    column: str = ""
    """The column whose text there is once in every row, for ``column_text``."""
    stands: Stands = "head"
    """Whether that text stands on the row's first or on its last line."""

    def sentence(self, names: Mapping[str, str]) -> str:
        """It as a person reads it."""
        if self.by == "column_text":
            text = f"text in the column {names.get(self.column, self.column)}"
            return f"a row begins at {text}" if self.stands == "head" else f"a row ends at {text}"
        return {
            "ruled_line": "a row begins under every ruled line",
            "gap": "a row begins after every wider gap",
            "every_line": "every line is a row",
        }[self.by]


class Grid(BaseModel):
    """Column dividers moved by hand for one layout, which is known again by the text of its header line."""

    model_config = ConfigDict(frozen=True)

    header: str
    """The header line as it was read on the sample; empty for a layout without one, which is taken where none is."""
    left: float
    """Where the header line began, or the first column where there is no header, in points."""
    dividers: tuple[float, ...]
    """From ``left`` to each divider, in points, left to right."""
    columns: tuple[str, ...]
    """The columns between the dividers, one more than these; "" for what is left out."""
    right: float = 0
    """From ``left`` to where the last column ends, in points; 0 where it goes to the edge of the page."""

    @model_validator(mode="after")
    def _in_order(self) -> Grid:
        if len(self.columns) != len(self.dividers) + 1:
            raise ValueError("a grid has one column more than dividers")
        if list(self.dividers) != sorted(self.dividers):
            raise ValueError("dividers must go from left to right")
        return self


WIDEST_GAP = 20
"""Heights of a line that a gap can be asked to have to end a table."""


class Table(BaseModel):
    """A table of a document type."""

    model_config = ConfigDict(frozen=True)

    key: str = Field(pattern=r"^[a-z][a-z0-9_]*$")
    name: str = Field(min_length=1)
    columns: tuple[Column, ...] = Field(min_length=1)
    rows_begin: RowsBegin | None = None
    """None lets every document decide."""
    ends_at: str = ""
    """A landmark under which no row belongs to it."""
    ends_at_words: tuple[str, ...] = ()
    """What a line begins with at which the table ends."""
    ends_after_gap: float = Field(default=0, ge=0, le=WIDEST_GAP)
    """How wide a gap, in heights of a line, ends the table; 0 where no gap does."""
    leave_out: tuple[str, ...] = ()
    """Words of lines that are no rows, besides carried-forward, subtotal and total lines."""
    grids: tuple[Grid, ...] = ()

    @model_validator(mode="after")
    def _consistent(self) -> Table:
        keys = [column.key for column in self.columns]
        if len(set(keys)) != len(keys):
            raise ValueError("two columns have the same key")
        for column in self.columns:
            if column.of and (column.of not in keys or column.of == column.key):
                raise ValueError(f"the column {column.name} is cut from a column that is not there")
        return self

    @property
    def names(self) -> dict[str, str]:
        return {column.key: column.name for column in self.columns}

    def column(self, key: str) -> Column:
        """The column of that key. Raises KeyError."""
        for column in self.columns:
            if column.key == key:
                return column
        raise KeyError(key)

    @property
    def sentence(self) -> str:
        """The table as a person reads it."""
        headed = ", ".join(f"{c.name}" + (f" (“{c.headers[0]}”)" if c.headers else "") for c in self.columns)
        begin = (
            self.rows_begin.sentence(self.names) if self.rows_begin else "what makes a row begin is seen on each page"
        )
        ends = [self.ends_at] if self.ends_at else []
        ends += [f"a line that begins with “{words}”" for words in self.ends_at_words]
        ends += ["a wide gap"] if self.ends_after_gap else []
        end = f"; it ends at {' or '.join(ends)}" if ends else ""
        return f"Take the rows with {headed}; {begin}{end}."
