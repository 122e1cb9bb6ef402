"""The statements that suppliers send the Harbour Board: ``python -m demo.statements``. Long tables with a balance."""

from __future__ import annotations

import json
import random
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

from markupsafe import Markup

from demo import scanning as scan
from demo.invoices import SUPPLIERS, Supplier
from demo.make import HERE, PAGES, Recipe, open_browser, print_page, scanned, written

OUT = HERE / "files" / "supplier-statements"
ROWS_A_PAGE = 28
COLUMNS = ("date", "reference", "text", "debit", "credit", "balance")
CENT = Decimal("0.01")


@dataclass(frozen=True)
class Look:
    """How a supplier's statements are laid out: words, the order of columns, type and lines."""

    supplier: Supplier
    words: dict[str, str]
    headers: dict[str, str]
    order: tuple[str, ...] = COLUMNS
    texts: tuple[str, ...] = ()
    font: str = "Liberation Sans"
    pad: float = 1.05
    ruled: bool = False

    def __getattr__(self, name: str) -> object:
        return getattr(self.supplier, name)


@dataclass(frozen=True)
class Entry:
    """One row as it is booked."""

    day: date
    reference: str
    text: str
    debit: Decimal | None
    credit: Decimal | None
    balance: Decimal


@dataclass(frozen=True)
class Sheet:
    """The rows of one page, and the balance before and after them."""

    rows: tuple[Entry, ...]
    before: Decimal
    after: Decimal


@dataclass(frozen=True)
class Statement:
    account: str
    on: date
    opening: Decimal
    rows: tuple[Entry, ...]

    @property
    def closing(self) -> Decimal:
        return self.rows[-1].balance

    @property
    def sheets(self) -> list[Sheet]:
        splits = [self.rows[at : at + ROWS_A_PAGE] for at in range(0, len(self.rows), ROWS_A_PAGE)]
        before = [self.opening, *(origin[-1].balance for origin in splits)]
        return [Sheet(origin, was, origin[-1].balance) for origin, was in zip(splits, before, strict=False)]


_ENGLISH = {
    "title": "STATEMENT OF ACCOUNT", "to": "To", "account": "Account no.", "on": "Statement date", "due": "Balance due",
    "opening": "Opening balance", "brought": "Brought forward", "carried": "Carried forward",
    "closing": "Closing balance",
    "page": "Page",
}  # fmt: skip
_GERMAN = {
    "title": "KONTOAUSZUG", "to": "An", "account": "Kundennummer", "on": "Datum", "due": "Offener Saldo",
    "opening": "Saldovortrag", "brought": "Übertrag von Seite", "carried": "Übertrag auf Seite",
    "closing": "Endsaldo", "page": "Seite",
}  # fmt: skip
_FRENCH = {
    "title": "RELEVÉ DE COMPTE", "to": "À", "account": "N° client", "on": "Date du relevé", "due": "Solde à payer",
    "opening": "Solde initial", "brought": "Report", "carried": "À reporter", "closing": "Solde final", "page": "Page",
}  # fmt: skip


def _of(key: str) -> Supplier:
    return next(supplier for supplier in SUPPLIERS if supplier.key == key)


LOOKS = {
    "tarnwick": Look(
        _of("tarnwick"), _ENGLISH,
        {"date": "Date", "reference": "Reference", "text": "Details", "debit": "Debit", "credit": "Credit",
         "balance": "Balance"},
        texts=("Invoice, rope and cordage", "Invoice, fenders", "Payment received with thanks",
               "Credit note, returned coil",
               "Invoice, splicing on site", "Interest on late payment"),
    ),
    "moewenbek": Look(
        _of("moewenbek"), _GERMAN,
        {"date": "Datum", "reference": "Beleg", "text": "Buchungstext", "debit": "Soll", "credit": "Haben",
         "balance": "Saldo"},
        texts=("Rechnung Schiffsbedarf", "Rechnung Kranarbeiten", "Zahlung, danke", "Gutschrift Rücklieferung",
               "Rechnung Prüfung"),
        font="Liberation Sans Narrow", pad=1.2, ruled=True,
    ),
    "brevanne": Look(
        _of("brevanne"), _FRENCH,
        {"date": "Date", "reference": "Pièce", "text": "Libellé", "debit": "Débit", "credit": "Crédit",
         "balance": "Solde"},
        order=("reference", "date", "text", "debit", "credit", "balance"),
        texts=("Facture atelier", "Facture soudure", "Virement reçu", "Avoir sur manilles", "Facture taud"),
        font="DejaVu Serif", pad=0.75,
    ),
    "norrhavn": Look(
        _of("norrhavn"), _ENGLISH,
        {"date": "Posted", "reference": "Document", "text": "Particulars", "debit": "Charges", "credit": "Payments",
         "balance": "Balance"},
        texts=("Bunkers, marine gas oil", "Cylinder oil, drums", "Bank transfer received", "Barge hire"),
        font="Liberation Mono", pad=0.9,
    ),
}  # fmt: skip

PILE = (
    ("tarnwick", 1, 140, "tif", (scan.soft, scan.skew(0.4), scan.bilevel)),
    ("moewenbek", 2, 47, "pdf-scan", (scan.soft, scan.punched, scan.skew(-0.8))),
    ("brevanne", 3, 61, "pdf", ()),
    ("norrhavn", 4, 33, "pdf-scan", (scan.faint, scan.skew(0.6))),
    ("tarnwick", 5, 24, "tif", (scan.fax, scan.skew(-0.4))),
    ("moewenbek", 6, 30, "tif", (scan.noisy, scan.skew(0.9))),
)


def draw(look: Look, seed: int, rows: int) -> Statement:
    """The ``seed``-th statement of the pile; always the same one."""
    chance = random.Random(f"statement {look.supplier.key} {seed}")
    day, balance = date(2026, 1, 4), Decimal(chance.randint(20_000, 900_000)) / 100
    opening, entries = balance, []
    for _ in range(rows):
        day += timedelta(days=chance.randint(0, 3))
        paid = chance.random() < 0.3 and balance > 100
        most = int(min(balance, Decimal(4000)) * 100) if paid else 240_000
        amount = (Decimal(chance.randint(700, max(most, 800))) / 100).quantize(CENT)
        balance += -amount if paid else amount
        pick = [t for t in look.texts if t.startswith(("Pay", "Zahl", "Vir", "Bank", "Credit", "Gut", "Avoir")) == paid]
        reference = f"P-{chance.randint(100, 999)}" if paid else look.supplier.number(chance)
        entries.append(
            Entry(day, reference, chance.choice(pick), None if paid else amount, amount if paid else None, balance)
        )
    return Statement(str(chance.randint(10_000, 99_999)), day, opening, tuple(entries))


def truth(look: Look, statement: Statement) -> dict[str, object]:
    def saved(entry: Entry) -> dict[str, str | None]:
        money = {key: getattr(entry, key) for key in ("debit", "credit", "balance")}
        amounts = {key: None if value is None else f"{value:.2f}" for key, value in money.items()}
        return {"date": entry.day.isoformat(), "reference": entry.reference, "text": entry.text, **amounts}

    fields = {
        "seller_name": look.supplier.name,
        "customer_number": statement.account,
        "statement_date": statement.on.isoformat(),
        "closing_balance": f"{statement.closing:.2f}",
    }
    return {"type": "supplier-statement", "pages": len(statement.sheets), "fields": fields,
            "tables": {"entries": [saved(entry) for entry in statement.rows]}}  # fmt: skip


def printed(look: Look, statement: Statement) -> str:
    supplier = look.supplier

    def cell(entry: Entry, key: str) -> str:
        if key == "date":
            return supplier.day(entry.day)
        value = getattr(entry, key)
        return "" if value is None else supplier.money(value) if isinstance(value, Decimal) else str(value)

    def carried(words: str, balance: Decimal) -> Markup:
        cells = [words if key == "text" else supplier.money(balance) if key == "balance" else "" for key in look.order]
        return Markup("").join(
            Markup('<td class="n">{}').format(text) if key == "balance" else Markup("<td>{}").format(text)
            for key, text in zip(look.order, cells, strict=True)
        )

    return PAGES.get_template("supplier-statement.html").render(
        doc=statement,
        s=look,
        pages=statement.sheets,
        cell=cell,
        carried=carried,
        day=supplier.day,
        money=supplier.money,
    )


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    browser = open_browser()
    try:
        for key, seed, rows, form, damage in PILE:
            look = LOOKS[key]
            statement, name = draw(look, seed, rows), f"statement-{key}-{seed:02d}"
            paper, recipe = print_page(printed(look, statement), browser), Recipe(key, seed, 0, form, damage)
            data = paper if form == "pdf" else written(scanned(paper, recipe, name), recipe)
            target = OUT / f"{name}.{form.removesuffix('-scan')}"
            target.write_bytes(data)
            details = json.dumps(truth(look, statement), indent=1, ensure_ascii=False)
            target.with_name(target.name + ".truth.json").write_text(details + "\n")
    finally:
        browser.quit()


if __name__ == "__main__":
    main()
