"""A reference list: what its columns say, its entries, and where entries are looked for."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, Protocol

from pydantic import BaseModel, ConfigDict, Field, model_validator

Says = Literal[
    "", "identifier", "name", "street", "postcode", "place", "country", "vat_number", "iban", "email", "phone",
    "decimal_mark", "date_order", "party", "amount", "line_code", "line_text", "line_quantity", "line_price",
]  # fmt: skip
SAYS: Mapping[Says, str] = {
    "": "something to look up",
    "identifier": "what identifies the entry",
    "name": "the name",
    "street": "the street",
    "postcode": "the postcode",
    "place": "the place",
    "country": "the country",
    "vat_number": "the VAT number",
    "iban": "the bank account (IBAN)",
    "email": "the e-mail address or web site",
    "phone": "the telephone number",
    "decimal_mark": "the sign before cents (a point or a comma)",
    "date_order": "which comes first in dates (the day or the month)",
    "party": "whose it is, by the number in another list",
    "amount": "what it comes to without tax",
    "line_code": "the article of a line",
    "line_text": "what a line is for",
    "line_quantity": "the quantity of a line",
    "line_price": "the price of a line",
}
OF_LINES: tuple[Says, ...] = ("line_code", "line_text", "line_quantity", "line_price")
"""What is said of a line, where an entry has several."""
TRACED: tuple[Says, ...] = ("vat_number", "iban", "email", "phone")
"""What by itself can tell on a paper which entry it speaks of, in the order of trust."""


class ListColumn(BaseModel):
    """One column of a list, and what of an entry it says."""

    model_config = ConfigDict(frozen=True)

    key: str = Field(pattern=r"^[a-z][a-z0-9_]*$")
    name: str = Field(min_length=1, max_length=80)
    says: Says = ""

    @property
    def sentence(self) -> str:
        """The column as a person reads it."""
        return f"“{self.name}” is {SAYS[self.says]}."


class ReferenceList(BaseModel):
    """What a list is called and what its columns say. Its rows are kept apart and are never changed by us."""

    model_config = ConfigDict(frozen=True)

    key: str = Field(pattern=r"^[a-z][a-z0-9-]*$")
    name: str = Field(min_length=1, max_length=80)
    columns: tuple[ListColumn, ...] = Field(min_length=1)
    lined: bool = False
    """Whether rows with the same identifier are one entry with several lines."""

    @model_validator(mode="after")
    def _consistent(self) -> ReferenceList:
        keys = [column.key for column in self.columns]
        if len(set(keys)) != len(keys):
            raise ValueError("two columns have the same key")
        if len(self.saying("identifier")) > 1:
            raise ValueError("only one column can identify an entry")
        return self

    def saying(self, says: Says) -> tuple[ListColumn, ...]:
        """The columns that say it."""
        return tuple(column for column in self.columns if column.says == says)

    def column(self, key: str) -> ListColumn | None:
        """The column of that key."""
        return next((column for column in self.columns if column.key == key), None)

    @property
    def identifying(self) -> ListColumn:
        """The column that tells entries apart: the first one where none is said to."""
        return next(iter(self.saying("identifier")), self.columns[0])


@dataclass(frozen=True)
class Entry:
    """One row of a list, and what people said it is called besides."""

    list: ReferenceList
    key: str
    """What identifies it."""
    values: Mapping[str, str]
    """By column, as the list has it."""
    also: tuple[tuple[Says, str], ...] = field(default=())
    """What else is said of it: names and numbers that a person told to be its own."""
    lines: tuple[Mapping[str, str], ...] = ()
    """Its lines, by column, where it has several."""

    def said(self, says: Says) -> tuple[str, ...]:
        """All that is said of one thing."""
        own = [self.values.get(column.key, "").strip() for column in self.list.saying(says)]
        return tuple(dict.fromkeys(text for text in (*own, *(t for s, t in self.also if s == says)) if text))

    def in_column(self, key: str) -> tuple[str, ...]:
        """What stands in the column, and what else was told to be meant by it."""
        column = self.list.column(key)
        own = self.values.get(key, "").strip()
        more = [text for says, text in self.also if column and column.says and says == column.says]
        return tuple(dict.fromkeys(text for text in (own, *more) if text))

    @cached_property
    def names(self) -> tuple[str, ...]:
        return self.said("name")

    def lines_said(self) -> tuple[dict[Says, str], ...]:
        """Its lines, by what is said of them."""
        columns = [(column.says, column.key) for column in self.list.columns if column.says in OF_LINES]
        return tuple({says: line.get(key, "") for says, key in columns} for line in self.lines)

    @property
    def label(self) -> str:
        """The entry as a person knows it."""
        name = next(iter(self.names), "")
        return f"{self.key} {name}" if name and name != self.key else self.key


class ListSource(Protocol):
    """Where the entries of lists are looked for."""

    def __hash__(self) -> int: ...

    def model(self, key: str) -> ReferenceList | None:
        """The list of that key; None if there is none."""

    def revision(self, key: str) -> int:
        """The number of the revision that is looked into; 0 where nothing is counted."""

    def entry(self, key: str, identifier: str) -> Entry | None:
        """The entry that the identifier names."""

    def having(self, key: str, column: str, value: str) -> Sequence[Entry]:
        """The entries that have this in the column, written in any way."""

    def traced(self, key: str, tokens: Collection[str]) -> Sequence[Entry]:
        """The entries that have one of these tokens (see :mod:`zestpail.core.reference.traces`)."""

    def named_like(self, key: str, texts: Sequence[str], most: int) -> Sequence[Entry]:
        """The entries whose names are most like one of the texts, at most so many."""
