"""What stands on one composed invoice: the parties, the numbers, the lines, the sums. All drawn by lot, all adding up."""

from __future__ import annotations

import random
import string
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from functools import cache

from faker import Faker
from stdnum.iso7064 import mod_97_10

from training.compose.tongues import TONGUES, Tongue

MADE_UP = ("XQ#########", "XQ ## ### ### ###", "XQ-###.###.###", "XQ ### ### ###")
"""Tax numbers of no country: two letters that are left free for private use (ISO 3166-1)."""
CENT = Decimal("0.01")


@dataclass
class PartyDetails:
    """A firm or a person with all that may be printed about it."""

    name: str
    core: str
    """The name without its legal form."""
    person: str
    street: str
    place: str
    country: str
    tax_number: str
    phone: str
    email: str
    web: str


@dataclass
class Item:
    """A line of an invoice; ``price`` and ``amount`` are net."""

    code: str
    description: str
    more: str
    quantity: Decimal
    unit: str
    price: Decimal
    rate: str

    @property
    def amount(self) -> Decimal:
        return (self.quantity * self.price).quantize(CENT, ROUND_HALF_UP)


@dataclass
class Bill:
    """One invoice, before anybody has laid it out."""

    tongue: Tongue
    seller: PartyDetails
    buyer: PartyDetails
    number: str
    issued: date
    due: date
    days: int
    order: str
    customer: str
    iban: str
    bank: str
    items: list[Item] = field(default_factory=list)
    discount: Decimal = Decimal(0)
    shipping: Decimal = Decimal(0)
    paid: Decimal = Decimal(0)
    negative: bool = False

    @property
    def rows_total(self) -> Decimal:
        return sum((item.amount for item in self.items), Decimal(0))

    @property
    def net(self) -> Decimal:
        return self.rows_total - self.discount + self.shipping

    @property
    def taxes(self) -> dict[str, tuple[Decimal, Decimal]]:
        """By rate what is taxed and the tax of it; discount and shipping go with the first line's rate."""
        bases: dict[str, Decimal] = {}
        for item in self.items:
            bases[item.rate] = bases.get(item.rate, Decimal(0)) + item.amount
        first = self.items[0].rate
        bases[first] += self.shipping - self.discount
        return {
            rate: (base, (base * Decimal(rate) / 100).quantize(CENT, ROUND_HALF_UP))
            for rate, base in sorted(bases.items())
        }

    @property
    def tax(self) -> Decimal:
        return sum((tax for _, tax in self.taxes.values()), Decimal(0))

    @property
    def total(self) -> Decimal:
        return self.net + self.tax


def words_of(tongue: Tongue) -> Faker:
    """The word lists of a language."""
    return _words(tongue.locale)


def firm_named(lot: random.Random, tongue: Tongue) -> str:
    """The name of a firm, or now and then of a person."""
    words = words_of(tongue)
    words.seed_instance(lot.randrange(2**31))
    return _party(lot, tongue, words, lot.random() < 0.5).name


@cache
def _words(locale: str) -> Faker:
    try:
        return Faker(locale)
    except (AttributeError, ModuleNotFoundError):
        return Faker("en_US")


def drawn(lot: random.Random) -> Bill:
    """An invoice by lot."""
    tongue = lot.choice(TONGUES)
    words = _words(tongue.locale)
    words.seed_instance(lot.randrange(2**31))
    seller, buyer = _party(lot, tongue, words, True), _party(lot, tongue, words, False)
    issued = date(2024, 1, 1) + timedelta(days=lot.randrange(1000))
    days = lot.choice((0, 7, 10, 14, 15, 20, 30, 30, 45, 60))
    bill = Bill(
        tongue, seller, buyer, _code(lot, issued), issued, issued + timedelta(days=days), days, _code(lot, issued),
        _code(lot, issued),
        _iban(lot, tongue), f"{words.last_name()} {lot.choice(('Bank', 'Sparkasse', 'Banque', 'Banco', 'Savings Bank'))}",
    )  # fmt: skip
    rates = [lot.choice(tongue.rates)] if lot.random() < 0.75 else list(tongue.rates)
    for _ in range(lot.choice((1, 1, 2, 2, 3, 3, 4, 5, 6, 8, 12, 22, 40))):
        bill.items.append(_item(lot, words, lot.choice(rates)))
    if lot.random() < 0.15:
        bill.discount = (bill.rows_total * lot.choice((Decimal("0.05"), Decimal("0.1"), Decimal("0.03")))).quantize(
            CENT
        )
    if lot.random() < 0.15:
        bill.shipping = Decimal(lot.randrange(390, 4900)) / 100
    if lot.random() < 0.12:
        bill.paid = bill.total if lot.random() < 0.4 else (bill.total / lot.choice((2, 3, 4))).quantize(CENT)
    bill.negative = lot.random() < 0.03
    return bill


def _party(lot: random.Random, tongue: Tongue, words: Faker, sells: bool) -> PartyDetails:
    person = f"{words.first_name()} {words.last_name()}"
    core = lot.choice((
        words.last_name(), f"{words.last_name()} & {words.last_name()}", f"{words.last_name()} {words.word().capitalize()}",
        f"{words.word().capitalize()} {words.word()}", f"{words.city()} {words.word().capitalize()}", words.last_name().upper(),
        f"{words.word().capitalize()}{words.word()}",
    ))  # fmt: skip
    kind = lot.random()
    name = f"{core} {lot.choice(tongue.legal)}" if kind < (0.72 if sells else 0.6) else core
    if tongue.country in ("LT", "LV") and kind < 0.6:
        name = f"{lot.choice(tongue.legal)} {core}"
    if kind > (0.9 if sells else 0.85):
        name = person
    host = "".join(c for c in core.lower() if c.isascii() and c.isalnum())[:16] or "firm"
    host = host if lot.random() < 0.7 else "post-office"
    # Faker's addresses are of one or two lines: street, then place with its postcode.
    street = words.street_address().replace("\n", ", ")
    postcode, city = words.postcode(), words.city()
    place = (
        f"{city}, {postcode}"
        if tongue.country in ("US", "AU", "IN")
        else f"{city} {postcode}"
        if tongue.country in ("GB", "IE")
        else f"{postcode} {city}"
    )
    return PartyDetails(
        name, core, person, street, place, words.current_country() if lot.random() < 0.3 else "", _tax_number(lot, tongue),
        words.phone_number(), f"{lot.choice(('info', 'office', 'post', 'orders'))}@{host}.example", f"www.{host}.example",
    )  # fmt: skip


def _code(lot: random.Random, issued: date) -> str:
    """A number that somebody gives to papers, orders or customers: what it looks like says nothing of what it is for."""
    at, size = lot.randrange(1, 99999), lot.randrange(3, 9)
    letters = "".join(lot.choice(string.ascii_uppercase) for _ in range(lot.randrange(1, 4)))
    figures = "".join(lot.choice(string.digits) for _ in range(size))
    return lot.choice((
        figures, figures, f"{letters}-{figures}", f"{letters}{figures}", f"{letters} {figures}", f"{issued.year}-{at:04d}",
        f"{issued.year}{at:05d}", f"{letters}{issued:%y}{at:04d}", f"{letters}-{issued.year}-{at}", f"{at}/{issued.year}", f"{at}/{issued:%y}",
        f"{letters}/{issued.year}/{issued.month:02d}/{at}", f"{at:05d}-{lot.randrange(1, 99999999):08d}", f"{issued:%Y%m%d}{at % 100:02d}",
        f"{letters}-{figures}-{at % 100}",
    ))  # fmt: skip


def _tax_number(lot: random.Random, tongue: Tongue) -> str:
    """In a form of its country; some of a country that is not known, as made-up papers have them."""
    return _shaped(lot, lot.choice(tongue.tax_numbers if lot.random() < 0.92 else MADE_UP))


def _shaped(lot: random.Random, form: str) -> str:
    drawn_by = {"#": string.digits, "?": string.ascii_uppercase}
    return "".join(lot.choice(drawn_by[c]) if c in drawn_by else c for c in form)


def _iban(lot: random.Random, tongue: Tongue) -> str:
    if not tongue.iban:
        return ""
    account = "".join(lot.choice(string.digits) for _ in range(tongue.iban - 4))
    check = mod_97_10.calc_check_digits(account + tongue.country)
    return f"{tongue.country}{check}{account}"


def _item(lot: random.Random, words: Faker, rate: str) -> Item:
    text = " ".join(words.words(lot.randrange(1, 5))).capitalize()
    if lot.random() < 0.25:
        text += lot.choice((" 12 mm", " 2.5 m", ' 3/4"', " Nr. 4", " (2026)", " 250 g", " x 10"))
    quantity = Decimal(lot.choice((1, 1, 1, 2, 2, 3, 4, 5, 8, 10, 12, 24, 100)))
    if lot.random() < 0.15:
        quantity = Decimal(lot.randrange(1, 80)) / lot.choice((2, 4, 10))
    price = (
        Decimal(lot.randrange(40, 3000)) / 100 if lot.random() < 0.4 else Decimal(lot.randrange(30, 2500))
    ).quantize(CENT)
    return Item(
        f"{lot.choice(string.ascii_uppercase)}{lot.randrange(10, 99999)}", text, " ".join(words.words(4)) if lot.random() < 0.2 else "",
        quantity, lot.choice(("pcs", "h", "kg", "Stk", "m", "ks", "u", "szt")), price, rate,
    )  # fmt: skip
