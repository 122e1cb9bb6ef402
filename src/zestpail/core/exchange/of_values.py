"""A reviewed invoice's values as the data of EN 16931, checked before they go out; what is missing is said."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from decimal import ROUND_HALF_UP, Decimal, InvalidOperation

from zestpail.core.exchange.invoice import InvoiceData, InvoiceLine, Party, TaxShare
from zestpail.core.exchange.rules import broken_rules

CENT = Decimal("0.01")
INVOICE, CREDIT_NOTE = "380", "381"
"""UNTDID 1001."""
PIECE = "C62"
"""One, of whatever it is (UN/ECE Recommendation 20)."""
UNITS: Mapping[str, str] = {
    "h": "HUR", "hr": "HUR", "hrs": "HUR", "hour": "HUR", "hours": "HUR", "std": "HUR", "stunden": "HUR",
    "day": "DAY", "days": "DAY", "tag": "DAY", "tage": "DAY", "kg": "KGM", "g": "GRM", "t": "TNE", "l": "LTR",
    "m": "MTR", "m2": "MTK", "m²": "MTK", "m3": "MTQ", "m³": "MTQ", "km": "KMT",
}  # fmt: skip
STANDARD, ZERO = "S", "Z"
"""UNTDID 5305: taxed, and taxed with nothing."""
TAX_RATE = "tax_rate"
"""The column of a table that says at which rate a line is taxed, in per cent."""
NEEDED: Mapping[str, str] = {
    "number": "its number", "issue_date": "its date", "currency": "its currency", "seller.name": "the seller",
    "buyer.name": "the buyer", "net_total": "the total without tax", "grand_total": "the total with tax",
}  # fmt: skip
"""What an invoice must say (BR-02, BR-03, BR-05, BR-06, BR-07, BR-13, BR-14)."""


class Unwritable(ValueError):
    """The values make no valid invoice; says in sentences what is wrong."""


def invoice_of(terms: Mapping[str, str | None], rows: Sequence[Mapping[str, str | None]]) -> InvoiceData:
    """The invoice that these values make, by business term, with a table's rows as its lines. Raises Unwritable."""
    lacking = [name for term, name in NEEDED.items() if not terms.get(term)]
    if lacking:
        raise Unwritable(f"The invoice does not say {', '.join(lacking)}.")
    net, gross = _amount(terms, "net_total"), _amount(terms, "grand_total")
    tax = _amount(terms, "tax_total") if terms.get("tax_total") else gross - net
    told = [row for row in rows if _is_line(row)]
    rates = _rates(told) or [_rate(net, tax)] * len(told)
    lines = tuple(_line(at, row, rate) for at, (row, rate) in enumerate(zip(told, rates, strict=True), 1))
    lines = lines or (_whole(net, _rate(net, tax)),)
    made = InvoiceData(
        number=terms["number"] or "",
        type_code=CREDIT_NOTE if gross < 0 else INVOICE,
        issue_date=_day(terms, "issue_date"),
        due_date=_day(terms, "due_date"),
        currency=terms["currency"] or "",
        buyer_reference=terms.get("buyer_reference") or "",
        order_reference=terms.get("order_reference") or "",
        iban=terms.get("iban") or "",
        seller=Party(name=terms["seller.name"] or "", vat_id=terms.get("seller.vat_id") or ""),
        buyer=Party(name=terms["buyer.name"] or "", vat_id=terms.get("buyer.vat_id") or ""),
        lines=lines,
        taxes=_shares(lines, net, tax),
        lines_total=sum((line.total or Decimal(0) for line in lines), Decimal(0)),
        net_total=net,
        tax_total=tax,
        grand_total=gross,
        payable=gross,
    )
    made = _turned(made) if made.credit_note else made
    broken = broken_rules(made)
    if broken:
        raise Unwritable(" ".join(f"{one.message} ({one.rule})" for one in broken))
    return made


def _turned(invoice: InvoiceData) -> InvoiceData:
    """A credit note says in positive figures what it takes back."""
    lines = tuple(
        line.model_copy(update={"total": -(line.total or 0), "quantity": -(line.quantity or 0)})
        if (line.total or 0) < 0 else line
        for line in invoice.lines
    )  # fmt: skip
    taxes = tuple(t.model_copy(update={"basis": -(t.basis or 0), "amount": -(t.amount or 0)}) for t in invoice.taxes)
    totals = ("lines_total", "net_total", "tax_total", "grand_total", "payable")
    return invoice.model_copy(
        update={"lines": lines, "taxes": taxes, **{name: -getattr(invoice, name) for name in totals}}
    )


def _is_line(row: Mapping[str, str | None]) -> bool:
    return bool(row.get("line_total") or (row.get("quantity") and row.get("unit_price")))


def _rates(rows: Sequence[Mapping[str, str | None]]) -> list[Decimal]:
    """The rate of each line, in per cent; empty where the table says none. Raises Unwritable where one is missing."""
    rates = [_number((row.get(TAX_RATE) or "").strip(" %")) for row in rows]
    told = [rate.normalize() + 0 for rate in rates if rate is not None]
    if told and len(told) < len(rates):
        raise Unwritable(f"Line {rates.index(None) + 1} does not say its tax rate, others do.")
    return told


def _shares(lines: Sequence[InvoiceLine], net: Decimal, tax: Decimal) -> tuple[TaxShare, ...]:
    """What is taxed at each rate; the tax as it is printed where there is one rate."""
    rates = sorted({line.rate or Decimal(0) for line in lines})
    if len(rates) == 1:
        return (TaxShare(basis=net, amount=tax, category=lines[0].category, rate=rates[0]),)
    of = {rate: sum((one.total or Decimal(0) for one in lines if one.rate == rate), Decimal(0)) for rate in rates}
    return tuple(
        TaxShare(
            basis=basis, amount=(basis * rate / 100).quantize(CENT, ROUND_HALF_UP), category=_category(rate), rate=rate
        )
        for rate, basis in of.items()
    )


def _category(rate: Decimal) -> str:
    return STANDARD if rate else ZERO


def _line(at: int, row: Mapping[str, str | None], rate: Decimal) -> InvoiceLine:
    quantity, price, total = (_number(row.get(key)) for key in ("quantity", "unit_price", "line_total"))
    quantity = Decimal(1) if quantity is None else quantity
    if total is None:
        total = (quantity * (price or Decimal(0))).quantize(CENT, ROUND_HALF_UP)
    if price is None or (quantity * price).quantize(CENT, ROUND_HALF_UP) != total:
        quantity, price = Decimal(1), total  # a discount of the line is in its total only
    name, _, more = (row.get("description") or row.get("item_code") or "Item").partition("\n")
    unit = UNITS.get((row.get("unit") or "").strip(" .").casefold(), PIECE)
    return InvoiceLine(
        number=str(at), name=name.strip(), description=more.strip().replace("\n", " "), item=row.get("item_code") or "",
        quantity=quantity, unit=unit, price=price, total=total, category=_category(rate), rate=rate,
    )  # fmt: skip


def _whole(net: Decimal, rate: Decimal) -> InvoiceLine:
    """The one line of an invoice whose rows are not known."""
    return InvoiceLine(
        number="1", name="As invoiced", quantity=Decimal(1), unit=PIECE, price=net, total=net,
        category=_category(rate), rate=rate,
    )  # fmt: skip


def _rate(net: Decimal, tax: Decimal) -> Decimal:
    """The one rate, in per cent, by which the tax comes of the total. Raises Unwritable where there is none.

    Two decimals would fit the tax of any two rates, and name one that nobody asks for.
    """
    if not tax or not net:
        return Decimal(0)
    for decimals in ("1", "0.1"):
        rate = (100 * tax / net).quantize(Decimal(decimals), ROUND_HALF_UP)
        if abs((net * rate / 100).quantize(CENT, ROUND_HALF_UP) - tax) <= CENT:
            return rate.normalize() + 0
    raise Unwritable(
        "Its tax is of several rates, and it is not known which line has which: a column “Tax rate” of its table tells."
    )


def _amount(terms: Mapping[str, str | None], term: str) -> Decimal:
    amount = _number(terms.get(term))
    if amount is None:
        raise Unwritable(f"“{terms.get(term)}” is no amount.")
    return amount


def _day(terms: Mapping[str, str | None], term: str) -> date | None:
    text = terms.get(term)
    try:
        return date.fromisoformat(text) if text else None
    except ValueError as problem:
        raise Unwritable(f"“{text}” is no day.") from problem


def _number(text: str | None) -> Decimal | None:
    try:
        number = Decimal(text) if text else None
    except InvalidOperation:
        return None
    return number if number is not None and number.is_finite() else None
