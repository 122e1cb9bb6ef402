"""Line items in layouts that no rule was made on: other headers, orders, lines, gaps, languages and page breaks.

Each is a page of HTML and the truth of its rows; the ugly ones are scanned badly besides.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from decimal import Decimal

from demo import scanning as scan

CENT = Decimal("0.01")
GOODS = (
    ("K-204", "Ball valve, brass", "full bore, PN 16", "pcs", "18.40"),
    ("11.870", "Hydraulic hose 1/2 inch", "", "m", "7.95"),
    ("P-9", "Work platform, hire", "from 3 to 7 March", "days", "145.00"),
    ("GX 40", "Grease, lithium, cartridge 400 g", "", "pcs", "4.35"),
    ("A-1010", "Anchor chain 13 mm", "galvanised, with certificate", "m", "22.60"),
    ("S-77", "Site visit and report", "two fitters", "hrs", "68.00"),
    ("F-3", "Filter element", "", "pcs", "1230.00"),
    ("W-12", "Wire rope 10 mm", "6 x 36, right-hand lay", "m", "3.15"),
)


@dataclass(frozen=True)
class Item:
    code: str
    text: str
    more: str
    unit: str
    quantity: int
    price: Decimal

    @property
    def amount(self) -> Decimal:
        return (self.quantity * self.price).quantize(CENT)


Truth = list[dict[str, str | None]]


@dataclass(frozen=True)
class Layout:
    """How a page is made, which columns it has, and what happens to it before it is read."""

    name: str
    page: Callable[[Sequence[Item]], str]
    columns: tuple[str, ...]
    rows: int = 6
    damage: tuple[scan.Damage, ...] = ()


def items(layout: Layout) -> list[Item]:
    """The rows of a layout; always the same ones."""
    chance = random.Random(f"table {layout.name}")
    picked = [chance.choice(GOODS) for _ in range(layout.rows)]
    return [
        Item(code, text, more, unit, chance.randint(1, 40), Decimal(price)) for code, text, more, unit, price in picked
    ]


def truth(layout: Layout) -> Truth:
    rows: Truth = []
    for item in items(layout):
        joined = f"{item.text}\n{item.more}" if item.more else item.text
        every = {
            "item_code": item.code,
            "description": joined,
            "quantity": str(item.quantity),
            "unit": item.unit,
            "unit_price": f"{item.price:.2f}",
            "line_total": f"{item.amount:.2f}",
        }
        rows.append({key: every[key] for key in layout.columns})
    return rows


def _en(value: Decimal) -> str:
    return f"{value:,.2f}"


def _de(value: Decimal) -> str:
    return f"{value:,.2f}".translate(str.maketrans(",.", ".,"))


def _fr(value: Decimal) -> str:
    return f"{value:,.2f}".replace(",", " ").replace(".", ",")


def _html(style: str, body: str, title: str = "INVOICE 4471", foot: str = "") -> str:
    return (
        '<!doctype html><meta charset="utf-8"><style>@page{size:A4;margin:18mm 17mm}'
        'body{font:10pt "Liberation Sans"} table{width:100%;border-collapse:collapse;margin-top:9mm}'
        f"td,th{{padding:1mm 1.5mm;text-align:left;vertical-align:top;font-weight:normal}} .n{{text-align:right}}{style}"
        f"</style><b>Pellworth Marine Stores</b><br>8 Gull Lane, Estrel<h2>{title}</h2>"
        f"<p>Date 03.03.2026 &nbsp; Order QHB-5512</p>{body}{foot}"
    )


def _sums(rows: Sequence[Item], words: tuple[str, str, str], money: Callable[[Decimal], str]) -> str:
    net = sum((item.amount for item in rows), Decimal(0))
    tax = (net / 5).quantize(CENT)
    lines = "".join(
        f'<tr><td>{word}<td class="n">{money(value)}' for word, value in zip(words, (net, tax, net + tax), strict=True)
    )
    return f'<table style="width:70mm;margin:7mm 0 0 auto">{lines}</table>'


ENGLISH, GERMAN = ("Net total", "VAT 20 %", "Amount due"), ("Zwischensumme netto", "USt. 20 %", "Rechnungsbetrag")
FRENCH, SPANISH = ("Total HT", "TVA 20 %", "Net à payer"), ("Base imponible", "IVA 20 %", "Total a pagar")
DUTCH = ("Subtotaal", "BTW 20 %", "Te betalen")


def _rows(rows: Sequence[Item], cells: Callable[[Item], Sequence[str]], numbers: str) -> str:
    """Table rows; ``numbers`` says of each cell whether it stands right ("n") or left (".")."""
    return "".join(
        "<tr>" + "".join(f'<td class="{"n" if at == "n" else ""}">{cell}' for at, cell in zip(numbers, cells(item), strict=True))
        for item in rows
    )  # fmt: skip


def _two(item: Item) -> str:
    return f"{item.text}<br>{item.more}" if item.more else item.text


def _quantity_first(rows: Sequence[Item]) -> str:
    header = '<tr style="border-bottom:1pt solid #000"><th class="n">Qty<th>Part no.<th>Description<th class="n">Unit price<th class="n">Total'
    cells = lambda i: (str(i.quantity), i.code, _two(i), _en(i.price), _en(i.amount))  # noqa: E731
    return _html("", f"<table>{header}{_rows(rows, cells, 'n..nn')}</table>" + _sums(rows, ENGLISH, _en))


def _german_unit(rows: Sequence[Item]) -> str:
    header = '<tr style="background:#ddd"><th>Pos.<th class="n">Menge<th>ME<th>Bezeichnung<th class="n">E-Preis<th class="n">G-Preis'
    numbered = {id(item): at for at, item in enumerate(rows, start=1)}
    cells = lambda i: (str(numbered[id(i)]), str(i.quantity), i.unit, _two(i), _de(i.price), _de(i.amount))  # noqa: E731
    return _html(
        "", f"<table>{header}{_rows(rows, cells, '.n..nn')}</table>" + _sums(rows, GERMAN, _de), "Rechnung 4471"
    )


def _french_unruled(rows: Sequence[Item]) -> str:
    header = '<tr><th>Désignation<th class="n">Qté<th class="n">P.U. HT<th class="n">Montant HT'
    cells = lambda i: (_two(i), str(i.quantity), _fr(i.price), _fr(i.amount))  # noqa: E731
    body = f"<table>{header}{_rows(rows, cells, '.nnn')}</table>"
    return _html('body{font-family:"DejaVu Serif"}', body + _sums(rows, FRENCH, _fr), "Facture 4471")


def _wrapped_head(rows: Sequence[Item]) -> str:
    header = '<tr style="border:1pt solid #000"><th>Stock<br>code<th>Particulars<th class="n">Quantity<br>supplied<th class="n">Price<br>each<th class="n">Net<br>amount'
    cells = lambda i: (i.code, _two(i), str(i.quantity), _en(i.price), _en(i.amount))  # noqa: E731
    return _html("", f"<table>{header}{_rows(rows, cells, '..nnn')}</table>" + _sums(rows, ENGLISH, _en))


def _foot_values(rows: Sequence[Item]) -> str:
    header = '<tr style="border-bottom:1pt solid #000"><th>Description<th class="n">Quantity<th class="n">Price<th class="n">Amount'
    style = "td{vertical-align:bottom!important}"
    cells = lambda i: (_two(i), str(i.quantity), _en(i.price), _en(i.amount))  # noqa: E731
    return _html(style, f"<table>{header}{_rows(rows, cells, '.nnn')}</table>" + _sums(rows, ENGLISH, _en))


def _middle_values(rows: Sequence[Item]) -> str:
    header = '<tr><th>Item<th>Details<th class="n">Units<th class="n">Rate<th class="n">Line total'
    style = "td{vertical-align:middle!important;padding-top:3mm!important;padding-bottom:3mm!important}"
    cells = lambda i: (i.code, f"{_two(i)}<br>stock item", str(i.quantity), _en(i.price), _en(i.amount))  # noqa: E731
    return _html(style, f"<table>{header}{_rows(rows, cells, '..nnn')}</table>" + _sums(rows, ENGLISH, _en))


def _full_grid(rows: Sequence[Item]) -> str:
    header = "<tr><th>Art.-Nr.<th>Artikelbezeichnung<th>Anzahl<th>Einheit<th>Einzelpreis<th>Gesamtpreis"
    style = "td,th{border:.6pt solid #333} tr:nth-child(even){background:#eee}"
    cells = lambda i: (i.code, _two(i), str(i.quantity), i.unit, _de(i.price), _de(i.amount))  # noqa: E731
    return _html(
        style, f"<table>{header}{_rows(rows, cells, '..n.nn')}</table>" + _sums(rows, GERMAN, _de), "Rechnung 4471"
    )


def _no_head(rows: Sequence[Item]) -> str:
    cells = lambda i: (f"{i.quantity} x", i.text, _en(i.price), _en(i.amount))  # noqa: E731
    return _html("", f"<table>{_rows(rows, cells, '..nn')}</table>" + _sums(rows, ENGLISH, _en))


def _with_groups(rows: Sequence[Item]) -> str:
    header = '<tr style="border-bottom:.8pt solid #000"><th class="n">Cantidad<th>Concepto<th class="n">Precio<th class="n">Importe'
    cells = lambda i: (str(i.quantity), _two(i), _de(i.price), _de(i.amount))  # noqa: E731
    half, body = len(rows) // 2, ""
    for part, name in ((rows[:half], "Taller"), (rows[half:], "Almacén")):
        total = sum((item.amount for item in part), Decimal(0))
        body += f"<tr><td><td><b>{name}</b><td><td>{_rows(part, cells, 'n.nn')}"
        body += f'<tr><td><td>Subtotal<td><td class="n">{_de(total)}'
    return _html("", f"<table>{header}{body}</table>" + _sums(rows, SPANISH, _de), "Factura 4471")


def _dutch_euro(rows: Sequence[Item]) -> str:
    header = '<tr style="border-bottom:2pt solid #555"><th>Omschrijving<th class="n">Aantal<th class="n">Prijs<th class="n">Bedrag'
    cells = lambda i: (_two(i), str(i.quantity), f"€ {_de(i.price)}", f"€ {_de(i.amount)}")  # noqa: E731
    return _html("", f"<table>{header}{_rows(rows, cells, '.nnn')}</table>" + _sums(rows, DUTCH, _de), "Factuur 4471")


def _repeated_head(rows: Sequence[Item]) -> str:
    header = '<tr style="border-bottom:1pt solid #000"><th>Code<th>Description<th class="n">Qty<th class="n">Price<th class="n">Value'
    cells = lambda i: (i.code, _two(i), str(i.quantity), _en(i.price), _en(i.amount))  # noqa: E731
    half = len(rows) // 2
    carried = sum((item.amount for item in rows[:half]), Decimal(0))
    first = f'<table>{header}{_rows(rows[:half], cells, "..nnn")}<tr><td><td>Carried forward<td><td><td class="n">{_en(carried)}</table>'
    second = f'<table>{header}<tr><td><td>Brought forward<td><td><td class="n">{_en(carried)}{_rows(rows[half:], cells, "..nnn")}</table>'
    return _html("", first + '<div style="break-before:page"></div>' + second + _sums(rows, ENGLISH, _en))


def _bare_second_page(rows: Sequence[Item]) -> str:
    header = (
        '<tr style="border-bottom:1pt solid #000"><th>Service<th class="n">Hours<th class="n">Rate<th class="n">Amount'
    )
    cells = lambda i: (_two(i), str(i.quantity), _en(i.price), _en(i.amount))  # noqa: E731
    widths = "<colgroup><col style='width:50%'><col><col><col></colgroup>"
    half, fixed = len(rows) // 2, "table{table-layout:fixed}"
    first = f"<table>{widths}{header}{_rows(rows[:half], cells, '.nnn')}</table>"
    second = f"<table>{widths}{_rows(rows[half:], cells, '.nnn')}</table>"
    return _html(fixed, first + '<div style="break-before:page"></div>' + second + _sums(rows, ENGLISH, _en))


def _dense(rows: Sequence[Item]) -> str:
    header = '<tr style="border-bottom:.5pt solid #000"><th>Item<th>Description<th class="n">Qty<th>UoM<th class="n">Price<th class="n">Ext. price'
    style = "table{width:118mm} td,th{padding:.25mm .7mm;font-size:7.6pt}"
    cells = lambda i: (i.code, _two(i), str(i.quantity), i.unit, _en(i.price), _en(i.amount))  # noqa: E731
    return _html(style, f"<table>{header}{_rows(rows, cells, '..n.nn')}</table>" + _sums(rows, ENGLISH, _en))


def _strange_heads(rows: Sequence[Item]) -> str:
    header = '<tr style="border-bottom:1pt solid #000"><th>Nummer<th>Was<th class="n">Stk.<th class="n">zu je<th class="n">macht'
    cells = lambda i: (i.code, i.text, str(i.quantity), _de(i.price), _de(i.amount))  # noqa: E731
    return _html(
        "", f"<table>{header}{_rows(rows, cells, '..nnn')}</table>" + _sums(rows, GERMAN, _de), "Rechnung 4471"
    )


_FULL = ("item_code", "description", "quantity", "unit_price", "line_total")
_PLAIN = _FULL[1:]
LAYOUTS = (
    Layout("quantity first", _quantity_first, _FULL),
    Layout("german with unit", _german_unit, ("description", "quantity", "unit", "unit_price", "line_total")),
    Layout("french without lines", _french_unruled, _PLAIN),
    Layout("header on two lines", _wrapped_head, _FULL),
    Layout("values at the foot", _foot_values, _PLAIN),
    Layout("values in the middle", _middle_values, ("item_code", "quantity", "unit_price", "line_total")),
    Layout("full grid", _full_grid, ("item_code", "description", "quantity", "unit", "unit_price", "line_total")),
    Layout("spanish groups", _with_groups, _PLAIN),
    Layout("dutch with currency", _dutch_euro, _PLAIN),
    Layout("header repeated", _repeated_head, _FULL, rows=14),
    Layout("second page bare", _bare_second_page, _PLAIN, rows=12),
    Layout("one row", _quantity_first, _FULL, rows=1),
    Layout("ugly: dense and noisy", _dense, (*_FULL[:3], "unit", *_FULL[3:]), rows=9, damage=(scan.noisy, scan.skew(0.8))),
    Layout("ugly: fax of a grid", _full_grid, ("item_code", "description", "quantity", "unit", "unit_price", "line_total"),
           damage=(scan.fax, scan.skew(-1.2))),
    Layout("ugly: faint, strange headers", _strange_heads, _FULL, damage=(scan.faint, scan.skew(0.5))),
    Layout("ugly: no header, coffee", _no_head, _PLAIN, damage=(scan.coffee, scan.soft, scan.skew(1.3))),
)  # fmt: skip
