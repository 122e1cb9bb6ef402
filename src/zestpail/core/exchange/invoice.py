"""An invoice as data, by the business terms of EN 16931-1: numbers as BT-1 are the standard's own.

Amounts and quantities are decimals, dates days of the calendar. What is not said is None or empty.
"""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from pydantic import BaseModel, ConfigDict

CREDIT_NOTES = ("381", "396", "81", "83", "532")
"""Codes of UNTDID 1001 by which a document takes back what was invoiced."""


class Party(BaseModel):
    """Who sells or buys."""

    model_config = ConfigDict(frozen=True)

    name: str = ""
    """BT-27, BT-44."""
    vat_id: str = ""
    """BT-31, BT-48."""
    tax_id: str = ""
    """Another number that the tax office gave (BT-32)."""
    street: str = ""
    """BT-35, BT-50."""
    city: str = ""
    """BT-37, BT-52."""
    postcode: str = ""
    """BT-38, BT-53."""
    country: str = ""
    """ISO 3166-1 (BT-40, BT-55)."""


class InvoiceLine(BaseModel):
    """One line (BG-25)."""

    model_config = ConfigDict(frozen=True)

    number: str = ""
    """BT-126."""
    name: str = ""
    """BT-153."""
    description: str = ""
    """BT-154."""
    item: str = ""
    """The seller's number of the article (BT-155)."""
    quantity: Decimal | None = None
    """BT-129."""
    unit: str = ""
    """UN/ECE Recommendation 20 (BT-130)."""
    price: Decimal | None = None
    """Net, of so many units as ``price_of`` says (BT-146)."""
    price_of: Decimal | None = None
    """BT-149; one unit where it is None."""
    total: Decimal | None = None
    """Net (BT-131)."""
    category: str = ""
    """UNTDID 5305 (BT-151)."""
    rate: Decimal | None = None
    """Per cent (BT-152)."""


class TaxShare(BaseModel):
    """What is taxed at one rate (BG-23)."""

    model_config = ConfigDict(frozen=True)

    basis: Decimal | None = None
    """BT-116."""
    amount: Decimal | None = None
    """BT-117."""
    category: str = ""
    """BT-118."""
    rate: Decimal | None = None
    """Per cent (BT-119)."""


class Allowance(BaseModel):
    """What is taken off the whole document, or comes on top of it (BG-20, BG-21)."""

    model_config = ConfigDict(frozen=True)

    charge: bool = False
    """Whether it comes on top."""
    amount: Decimal | None = None
    """BT-92, BT-99."""
    reason: str = ""
    """BT-97, BT-104."""
    category: str = ""
    """BT-95, BT-102."""
    rate: Decimal | None = None
    """BT-96, BT-103."""


class InvoiceData(BaseModel):
    """One invoice or credit note."""

    model_config = ConfigDict(frozen=True)

    number: str = ""
    """BT-1."""
    type_code: str = ""
    """UNTDID 1001 (BT-3)."""
    issue_date: date | None = None
    """BT-2."""
    due_date: date | None = None
    """BT-9."""
    currency: str = ""
    """BT-5."""
    buyer_reference: str = ""
    """BT-10."""
    order_reference: str = ""
    """BT-13."""
    note: str = ""
    """BT-22."""
    payment_terms: str = ""
    """BT-20."""
    iban: str = ""
    """BT-84."""
    bic: str = ""
    """BT-86."""
    seller: Party = Party()
    buyer: Party = Party()
    lines: tuple[InvoiceLine, ...] = ()
    taxes: tuple[TaxShare, ...] = ()
    allowances: tuple[Allowance, ...] = ()
    lines_total: Decimal | None = None
    """BT-106."""
    allowances_total: Decimal | None = None
    """BT-107."""
    charges_total: Decimal | None = None
    """BT-108."""
    net_total: Decimal | None = None
    """BT-109."""
    tax_total: Decimal | None = None
    """BT-110."""
    grand_total: Decimal | None = None
    """BT-112."""
    prepaid: Decimal | None = None
    """BT-113."""
    rounding: Decimal | None = None
    """BT-114."""
    payable: Decimal | None = None
    """BT-115."""

    @property
    def credit_note(self) -> bool:
        """Whether it takes back what was invoiced."""
        return self.type_code in CREDIT_NOTES
