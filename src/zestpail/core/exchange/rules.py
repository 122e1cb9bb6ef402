"""The calculation rules of EN 16931: what of an invoice's figures must come out, and which does not.

The names of rules (BR-CO-10 …) are the standard's own; its code lists and its rules on what must be there are not here.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from zestpail.core.exchange.invoice import Allowance, InvoiceData, InvoiceLine

CENT, NOTHING = Decimal("0.01"), Decimal(0)
DECIMALS = 2
"""Of amounts (BR-DEC)."""


@dataclass(frozen=True)
class Broken:
    """A rule that does not hold."""

    rule: str
    message: str
    """What does not come out, in a sentence."""


def broken_rules(invoice: InvoiceData) -> list[Broken]:
    """All calculation rules that do not hold, in the order of their names."""
    return [*_totals(invoice), *_taxes(invoice), *_lines(invoice), *_decimals(invoice)]


def _totals(invoice: InvoiceData) -> Iterator[Broken]:
    lines = sum((line.total or NOTHING for line in invoice.lines), NOTHING)
    off, on = (_of(invoice.allowances, charge=charge) for charge in (False, True))
    net = (invoice.lines_total or NOTHING) - (invoice.allowances_total or NOTHING) + (invoice.charges_total or NOTHING)
    tax = sum((share.amount or NOTHING for share in invoice.taxes), NOTHING)
    gross = (invoice.net_total or NOTHING) + (invoice.tax_total or NOTHING)
    due = (invoice.grand_total or NOTHING) - (invoice.prepaid or NOTHING) + (invoice.rounding or NOTHING)
    for rule, what, said, should in (
        ("BR-CO-10", "the lines together are", invoice.lines_total, lines),
        ("BR-CO-11", "what is taken off together is", invoice.allowances_total or NOTHING, off),
        ("BR-CO-12", "what comes on top together is", invoice.charges_total or NOTHING, on),
        ("BR-CO-13", "the total without tax is", invoice.net_total, net),
        ("BR-CO-14", "the tax of all rates together is", invoice.tax_total or NOTHING, tax),
        ("BR-CO-15", "the total with tax is", invoice.grand_total, gross),
        ("BR-CO-16", "what is to be paid is", invoice.payable, due),
    ):
        if said != should:
            yield Broken(rule, f"{what.capitalize()} {should:,.2f}, but the data say {_said(said)}.")


def _taxes(invoice: InvoiceData) -> Iterator[Broken]:
    for share in invoice.taxes:
        if share.basis is None or share.amount is None or share.rate is None:
            continue
        should = (share.basis * share.rate / 100).quantize(CENT, ROUND_HALF_UP)
        if abs(share.amount - should) > CENT:  # the standard lets programs round each line
            yield Broken("BR-CO-17", f"{share.rate:g} % of {share.basis:,.2f} is {should:,.2f}, but the data say "
                         f"{share.amount:,.2f}.")  # fmt: skip
        basis = _basis(invoice, share.category, share.rate)
        if abs(basis - share.basis) > CENT * max(len(invoice.lines), 1):
            yield Broken("BR-S-08", f"At {share.rate:g} % the lines come to {basis:,.2f}, but the data say "
                         f"{share.basis:,.2f}.")  # fmt: skip


def _basis(invoice: InvoiceData, category: str, rate: Decimal) -> Decimal:
    """What is taxed at a rate, by the lines and what is taken off and put on top of all."""
    lines = sum((line.total or NOTHING for line in invoice.lines if _at(line, category, rate)), NOTHING)
    mine = [one for one in invoice.allowances if _at(one, category, rate)]
    return lines - _of(mine, charge=False) + _of(mine, charge=True)


def _lines(invoice: InvoiceData) -> Iterator[Broken]:
    if not invoice.lines:
        yield Broken("BR-16", "The data have no line.")
    for line in invoice.lines:
        if not line.category:
            yield Broken("BR-CO-04", f"Line {line.number} says no tax category.")


def _decimals(invoice: InvoiceData) -> Iterator[Broken]:
    amounts = {
        "lines": invoice.lines_total, "without tax": invoice.net_total, "tax": invoice.tax_total,
        "with tax": invoice.grand_total, "to be paid": invoice.payable,
    }  # fmt: skip
    for what, amount in amounts.items():
        if amount is not None and amount != amount.quantize(CENT):
            yield Broken("BR-DEC", f"The total ({what}) has more than {DECIMALS} decimals: {amount}.")


def _at(one: InvoiceLine | Allowance, category: str, rate: Decimal) -> bool:
    return one.category == category and (one.rate or NOTHING) == rate


def _of(several: tuple[Allowance, ...] | list[Allowance], *, charge: bool) -> Decimal:
    return sum((one.amount or NOTHING for one in several if one.charge == charge), NOTHING)


def _said(amount: Decimal | None) -> str:
    return "nothing" if amount is None else f"{amount:,.2f}"
