"""The invoices of the Quillon Harbour Board: made-up suppliers, made-up goods, drawn from a seed.

Every name, address, number and bank detail here is invented; VAT numbers and accounts use the country code XQ,
which is assigned to nobody; accounts have the check figures that they would have there.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import Decimal

from babel import Locale

CENT = Decimal("0.01")
BUYER = ("Quillon Harbour Board", "Accounts Office", "2 Customs Stairs", "Quillon QX1 4HB")


@dataclass(frozen=True)
class Line:
    """One line item; ``more`` is a second line under the description."""

    code: str
    text: str
    more: str
    quantity: int
    price: Decimal

    @property
    def amount(self) -> Decimal:
        return (self.quantity * self.price).quantize(CENT)


@dataclass(frozen=True)
class Supplier:
    """A made-up supplier: how it writes, counts and dates."""

    key: str
    name: str
    address: tuple[str, ...]
    vat_id: str
    iban: str
    currency: str
    rate: Decimal
    number: Callable[[random.Random], str]
    day: Callable[[date], str]
    money: Callable[[Decimal], str]
    goods: str
    days_to_pay: int = 30


@dataclass
class Invoice:
    """One invoice as printed. ``slip`` misprints the total by swapping two of its figures."""

    supplier: Supplier
    number: str
    issued: date
    due: date
    order: str
    lines: list[Line] = field(default_factory=list)
    slip: bool = False

    @property
    def net(self) -> Decimal:
        return sum((line.amount for line in self.lines), Decimal(0)).quantize(CENT)

    @property
    def tax(self) -> Decimal:
        return (self.net * self.supplier.rate / 100).quantize(CENT)

    @property
    def total(self) -> Decimal:
        right = self.net + self.tax
        return swapped(right) if self.slip else right

    def truth(self) -> dict[str, str]:
        """What stands on the paper, normalised."""
        return {
            "invoice_number": self.number,
            "issue_date": self.issued.isoformat(),
            "due_date": self.due.isoformat(),
            "order_reference": self.order,
            "seller_vat_id": "".join(c for c in self.supplier.vat_id if c.isalnum()),
            "seller_iban": self.supplier.iban.replace(" ", ""),
            "buyer_name": BUYER[0],
            "seller_name": self.supplier.name,
            "currency": self.supplier.currency,
            "net_total": str(self.net),
            "tax_total": str(self.tax),
            "grand_total": str(self.total),
        }


def lines_truth(invoice: Invoice) -> list[dict[str, str | None]]:
    """The line items as they are printed: some suppliers print no codes, one joins the second line with a comma."""
    uncoded, joined = invoice.supplier.key in ("hallig", "tremarec"), invoice.supplier.key == "tremarec"
    return [
        {
            "item_code": None if uncoded else line.code,
            "description": (", " if joined else "\n").join(text for text in (line.text, line.more) if text),
            "quantity": str(line.quantity),
            "unit_price": f"{line.price:.2f}",
            "line_total": f"{line.amount:.2f}",
        }
        for line in invoice.lines
    ]


def swapped(amount: Decimal) -> Decimal:
    """The amount with the first two unlike neighbouring figures of its whole part swapped, from the right."""
    whole, cents = str(amount).split(".")
    for at in range(len(whole) - 1, 0, -1):
        if whole[at] != whole[at - 1]:
            whole = whole[: at - 1] + whole[at] + whole[at - 1] + whole[at + 1 :]
            break
    return Decimal(f"{whole}.{cents}")


def grouped(amount: Decimal, thousands: str, point: str) -> str:
    text = f"{amount:,.2f}"
    return text.replace(",", "\0").replace(".", point).replace("\0", thousands)


MONTHS = {
    language: [Locale(language).months["format"]["wide"][number] for number in range(1, 13)]
    for language in ("en", "de", "fr")
}


def _english(amount: Decimal) -> str:
    return grouped(amount, ",", ".")


def _german(amount: Decimal) -> str:
    return grouped(amount, ".", ",")


def _french(amount: Decimal) -> str:
    return grouped(amount, " ", ",")


def _alpine(amount: Decimal) -> str:
    return grouped(amount, "’", ".")


SUPPLIERS = (
    Supplier(
        "bight", "Bight & Bollard Ltd", ("Ropewalk 14", "Quillon Harbour"), "XQ 204 881 03",
        "XQ88 0000 1111 2222 3333", "EUR", Decimal(20),
        lambda r: f"BB-{r.randint(20100, 20999)}", lambda d: f"{d:%d.%m.%Y}", _english, "en",
    ),
    Supplier(
        "tarnwick", "Tarnwick Rope Works Ltd", ("The Long Shed, Tidewell Lane", "Tarnwick TW3 9ZZ"), "XQ 118 042 77",
        "XQ04 0000 4040 1212 0077", "GBP", Decimal(20),
        lambda r: f"{r.randint(4100, 4999):06d}", lambda d: f"{d.day} {MONTHS['en'][d.month - 1]} {d.year}",
        _english, "en", 14,
    ),
    Supplier(
        "moewenbek", "Möwenbek Schiffsbedarf GmbH", ("Am Tonnenhof 7", "00000 Möwenbek"), "XQ 815 550 021",
        "XQ28 0000 5005 0021 8150", "EUR", Decimal(19),
        lambda r: f"RE-{r.randint(10, 99)}-{r.randint(100, 999):04d}", lambda d: f"{d:%d.%m.%Y}", _german, "de", 14,
    ),
    Supplier(
        "hallig", "Hallig & Söhne Kranservice KG", ("Kaistraße 112", "00000 Osterwarf"), "XQ 300 771 940",
        "XQ41 0000 7719 4000 0300", "EUR", Decimal(19),
        lambda r: f"2026/{r.randint(400, 899):04d}", lambda d: f"{d.day}. {MONTHS['de'][d.month - 1]} {d.year}",
        _german, "de",
    ),
    Supplier(
        "brevanne", "Ateliers Portuaires de Brévanne SARL", ("4, quai des Cordiers", "00000 Brévanne"),
        "XQ 41 700 553 118", "XQ56 0000 7005 5311 8041", "EUR", Decimal(20),
        lambda r: f"F{r.randint(2600100, 2600999)}", lambda d: f"{d:%d/%m/%Y}", _french, "fr",
    ),
    Supplier(
        "tremarec", "Voilerie Trémarec SAS", ("Zone du Vieux Môle", "00000 Port-Trémarec"), "XQ 09 442 118 006",
        "XQ64 0000 4421 1800 6009", "EUR", Decimal(20),
        lambda r: f"VT/26-{r.randint(100, 999)}", lambda d: f"{d.day} {MONTHS['fr'][d.month - 1]} {d.year}",
        _french, "fr", 45,
    ),
    Supplier(
        "norrhavn", "Norrhavn Bunkers Ltd", ("Pier 3, Outer Basin", "Norrhavn"), "XQ 660 120 515",
        "XQ57 0000 6601 2051 5000", "USD", Decimal(0) + Decimal(5),
        lambda r: f"NB{r.randint(880000, 889999)}", lambda d: d.isoformat(), _english, "fuel", 21,
    ),
    Supplier(
        "dredgemoor", "Dredgemoor Contractors LLP", ("Spoil Bank House", "Dredgemoor DM7 0QQ"), "XQ 902 664 310",
        "XQ74 0000 9026 6431 0000", "GBP", Decimal(20),
        lambda r: f"DC/{r.randint(1000, 1999)}/{r.choice('ABC')}", lambda d: f"{d:%d %b %Y}", _english, "works",
    ),
    Supplier(
        "ostersiel", "Ostersiel Elektro AG", ("Schleusenweg 3", "0000 Ostersiel"), "XQ-118.402.993",
        "XQ12 0000 1184 0299 3000", "CHF", Decimal("8.1"),
        lambda r: f"{r.randint(700000, 799999)}", lambda d: f"{d:%d.%m.%Y}", _alpine, "de-electric",
    ),
)  # fmt: skip

GOODS: dict[str, tuple[tuple[str, str, str, str], ...]] = {
    "en": (
        ("R-12", "Mooring rope 32 mm, 8-strand", "220 m coil, eye spliced one end", "418.50"),
        ("F-70", "Pneumatic fender 0.7 m", "", "64.00"),
        ("S-04", "Shackle bow 25 mm, galvanised", "", "7.95"),
        ("R-20", "Heaving line 9 mm with monkey fist", "orange, floating", "23.40"),
        ("L-31", "Fairlead roller, stainless", "", "142.75"),
        ("T-08", "Tarpaulin 6 × 8 m", "eyelets every 50 cm", "88.20"),
        ("B-15", "Bollard cap, cast, painted yellow", "", "51.60"),
    ),
    "de": (
        ("4711-A", "Festmacherleine 32 mm, achtlitzig", "Trosse 220 m, ein Auge gespleißt", "402,80"),
        ("4802", "Fender, pneumatisch 0,7 m", "", "66,50"),
        ("5120", "Schäkel 25 mm, feuerverzinkt", "", "8,15"),
        ("5533-K", "Kranstunde mit Bediener", "einschließlich An- und Abfahrt", "185,00"),
        ("6018", "Anschlagkette zweisträngig", "", "128,40"),
        ("6190", "Prüfung der Hebezeuge", "nach Prüfplan, mit Protokoll", "240,00"),
    ),
    "de-electric": (
        ("E-110", "Positionslaterne LED, weiß", "Ersatz für Glühlampe", "96.50"),
        ("E-204", "Landstromkabel 5 × 16 mm²", "je 50 m, mit Stecker", "611.00"),
        ("E-318", "Montagestunde Elektriker", "", "118.00"),
        ("E-400", "Schaltschrank Leuchtfeuer", "geprüft und beschriftet", "1480.00"),
    ),
    "fr": (
        ("AC-32", "Amarre 32 mm, huit torons", "bobine de 220 m, un œil épissé", "409,90"),
        ("DF-07", "Défense pneumatique 0,7 m", "", "65,20"),
        ("MN-25", "Manille lyre 25 mm galvanisée", "", "8,05"),
        ("TV-01", "Taud de protection sur mesure", "toile enduite, œillets inox", "512,00"),
        ("RP-14", "Réparation de voile, main-d’œuvre", "", "58,00"),
        ("SD-20", "Soudure d’un garde-corps", "contrôle compris", "230,00"),
    ),
    "fuel": (
        ("MGO", "Marine gas oil, per tonne", "delivered alongside, low sulphur", "742.00"),
        ("LUB-40", "Cylinder oil, drum 208 l", "", "915.00"),
        ("BARGE", "Barge hire, per hour", "", "160.00"),
    ),
    "works": (
        ("D1", "Maintenance dredging, per cubic metre", "Outer basin, to chart datum minus 6 m", "14.85"),
        ("D2", "Mobilisation of grab dredger", "", "3200.00"),
        ("D3", "Hydrographic survey after works", "multibeam, two days", "2450.00"),
        ("D4", "Disposal licence, share", "", "780.00"),
        ("D5", "Workboat with crew, per day", "", "690.00"),
        ("D6", "Diver, per dive", "with report and photographs", "310.00"),
    ),
}


def draw(supplier: Supplier, seed: int, lines: int, slip: bool = False) -> Invoice:
    """One invoice of ``supplier`` with that many lines; the same seed gives the same invoice."""
    chance = random.Random(f"{supplier.key}-{seed}")
    issued = date(2026, 1, 5) + timedelta(days=chance.randint(0, 300))
    invoice = Invoice(
        supplier, supplier.number(chance), issued, issued + timedelta(days=supplier.days_to_pay),
        f"QHB-{chance.randint(5000, 5999)}", slip=slip,
    )  # fmt: skip
    goods = GOODS[supplier.goods]
    for at in range(lines):
        code, text, more, price = goods[at % len(goods)] if lines > len(goods) else chance.choice(goods)
        quantity = chance.randint(1, 12) if supplier.goods != "works" or code != "D1" else chance.randint(80, 900)
        invoice.lines.append(Line(code, text, more, quantity, Decimal(price.replace(",", "."))))
    return invoice
