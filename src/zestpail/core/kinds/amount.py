"""Amounts of money: 1,316.40 · 1.316,40 · 1 316,40 · 1'316.40 · 1,890.- · (12.50) · 12.50-."""

from __future__ import annotations

import re
from collections.abc import Iterator
from decimal import Decimal
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, SheetFormat, Span, repaired
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

LOST_MARK = 0.5
"""Shape left to figures without decimals that may have lost their decimal mark: only a sum can prove it."""

ONE_DECIMAL = 0.6
"""Shape left to an amount with a single decimal, as programs print that drop the last zero: 640.0."""
LONGEST_PLAIN = 9
"""Figures of an amount without decimals."""
_D = r"[0-9OolISB]"
_GROUPS = rf"(?:{_D}{{1,3}}(?:[.,'’ ]{_D}{{3}})+|{_D}+)"
_AMOUNT = re.compile(
    rf"(?<![\w.,/’'-])(?P<minus>[-–(] ?)?(?P<whole>{_GROUPS})(?P<rest>[.,] ?{_D}{{2}}|[.,]{_D}|[.,][-–]{{1,2}})?"
    rf"(?P<after>-|\))?(?![\w/’']|[.,]\w|-\w| ?[%‰])"
)


class Amount(Kind):
    """An amount of money, kept with two decimals and a point."""

    money: ClassVar[bool] = True
    in_totals: ClassVar[bool] = True
    sheet: ClassVar[SheetFormat] = "money"
    proposal_rank: ClassVar[int] = 6
    numeric: ClassVar[bool] = True
    kind: Literal["amount"] = "amount"

    @property
    def words(self) -> str:
        return "an amount"

    def meant_by(self, text: str, style: Style) -> bool:
        return bool(re.search(r"\d[.,]\d\d\D{0,4}$", text) and self.parse(text, style))

    def in_cell(self, text: str, style: Style) -> str | None:
        if " " in text:
            closed = self.best_span(text.replace(" ", ""), style)  # an amount that was torn in two
            if closed and closed.shape == 1.0 and closed.end - closed.start == len(closed.line.text):
                return closed.value
        return super().in_cell(text, style)

    def spot(self, line: Line, style: Style) -> Iterator[Span]:
        for m in _AMOUNT.finditer(line.text):
            if not any(c.isdigit() for c in m[0]):
                continue
            whole, rest, shape = m["whole"], m["rest"], 1.0
            if rest is None and _no_money(whole):
                continue
            if rest is None:
                whole, rest, shape = _undivided(whole, style)
            figures, left = repaired(re.sub(r"[^\w]", "", whole))
            cents, left_cents = repaired(re.sub(r"[^\w]", "", rest or "") or "00")
            if len(cents) == 1:
                cents, shape = cents + "0", ONE_DECIMAL
            if len(figures) > 12:
                continue
            shape *= left * left_cents
            minus = "-" if m["minus"] or m["after"] == "-" else ""
            value = Decimal(f"{minus}{figures}.{cents[:2]}")
            yield Span(line, m.start(), m.end(), f"{value:.2f}", shape)
            if m["rest"] is None and 4 <= len(figures) <= 9 and not figures.startswith("0"):
                yield Span(line, m.start(), m.end(), f"{value / 100:.2f}", LOST_MARK * shape)

    def show(self, value: str) -> str:
        return f"{Decimal(value):,.2f}"


def _no_money(whole: str) -> bool:
    """Whether figures without decimals are no money: telephones and accounts are long, or begin with 0."""
    figures = re.sub(r"[^\w]", "", whole)
    return len(figures) > LONGEST_PLAIN or (figures.startswith("0") and len(figures) > 1)


def _undivided(whole: str, style: Style) -> tuple[str, str, float]:
    """An amount without decimals of its own: three figures after the document's decimal mark are odd."""
    header, mark, tail = whole.rpartition(style.decimal_mark)
    if mark and len(tail) == 3 and not re.search(r"[.,'’ ]", header):
        return whole, "00", 0.35
    return whole, "00", 0.6 if re.search(r"[.,'’ ]", whole) else 0.4
