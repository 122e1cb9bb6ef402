"""Checks over the rows of a table: each row multiplied out, a running balance, the sum of a column."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from decimal import Decimal, InvalidOperation
from functools import lru_cache
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from zestpail.core.checks.check import Check, Row, lower
from zestpail.core.checks.slips import likely_slip
from zestpail.core.checks.verdict import DocumentValues, Offer, Verdict
from zestpail.core.setting import Setting, declared

SHOWN = 3
"""Rows that a failed check names."""


class _OverRows(Check):
    table: str = Field(min_length=1)

    @property
    def touches(self) -> tuple[str, ...]:
        return ()

    @property
    def columns(self) -> tuple[tuple[str, str], ...]:
        """The columns that it speaks of, each with its table."""
        raise NotImplementedError

    @classmethod
    def from_form(cls, values: Mapping[str, Any]) -> dict[str, Any]:
        """Columns are asked for as “table.column”; those of one check must be of one table."""
        columns = {name for name, setting in declared(cls).items() if setting.widget in ("column", "columns")}
        tables: dict[str, None] = {}

        def short(reference: str) -> str:
            table, _, column = reference.partition(".")
            tables[table] = None
            return column

        plain = {
            name: (tuple(map(short, value)) if isinstance(value, tuple) else short(value)) if name in columns else value
            for name, value in values.items()
        }
        if len(tables) > 1:
            raise ValueError("the columns of one check must be of one table")
        return {**plain, "table": next(iter(tables), "")}


class RowProduct(_OverRows):
    """In every row the columns in ``multiply`` make the column ``equals``, but for ``tolerance``."""

    title: ClassVar[str] = "every row multiplies out"
    check: Literal["row_product"] = "row_product"
    multiply: Annotated[tuple[str, ...], Setting("this times this", "columns", count=2)] = Field(min_length=2)
    equals: Annotated[str, Setting("makes", "column")] = Field(min_length=1)
    tolerance: Decimal = Decimal("0.02")

    @property
    def id(self) -> str:
        return f"row_product:{self.table}.{self.equals}"

    def row_problem(self, before: Row | None, row: Row, names: Mapping[str, str]) -> str:  # noqa: ARG002 - by itself
        if self.holds(row) is not False:
            return ""
        product = " × ".join(lower(names.get(f"{self.table}.{key}", key)) for key in self.multiply)
        return f"{product} ≠ {lower(names.get(f'{self.table}.{self.equals}', self.equals))}"

    @property
    def columns(self) -> tuple[tuple[str, str], ...]:
        return tuple((self.table, key) for key in (*self.multiply, self.equals))

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        product = " × ".join(names.get(f"{self.table}.{key}", key) for key in self.multiply)
        return f"In every row {lower(product)} makes {lower(names.get(f'{self.table}.{self.equals}', self.equals))}."

    def holds(self, row: Row) -> bool | None:
        """Whether it does in a row; None where a value is missing."""
        factors, stated = [number(row.get(key)) for key in self.multiply], number(row.get(self.equals))
        if stated is None or any(factor is None for factor in factors):
            return None
        product = Decimal(1)
        for factor in factors:
            product *= factor or 0
        return abs(product - stated) <= self.tolerance

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Which rows it fails in; None where it can be applied to none."""
        results = [(at, self.holds(row)) for at, row in enumerate(document.tables.get(self.table, ()), start=1)]
        failed = [at for at, held in results if held is False]
        if all(held is None for _, held in results):
            return None
        product = " × ".join(lower(document.name(f"{self.table}.{key}")) for key in self.multiply)
        makes = f"{product} makes {lower(document.name(f'{self.table}.{self.equals}'))}"
        message = f"In every row {makes}." if not failed else f"In {_rows(failed)} this is not so: {makes}."
        return self.verdict(not failed, message)


class RunningBalance(_OverRows):
    """In every row the balance is the one before it, with ``add`` added and ``subtract`` taken off."""

    title: ClassVar[str] = "a balance runs from row to row"
    check: Literal["running_balance"] = "running_balance"
    balance: Annotated[str, Setting("balance", "column")] = Field(min_length=1)
    add: Annotated[str, Setting("plus", "column")] = ""
    subtract: Annotated[str, Setting("less", "column")] = ""
    tolerance: Decimal = Decimal("0.005")

    @property
    def id(self) -> str:
        return f"running_balance:{self.table}.{self.balance}"

    def row_problem(self, before: Row | None, row: Row, names: Mapping[str, str]) -> str:
        if not before or self.holds(before, row) is not False:
            return ""
        return f"{lower(names.get(f'{self.table}.{self.balance}', self.balance))} does not follow from the row before"

    @property
    def columns(self) -> tuple[tuple[str, str], ...]:
        return tuple((self.table, key) for key in (self.balance, self.add, self.subtract) if key)

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        parts = [(sign, key) for sign, key in (("plus", self.add), ("less", self.subtract)) if key]
        message = ", ".join(f"{sign} {lower(names.get(f'{self.table}.{key}', key))}" for sign, key in parts)
        balance = lower(names.get(f"{self.table}.{self.balance}", self.balance))
        return f"In every row the {balance} is the one before it, {message}."

    def change(self, row: Row) -> Decimal | None:
        """By how much a row changes the balance; None where it does not say."""
        added, taken = number(row.get(self.add)), number(row.get(self.subtract))
        return None if added is None and taken is None else (added or Decimal(0)) - (taken or Decimal(0))

    def holds(self, before: Row, row: Row) -> bool | None:
        """Whether a row's balance follows from that of the row before; None where a value is missing."""
        last, now, change = number(before.get(self.balance)), number(row.get(self.balance)), self.change(row)
        if last is None or now is None or change is None:
            return None
        return abs(last + change - now) <= self.tolerance

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Which rows do not follow from the one before; None where it can be applied to none."""
        rows = document.tables.get(self.table, ())
        results = [(at, self.holds(rows[at - 2], rows[at - 1])) for at in range(2, len(rows) + 1)]
        if all(held is None for _, held in results):
            return None
        failed = [at for at, held in results if held is False]
        balance = lower(document.name(f"{self.table}.{self.balance}"))
        message = f"Every {balance} follows from the one before."
        if failed:
            message = f"The {balance} in {_rows(failed)} does not follow from the one before."
        return self.verdict(not failed, message)


class ColumnSum(_OverRows):
    """The figures of a column together make a field, but for ``tolerance``."""

    title: ClassVar[str] = "a column adds up"
    check: Literal["column_sum"] = "column_sum"
    column: Annotated[str, Setting("all of", "column")] = Field(min_length=1)
    equals: Annotated[str, Setting("makes", "field")] = Field(min_length=1)
    tolerance: Decimal = Decimal("0.02")

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.equals,)

    @property
    def columns(self) -> tuple[tuple[str, str], ...]:
        return ((self.table, self.column),)

    @property
    def id(self) -> str:
        return f"column_sum:{self.table}.{self.column}={self.equals}"

    @property
    def proves(self) -> tuple[str, ...]:
        return (self.equals,)

    @property
    def column_total(self) -> tuple[str, str]:
        return (self.column, self.equals)

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        column = lower(names.get(f"{self.table}.{self.column}", self.column))
        return f"The {column} of all rows together makes {lower(names[self.equals])}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether the sum comes out; None where the field or all of the column is missing."""
        cells = [number(row.get(self.column)) for row in document.tables.get(self.table, ())]
        stated = number(document.values.get(self.equals))
        if stated is None or not cells or any(cell is None for cell in cells):
            return None
        expected = sum((cell for cell in cells if cell is not None), Decimal(0))
        column, field = lower(document.name(f"{self.table}.{self.column}")), lower(document.name(self.equals))
        if abs(expected - stated) <= self.tolerance:
            message = f"The {column} of {len(cells)} rows makes {expected:,.2f}, and so says {field}."
            return self.verdict(True, message)
        apart = f"{abs(stated - expected):,.2f} {'more' if stated > expected else 'less'}"
        message = f"The {column} of {len(cells)} rows makes {expected:,.2f}, {field} says {stated:,.2f} ({apart})."
        offer = Offer(field=self.equals, value=f"{expected:.2f}", text=f"use {expected:,.2f}")
        slip = likely_slip(stated, expected)
        return self.verdict(False, f"{message} {slip}".strip(), offers=(offer,))


@lru_cache(maxsize=8192)
def number(value: str | None) -> Decimal | None:
    """The number that a cell holds; None where it holds none."""
    try:
        found = Decimal(value or "")
    except InvalidOperation:
        return None
    return found if found.is_finite() else None


def _rows(numbers: list[int]) -> str:
    listed = ", ".join(map(str, _some(numbers)))
    more = f" and {len(numbers) - SHOWN} more" if len(numbers) > SHOWN else ""
    return f"row{'s' if len(numbers) > 1 else ''} {listed}{more}"


def _some(numbers: list[int]) -> Iterator[int]:
    yield from numbers[:SHOWN]
