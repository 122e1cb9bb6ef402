"""Lays an invoice out by lot: which parts it has, where they stand, in what print."""

from __future__ import annotations

import random
from dataclasses import dataclass

from training.compose.bill import Bill
from training.compose.draft import Draft
from training.compose.numbers import numbers_of, title_of
from training.compose.parties import buyer_of, foot_of, seller_of
from training.compose.scribe import Scribe
from training.compose.sums import lines_of, payment_of, sums_of

FONTS = (
    "Liberation Sans",
    "Liberation Serif",
    "DejaVu Sans",
    "DejaVu Serif",
    "Liberation Mono",
    "Liberation Sans Narrow",
)


@dataclass
class Paper:
    """The page as HTML, and the truth of its fields; None for what is not printed."""

    markup: str
    fields: dict[str, str | None]
    rows: list[dict[str, str]]
    author: str
    """What the file says of who made it; "" for nothing."""
    title: str


def composed(lot: random.Random, bill: Bill) -> Paper:
    """The invoice on paper."""
    draft = Draft(lot, bill, Scribe(lot, bill))
    draft.truth = dict.fromkeys(
        ("seller_name", "seller_vat_id", "seller_iban", "buyer_name", "invoice_number", "issue_date", "due_date", "order_reference",
         "currency", "net_total", "tax_total", "grand_total")
    )  # fmt: skip
    title, meta = title_of(draft), numbers_of(draft)
    seller, seller_in_foot = seller_of(draft)
    buyer = buyer_of(draft)
    head = _arranged(draft, title, meta, seller, buyer)
    lines, rows = lines_of(draft)
    body = [head, lines, sums_of(draft) if draft.chance(0.95) else "", payment_of(draft)]
    if draft.notes:
        body.append(f"<p>{'<br>'.join(draft.notes)}</p>")
    foot = foot_of(draft, seller_in_foot)
    draft.truth["currency"] = bill.tongue.currency
    return Paper(_page(draft, "".join(body), foot), draft.truth, rows, *_properties(draft))


def _properties(draft: Draft) -> tuple[str, str]:
    """What the file says of itself: often nothing, or who drew the form."""
    bill = draft.bill
    others = ("", "", "", bill.seller.person, bill.buyer.name, "admin", "Accounting 3.1", "office")
    author = bill.seller.name if draft.chance(0.25) else draft.one(*others)
    titles = (f"{draft.scribe.say('document_title')} {bill.number}", bill.number, f"{bill.buyer.name} {bill.issued}")
    return author, draft.one(*titles) if draft.chance(0.4) else draft.one("", "", "Invoice", "untitled", "print.html")


def _page(draft: Draft, body: str, foot: str) -> str:
    size = draft.lot.choice((8, 8.5, 9, 9.5, 10, 10.5, 11, 12))
    margin, gap = draft.lot.randrange(9, 24), draft.lot.choice((1.15, 1.25, 1.35, 1.5))
    paper = "Letter" if draft.bill.tongue.country in ("US", "MX") else "A4"
    return f"""<!doctype html><meta charset="utf-8"><style>@page{{size:{paper};margin:{margin}mm}}
body{{font:{size}pt/{gap} "{draft.one(*FONTS)}";margin:0}} table{{border-collapse:collapse}} td,th{{vertical-align:top;text-align:left}}
.n{{text-align:right}} .n,.w{{white-space:nowrap}} .big{{font-size:{draft.one("13", "16", "20", "26")}pt}} .small{{font-size:{size * 0.75}pt}}
.row{{display:flex;gap:{draft.lot.randrange(3, 16)}mm;margin-bottom:{draft.lot.randrange(3, 11)}mm}} .grow{{flex:1}}
.lines{{width:100%;margin:5mm 0}} .lines td,.lines th{{padding:{draft.one("1px 4px", "3px 6px", "6px 8px")}}} tr{{break-inside:avoid}}
.grid td,.grid th{{border:1px solid #777;padding:{draft.one("1px 4px", "2px 6px", "5px 6px", "8px 10px")}}} .box{{border:1px solid #888;padding:3mm}} .right{{text-align:right}}
.foot{{position:fixed;bottom:0;left:0;right:0;font-size:{size * 0.8}pt;display:flex;justify-content:space-between;gap:6mm;background:#fff}}
body{{padding-bottom:24mm}}</style>{body}{foot}"""


def _arranged(draft: Draft, title: str, meta: str, seller: str, buyer: str) -> str:
    def row(*cells: str) -> str:
        sides = [
            f'<div class="grow{" right" if at and draft.chance(0.25) else ""}">{cell}</div>'
            for at, cell in enumerate(cells)
        ]
        return f'<div class="row">{"".join(sides)}</div>'

    rows: tuple[tuple[str, ...], ...] = draft.lot.choice((
        ((seller,), (buyer, meta), (title,)),
        ((title, seller), (buyer, meta)),
        ((title,), (seller, buyer), (meta,)),
        ((seller, title + meta), (buyer,)),
        ((title, meta), (seller, buyer)),
        ((buyer, seller), (title,), (meta,)),
        ((title,), (meta,), (buyer, seller)),
        ((f'<div style="text-align:center">{seller}</div>',), (buyer, title + meta)),
    ))  # fmt: skip
    return "".join(row(*cells) for cells in rows)
