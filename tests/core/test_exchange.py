"""Invoices as data: read from both syntaxes, held against the standard's rules; hostile files end in a sentence."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zestpail.core.exchange.hybrid import attached_invoice
from zestpail.core.exchange.invoice import Allowance, InvoiceData, InvoiceLine, TaxShare
from zestpail.core.exchange.parse import is_invoice, parse
from zestpail.core.exchange.rules import broken_rules
from zestpail.core.problems import Unreadable

FILES = Path(__file__).parent / "files"
CII, UBL = ((FILES / name).read_text() for name in ("cross-industry-invoice.xml", "credit-note.ubl.xml"))


def test_a_cross_industry_invoice_is_read_term_by_term() -> None:
    invoice = parse(CII.encode())
    assert (invoice.number, invoice.issue_date, invoice.due_date) == ("BB-204", date(2026, 3, 4), date(2026, 4, 3))
    assert (invoice.seller.name, invoice.seller.vat_id, invoice.seller.tax_id) == (
        "Bight & Bollard Ltd", "XQ123456789", "77/12",
    )  # fmt: skip
    assert (invoice.seller.postcode, invoice.buyer.name, invoice.order_reference) == (
        "QU1 2AB", "Quillon Harbour Board", "PO-9",
    )  # fmt: skip
    assert invoice.tax_total == Decimal("20.00"), "of two currencies the invoice's own"
    assert invoice.lines == (
        InvoiceLine(number="1", name="Mooring rope", quantity=Decimal(40), unit="MTR", price=Decimal("2.50"),
                    total=Decimal("100.00"), category="S", rate=Decimal(20)),
    )  # fmt: skip
    assert invoice.taxes[0].basis == Decimal("100.00")
    assert not invoice.credit_note
    assert broken_rules(invoice) == []


def test_a_universal_business_document_is_read_too() -> None:
    note = parse(UBL.encode())
    assert (note.number, note.credit_note, note.due_date) == ("CN 7", True, date(2026, 4, 3))
    assert (note.seller.name, note.seller.vat_id, note.seller.tax_id) == ("Bight & Bollard Ltd", "XQ1", "77/12")
    assert note.allowances == (Allowance(charge=True, amount=Decimal(5)),)
    assert (note.lines[0].quantity, note.lines[0].unit, note.tax_total) == (Decimal(2), "C62", Decimal("1.00"))


BOMB = '<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><x>&b;</x>'
OUTSIDE = '<!DOCTYPE x [<!ENTITY f SYSTEM "file:///etc/passwd">]><x>&f;</x>'


@pytest.mark.parametrize(("data", "told"), [
    (BOMB, "definitions of its own"), (OUTSIDE, "definitions of its own"), ("", "damaged"), ("%PDF-1.7", "damaged"),
    ("<a><b></a>", "damaged"), ("<Invoice/>", "no electronic invoice"), ("\0" * 9, "damaged"),
    ("<a>" * 5000 + "</a>" * 5000, "damaged"),
    (CII.replace("20260304", "4 March"), "“4 March” where a day belongs"),
    (CII.replace(">120.00</ram:Grand", ">lots</ram:Grand"), "“lots” where a number belongs"),
    ("<a>" + " " * 20_000_001 + "</a>", "larger than 20 MB"),
])  # fmt: skip
def test_what_is_no_invoice_or_hostile_ends_in_a_sentence(data: str, told: str) -> None:
    with pytest.raises(Unreadable, match=told):
        parse(data.encode())
    assert not is_invoice(data.encode()) or "belongs" in told


def test_a_file_that_carries_none_carries_none() -> None:
    assert attached_invoice(b"%PDF-1.7 broken") is None
    assert attached_invoice(b"") is None


NOTHING = Decimal(0)
cents = st.integers(1, 900_000).map(lambda n: Decimal(n) / 100)


@st.composite
def invoices(draw: st.DrawFn) -> InvoiceData:
    """Invoices whose figures come out: lines at two rates, something taken off and put on top, a part paid."""
    rates = {"S": Decimal(20), "AA": Decimal("5.5")}
    lines = [
        InvoiceLine(number=str(at), total=draw(cents), category=category, rate=rates[category])
        for at, category in enumerate(draw(st.lists(st.sampled_from(sorted(rates)), min_size=1, max_size=6)))
    ]
    extra = [
        Allowance(charge=charge, amount=draw(cents), category=lines[0].category, rate=lines[0].rate)
        for charge in draw(st.lists(st.booleans(), max_size=3))
    ]
    off, on = (
        sum((one.amount or Decimal(0) for one in extra if one.charge == charge), Decimal(0)) for charge in (False, True)
    )
    taxes = []
    for category, rate in rates.items():
        mine = [line.total for line in lines if line.category == category and line.total]
        basis = sum(mine, Decimal(0)) + (on - off if category == lines[0].category else 0)
        if mine:
            taxes.append(
                TaxShare(
                    basis=basis, amount=(basis * rate / 100).quantize(Decimal("0.01")), category=category, rate=rate
                )
            )
    total = sum((line.total or Decimal(0) for line in lines), Decimal(0))
    net, tax = total - off + on, sum((share.amount or Decimal(0) for share in taxes), Decimal(0))
    paid = draw(st.one_of(st.none(), cents))
    return InvoiceData(
        lines=tuple(lines), allowances=tuple(extra), taxes=tuple(taxes), lines_total=total, allowances_total=off,
        charges_total=on, net_total=net, tax_total=tax, grand_total=net + tax, prepaid=paid,
        payable=net + tax - (paid or Decimal(0)),
    )  # fmt: skip


RULES = {
    "lines_total": "BR-CO-10", "allowances_total": "BR-CO-11", "charges_total": "BR-CO-12", "net_total": "BR-CO-13",
    "tax_total": "BR-CO-14", "grand_total": "BR-CO-15", "payable": "BR-CO-16",
}  # fmt: skip


@given(invoices(), st.sampled_from(sorted(RULES)), cents)
def test_figures_that_come_out_break_no_rule_and_any_other_its_own(
    invoice: InvoiceData, term: str, more: Decimal
) -> None:
    assert broken_rules(invoice) == []
    wrong = invoice.model_copy(update={term: getattr(invoice, term) + more})
    found = {one.rule: one.message for one in broken_rules(wrong)}
    assert "but the data say" in found[RULES[term]]
    first, *others = invoice.taxes
    off = first.model_copy(update={"amount": (first.amount or NOTHING) + Decimal("0.05")})
    found = {one.rule: "" for one in broken_rules(invoice.model_copy(update={"taxes": (off, *others)}))}
    assert "BR-CO-17" in found
