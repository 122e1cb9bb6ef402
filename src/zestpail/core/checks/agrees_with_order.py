"""The check that the rows of a table are what an order has: no more of it, at the prices that were agreed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Annotated, ClassVar, Literal

from zestpail.core.checks.check import Check, lower
from zestpail.core.checks.slips import likely_slip
from zestpail.core.checks.verdict import DocumentValues, Verdict
from zestpail.core.reference.lines import Difference, Line, differences
from zestpail.core.reference.reference_list import Says
from zestpail.core.setting import Setting

MOST_TOLD = 6
"""Differences that are told one by one."""


class AgreesWithOrder(Check):
    """The rows answer the lines of the list's entry that a field names, but for a tolerance in per cent."""

    title: ClassVar[str] = "the rows agree with the lines of an order"
    check: Literal["agrees_with_order"] = "agrees_with_order"
    field: Annotated[str, Setting("the order is named by", "field")]
    list: Annotated[str, Setting("in the reference list", "list")]
    text: Annotated[str, Setting("what a row is for", "column")] = ""
    article: Annotated[str, Setting("its article", "column")] = ""
    quantity: Annotated[str, Setting("its quantity", "column")] = ""
    price: Annotated[str, Setting("its price", "column")] = ""
    tolerance: Annotated[Decimal, Setting("difference allowed, in per cent", "number")] = Decimal(0)

    @property
    def id(self) -> str:
        return f"agrees_with_order:{self.field}:{self.list}"

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.field,)

    @property
    def columns(self) -> tuple[tuple[str, str], ...]:
        named = (self.text, self.article, self.quantity, self.price)
        return tuple((table, column) for name in named if name for table, _, column in (name.partition("."),))

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        allowed = f", but for {self.tolerance.normalize():f} %" if self.tolerance else ""
        listed = self.list.replace("-", " ")
        return f"The rows are what the {lower(names[self.field])} has in the reference list “{listed}”{allowed}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether they are; None where no order was found, or there are no rows."""
        entry, rows = document.entries.get(self.list), self.rows(document.tables)
        if entry is None or not entry.lines or not rows:
            return None
        found = differences(rows, entry.lines_said(), self.tolerance / 100)
        if not found:
            return self.verdict(True, f"The rows are what {entry.label} has.", fields=())
        told = [f"row {one.row}: {_told(one)}" for one in found[:MOST_TOLD]]
        more = f"; and {len(found) - MOST_TOLD} more" if len(found) > MOST_TOLD else ""
        return self.verdict(False, f"Against the order {entry.label}, {'; '.join(told)}{more}.", fields=())

    def rows_told(self, document: DocumentValues) -> Mapping[int, str]:
        """How rows differ from the order, by their numbers from 1."""
        entry = document.entries.get(self.list)
        if entry is None or not entry.lines:
            return {}
        told: dict[int, list[str]] = {}
        for one in differences(self.rows(document.tables), entry.lines_said(), self.tolerance / 100):
            told.setdefault(one.row, []).append(_told(one))
        return {row: f"Order {entry.label}: {'; '.join(said)}." for row, said in told.items()}

    def rows(self, tables: Mapping[str, Sequence[Mapping[str, str | None]]]) -> Sequence[Line]:
        """The rows of the table, by what is said of a line."""
        table = next((table for table, _ in self.columns), "")
        return [self._line(row) for row in tables.get(table, ())]

    def _line(self, row: Mapping[str, str | None]) -> Line:
        says: dict[Says, str] = {
            "line_text": self.text,
            "line_code": self.article,
            "line_quantity": self.quantity,
            "line_price": self.price,
        }
        return {what: row.get(name.partition(".")[2]) or "" for what, name in says.items() if name}


def _told(one: Difference) -> str:
    slip = likely_slip(one.stated, one.agreed) if one.stated is not None and one.agreed is not None else ""
    return f"{one.said}{f', {one.wanted}' if one.wanted else ''}{f' ({slip[:-1].lower()})' if slip else ''}"
