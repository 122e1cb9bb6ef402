"""Makes the strangers' invoices: ``python -m tests.strangers.make FOLDER``, or on demand by the tests.

Three folders for each half of the templates: born-digital PDFs, ordinary grey scans at 200 dpi, and poor ones (fax, noise, pale
print, stamps over the text). Beside each file lies its truth, as in the demo.
"""

from __future__ import annotations

import base64
import io
import json
import random
import re
import sys
import zlib
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from pathlib import Path

import cv2
import numpy as np
import pypdfium2 as pdfium
from babel import Locale
from jinja2 import Environment
from numpy.typing import NDArray
from PIL import Image
from selenium import webdriver

from demo import scanning as scan
from tests.browser.conftest import open_browser
from tests.strangers.templates import ASIDE, HEADS, KNOWN, LINES, META, PAGE, SUMS, Template
from tests.strangers.wordings import TONGUES, Tongue, Wording

CENT = Decimal("0.01")
PER_TEMPLATE = 3
FIRST = (
    "Brack",
    "Ostler",
    "Venn",
    "Maribel",
    "Tolva",
    "Korrin",
    "Quenby",
    "Aldermoor",
    "Sielwark",
    "Pontrel",
    "Lumiro",
    "Casvel",
)
SECOND = ("Technik", "Services", "Werke", "Industries", "Marine", "Handel", "Metall", "Logistik", "Pumps", "Energie")
BUYERS = (
    ("Quillon Harbour Board", "2 Customs Stairs", "Quillon QX1 4HB"),
    ("Tidewell Joinery Ltd", "Unit 4, Sawpit Lane", "Tidewell TW1 0XX"),
    ("Morvenna Gärten GmbH", "Am Deich 9", "00000 Morvenna"),
    ("Municipality of Estrel", "Plaza Vieja 1", "00000 Estrel"),
    ("Cantelle & Fils SARL", "3, rue du Lavoir", "00000 Cantelle"),
)  # fmt: skip
STREETS = ("Kiln Road 12", "Haffweg 3", "4, rue des Forges", "Calle del Pino 8", "Via Lunga 20", "Dijkstraat 7")


@dataclass(frozen=True)
class Seller:
    name: str
    address: tuple[str, ...]
    vat_id: str
    iban: str


@dataclass
class Bill:
    """One invoice: what is printed, and the truth of it."""

    template: Template
    tongue: Tongue
    wording: Wording
    seller: Seller
    buyer: tuple[str, ...]
    number: str
    issued: date
    due: date
    due_as: str
    order: str
    credit: bool
    rates: list[tuple[str, Decimal]]
    lines: list[tuple[str, int, Decimal]] = field(default_factory=list)

    @property
    def net(self) -> Decimal:
        return sum((quantity * price for _, quantity, price in self.lines), Decimal(0)).quantize(CENT)

    @property
    def taxes(self) -> list[tuple[str, Decimal]]:
        return [
            (rate, (self.net * share * Decimal(rate) / 100).quantize(CENT, ROUND_HALF_UP)) for rate, share in self.rates
        ]

    @property
    def tax(self) -> Decimal:
        return sum((amount for _, amount in self.taxes), Decimal(0))

    def truth(self) -> dict[str, str]:
        return {
            "invoice_number": self.number,
            "issue_date": self.issued.isoformat(),
            "due_date": self.due.isoformat(),
            "order_reference": self.order,
            "seller_name": self.seller.name,
            "seller_vat_id": self.seller.vat_id.replace(" ", ""),
            "seller_iban": self.seller.iban.replace(" ", ""),
            "buyer_name": self.buyer[0],
            "currency": self.tongue.currency,
            "net_total": str(self.net),
            "tax_total": str(self.tax),
            "grand_total": str(self.net + self.tax),
        }


def draw(template: Template, at: int) -> Bill:
    """The ``at``-th invoice of the template; always the same one."""
    chance = random.Random(f"{template.name}-{at}")
    tongue = TONGUES[(int(template.name.rsplit("-", 1)[1]) * PER_TEMPLATE + at) % len(TONGUES)]
    wording = tongue.wordings[template.aside]
    name = f"{chance.choice(FIRST)} {chance.choice(SECOND)} {chance.choice(tongue.legal)}"
    country = "XQ"
    seller = Seller(
        name, (chance.choice(STREETS), f"{chance.randint(10000, 99999)} {chance.choice(FIRST)}"),
        f"{country} {chance.randint(100, 999)} {chance.randint(100, 999)} {chance.randint(100, 999)}", _iban(chance, country),
    )  # fmt: skip
    issued = date(2026, 1, 10) + timedelta(days=chance.randint(0, 330))
    days = chance.choice((10, 14, 30, 45, 60))
    due_as = chance.choice(("date", "date", "date", "days", "receipt"))
    rates = [(tongue.rates[0], Decimal(1))] if chance.random() < 0.75 else [
        (tongue.rates[0], Decimal("0.6")), (tongue.rates[1], Decimal("0.4"))
    ]  # fmt: skip
    bill = Bill(
        template, tongue, wording, seller, chance.choice(BUYERS), _number(chance), issued,
        issued if due_as == "receipt" else issued + timedelta(days=days), due_as,
        f"{chance.choice(('PO', 'B', '45', 'ORD-'))}{chance.randint(1000, 99999)}", chance.random() < 0.1, rates,
    )  # fmt: skip
    for _ in range(chance.choice((2, 3, 4, 5, 6, 24))):
        price = Decimal(chance.randint(150, 90000)) / 100
        bill.lines.append((chance.choice(wording.goods), chance.randint(1, 20), price))
    return bill


def another(bill: Bill, at: int) -> Bill:
    """The ``at``-th of the seller's other invoices: the layout and the words are the same, what was sold is not."""
    chance = random.Random(f"{bill.seller.name}-{at}")
    issued = bill.issued + timedelta(days=chance.randint(1, 300))
    lines = [
        (chance.choice(bill.wording.goods), chance.randint(1, 20), Decimal(chance.randint(150, 90000)) / 100)
        for _ in range(chance.choice((1, 2, 3, 4, 5, 8, 30)))
    ]
    return replace(
        bill, buyer=chance.choice(BUYERS), number=_next_number(bill.number, chance), issued=issued,
        due=issued + (bill.due - bill.issued), order=f"{bill.order[:-3]}{chance.randint(100, 999)}", credit=False,
        lines=lines,
    )  # fmt: skip


def _next_number(number: str, chance: random.Random) -> str:
    """A number of the same form, with other figures in its last half."""
    half = len(number) // 2
    return number[:half] + "".join(str(chance.randint(0, 9)) if c.isdigit() else c for c in number[half:])


def _number(chance: random.Random) -> str:
    form = chance.choice(("{y}-{n:04d}", "R{n}", "{n:06d}", "{n}/{y}", "INV-{n:05d}", "{y}{n:05d}", "FA-{y}/{n}"))
    return form.format(y=chance.choice((26, 2026)), n=chance.randint(100, 99999))


def _iban(chance: random.Random, country: str) -> str:
    """Of a country that does not exist, with the check figures that it would have (ISO 13616)."""
    body = "".join(str(chance.randint(0, 9)) for _ in range(16))
    figures = "".join(str(int(c, 36)) for c in body + country + "00")
    whole = f"{country}{98 - int(figures) % 97:02d}{body}"
    return " ".join(whole[at : at + 4] for at in range(0, len(whole), 4))


def printed(bill: Bill, browser: webdriver.Chrome) -> bytes:
    """The invoice as a PDF."""
    pages, w, t = Environment(autoescape=True), bill.wording, bill.template

    def part(source: str, **context: object) -> object:
        from markupsafe import Markup

        return Markup(pages.from_string(source).render(**context))

    def money(amount: Decimal) -> str:
        thousands, point = bill.tongue.marks
        text = f"{amount:,.2f}".replace(",", "\0").replace(".", point).replace("\0", thousands)
        sign, code = bill.tongue.sign, bill.tongue.currency
        return {"before": f"{sign} {text}", "after": f"{text} {sign}", "code": f"{code} {text}", "none": text}[t.signs]

    style = bill.tongue.dates[zlib.crc32(t.name.encode()) % len(bill.tongue.dates)]
    meta = [(w.number, bill.number), (w.date, _written(bill.issued, style, bill.tongue.code)), (w.order, bill.order),
            (w.customer, str(10000 + zlib.crc32(bill.number.encode()) % 80000))]  # fmt: skip
    if bill.due_as == "date":
        meta.insert(2, (w.due, _written(bill.due, style, bill.tongue.code)))
    total = w.total if t.signs != "none" else f"{w.total} {bill.tongue.currency}"
    sums = [(w.net, money(bill.net)), *((f"{w.tax} {rate} %", money(tax)) for rate, tax in bill.taxes),
            (total, money(bill.net + bill.tax))]  # fmt: skip
    terms = {"date": "", "days": w.days.format((bill.due - bill.issued).days), "receipt": w.receipt}[bill.due_as]
    html = pages.from_string(PAGE).render(
        t=t, w=w, seller=bill.seller, buyer=bill.buyer, style=LINES[t.lines], terms=terms,
        title=w.credit if bill.credit else w.title,
        header=part(HEADS[t.header], seller=bill.seller, big=t.size * 1.8), meta=part(META[t.meta], meta=meta),
        sums=part(SUMS[t.sums], sums=sums),
        lines=[(text, q, money(p).strip(" €£Kč") if t.signs != "code" else f"{p:.2f}".replace(".", bill.tongue.marks[1]),
                money((q * p).quantize(CENT))) for text, q, p in bill.lines],
    )  # fmt: skip
    browser.get("data:text/html;base64," + base64.b64encode(html.encode()).decode())
    answer = browser.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True, "printBackground": True})
    return base64.b64decode(answer["data"])


def _written(day: date, style: str, language: str) -> str:
    if "%" in style:
        return day.strftime(style)
    month = Locale(language).months["format"]["wide"][day.month]
    return re.sub(r"\b([dBY])\b", lambda m: {"d": str(day.day), "B": month, "Y": str(day.year)}[m[1]], style)


def stamped(page: NDArray[np.uint8], chance: np.random.Generator) -> NDArray[np.uint8]:
    """A stamp across the upper half, thin enough that the print under it stays legible."""
    over = page.copy()
    height, width = page.shape[:2]
    at = (int(width * chance.uniform(0.2, 0.5)), int(height * chance.uniform(0.15, 0.4)))
    cv2.putText(over, "RECEIVED", at, cv2.FONT_HERSHEY_SIMPLEX, 2.2, (120, 120, 120), 3)
    return np.minimum(page, over)


POOR = (
    (scan.fax, scan.skew(0.6), scan.bilevel),
    (scan.noisy, scan.skew(-0.8)),
    (scan.faint,),
    (stamped, scan.punched, scan.soft, scan.skew(1.3)),
)


def make_all(folder: Path, halves: Sequence[str] = ("known", "aside"), *, few_scans: bool = False) -> None:
    """All files of these halves below ``folder``; with ``few_scans`` only the first invoice of each layout is scanned."""
    browser = open_browser()
    try:
        for template in (one for one in (*KNOWN, *ASIDE) if ("aside" if one.aside else "known") in halves):
            for at in range(PER_TEMPLATE):
                forms = ("born",) if few_scans and at else ("born", "grey", "poor")
                _make(template, at, folder / ("aside" if template.aside else "known"), browser, forms)
    finally:
        browser.quit()


def _make(template: Template, at: int, folder: Path, browser: webdriver.Chrome, forms: Sequence[str]) -> None:
    bill = draw(template, at)
    write(bill, folder, f"{template.name}-{at}-{bill.tongue.code}", browser, forms)


def write(bill: Bill, folder: Path, name: str, browser: webdriver.Chrome, forms: Sequence[str]) -> None:
    """The invoice in each of the forms, with its truth beside it."""
    pdf = printed(bill, browser)
    seed, pages = zlib.crc32(name.encode()), page_images(pdf)
    for kind, damages in (
        ("born", None),
        ("grey", (scan.soft, scan.skew((seed % 21 - 10) / 10))),
        ("poor", POOR[seed % 4]),
    ):
        if kind not in forms:
            continue
        saved(folder / kind / name, pdf, pages, damages, seed, "supplier-invoice", bill.truth())


def page_images(pdf: bytes) -> list[NDArray[np.uint8]]:
    """The pages as a scanner at 200 dpi would have them before any damage."""
    return [np.array(p.render(scale=200 / 72, grayscale=True).to_numpy()).squeeze() for p in pdfium.PdfDocument(pdf)]


def saved(
    place: Path,
    pdf: bytes,
    pages: list[NDArray[np.uint8]],
    damages: tuple[scan.Damage, ...] | None,
    seed: int,
    type_key: str,
    fields: dict[str, str],
) -> None:
    """Write the document, as it was printed or as a damaged scan, with its truth beside it."""
    target = place.with_name(f"{place.name}.{'pdf' if damages is None else 'tif'}")
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_bytes(pdf if damages is None else _scanned(pages, damages, seed))
    truth = {"type": type_key, "pages": len(pages), "fields": fields}
    target.with_name(target.name + ".truth.json").write_text(json.dumps(truth, ensure_ascii=False, indent=1))


def _scanned(pages: list[NDArray[np.uint8]], damages: tuple[scan.Damage, ...], seed: int) -> bytes:
    chance, images = np.random.default_rng(seed), []
    for page in pages:
        for damage in damages:
            page = damage(page, chance)
        images.append(Image.fromarray(page))
    out = io.BytesIO()
    images[0].save(out, "TIFF", save_all=True, append_images=images[1:], dpi=(200, 200), compression="jpeg", quality=75)
    return out.getvalue()


if __name__ == "__main__":
    make_all(Path(sys.argv[1]))
