"""The lines of an invoice, its sums and how it is to be paid."""

from __future__ import annotations

from decimal import Decimal

import segno

from training.compose.draft import Draft
from training.compose.scribe import esc


def lines_of(draft: Draft) -> tuple[str, list[dict[str, str]]]:
    bill, scribe = draft.bill, draft.scribe
    columns = [c for c, share in (("pos", 0.3), ("item_code", 0.3), ("description", 1), ("quantity", 0.9), ("unit", 0.25), ("unit_price", 0.85),
                                  ("tax_rate", 0.3), ("line_total", 1), ("gross", 0.12)) if draft.chance(share)]  # fmt: skip
    if draft.chance(0.15) and "quantity" in columns:
        columns.remove("quantity")
        columns.insert(0, "quantity")
    signed = draft.chance(0.5) and scribe.signed != "none"
    money = scribe.money if signed else scribe.plain
    heads = {"pos": draft.one("#", "Pos.", "No."), "gross": scribe.say("grand_total")} | {
        c: scribe.say(c) for c in columns if c not in ("pos", "gross")
    }
    if "gross" in columns:
        heads["line_total"] = scribe.say("net_total")
    right = draft.chance(0.75)
    cells: list[list[str]] = []
    for at, item in enumerate(bill.items, start=1):
        tax = (item.amount * Decimal(item.rate) / 100).quantize(Decimal("0.01"))
        texts = {
            "pos": str(at), "item_code": item.code, "description": esc(item.description) + (f"<br>{esc(item.more)}" if item.more else ""),
            "quantity": scribe.number(item.quantity), "unit": item.unit, "unit_price": money(item.price), "tax_rate": f"{item.rate.replace('.', scribe.marks[1])} %",
            "line_total": money(item.amount), "gross": money(item.amount + tax),
        }  # fmt: skip
        cells.append([texts[c] for c in columns])
    text_like = {"pos", "item_code", "description", "unit"}
    style = draft.one("border-bottom:1px solid #999", "border:1px solid #777", "border:0", "border-top:1px solid #ccc")
    head = "".join(f'<th class="{"" if c in text_like or not right else "n"}">{esc(heads[c])}</th>' for c in columns)
    body = "".join(
        "<tr>"
        + "".join(
            f'<td style="{style}" class="{"" if c in text_like else "n" if right else "w"}">{t}</td>'
            for c, t in zip(columns, row, strict=True)
        )
        + "</tr>"
        for row in cells
    )
    shade = draft.one("", "background:#eee", "background:#334;color:#fff", "border-bottom:2px solid #222")
    sign = -1 if bill.negative else 1
    rows = [
        {
            key: value
            for key, value in (
                ("description", " ".join(f"{i.description} {i.more}".split())),
                ("quantity", str(i.quantity)),
                ("unit_price", str(sign * i.price)),
                ("line_total", str(sign * i.amount)),
            )
            if key in columns
        }
        for i in bill.items
    ]
    foot = _column_sums(draft, columns) if "gross" in columns and draft.chance(0.5) else ""
    return f'<table class="lines"><thead><tr style="{shade}">{head}</tr></thead>{body}{foot}</table>', rows


def _column_sums(draft: Draft, columns: list[str]) -> str:
    """The line under a table that adds its columns of money up."""
    bill, scribe = draft.bill, draft.scribe
    if bill.discount or bill.shipping:
        return ""
    texts = {"line_total": scribe.money(bill.net), "gross": scribe.money(bill.total)}
    cells = [f'<td class="n"><b>{esc(texts.get(column, ""))}</b></td>' for column in columns]
    at = columns.index("description")
    cells[at] = f"<td><b>{esc(draft.one('Total', scribe.say('amount_due'), scribe.say('grand_total')))}</b></td>"
    sign = -1 if bill.negative else 1
    draft.truth["net_total"], draft.truth["grand_total"] = f"{sign * bill.net:.2f}", f"{sign * bill.total:.2f}"
    return f"<tr>{''.join(cells)}</tr>"


def sums_of(draft: Draft) -> str:
    bill, say, money = draft.bill, draft.scribe.say, draft.scribe.money
    sign = -1 if bill.negative else 1
    entries: list[tuple[str, str]] = []
    with_tax = any(Decimal(rate) for rate in bill.taxes) or draft.chance(0.3)
    split = bill.discount or bill.shipping
    if split and draft.chance(0.8):
        entries.append((draft.one("Subtotal", "Sum", say("line_total")), money(bill.rows_total)))
    if bill.discount:
        entries.append((draft.one("Discount", "Rabatt", "Remise", say("paid")), "-" + money(bill.discount)))
    if bill.shipping:
        entries.append((draft.one("Shipping", "Freight", "Versand", "Porto"), money(bill.shipping)))
    if with_tax or split:
        if draft.chance(0.92):
            entries.append((say("net_total"), money(bill.net)))
            draft.truth["net_total"] = f"{sign * bill.net:.2f}"
        if with_tax:
            draft.truth["tax_total"] = f"{sign * bill.tax:.2f}"
            entries += _taxes(draft)
    total = say("grand_total") if bill.paid or draft.chance(0.75) else say("amount_due")
    if draft.scribe.code_once and draft.chance(0.7):
        total, draft.scribe.code_once = (
            f"{total} {draft.one(bill.tongue.currency, '(' + bill.tongue.currency + ')')}",
            False,
        )
    entries.append((total, money(bill.total)))
    draft.truth["grand_total"] = f"{sign * bill.total:.2f}"
    if bill.paid:
        entries.append((draft.one("Paid", "Deposit", "Anzahlung", say("paid")), draft.one("-", "") + money(bill.paid)))
        entries.append((say("amount_due"), money(bill.total - bill.paid)))
    if draft.chance(0.06):
        entries = [entries[-1], *entries[:-1]]
    return _summed(draft, [(esc(k), esc(v)) for k, v in entries])


def _taxes(draft: Draft) -> list[tuple[str, str]]:
    bill, say, money, mark = draft.bill, draft.scribe.say, draft.scribe.money, draft.scribe.marks[1]
    if len(bill.taxes) > 1 and draft.chance(0.4):
        heads = (say("tax_rate"), say("net_total"), say("tax_total"))
        rows = "".join(
            f'<tr><td>{rate.replace(".", mark)} %</td><td class="n">{esc(money(base))}</td><td class="n">{esc(money(tax))}</td></tr>'
            for rate, (base, tax) in bill.taxes.items()
        )
        draft.notes.append(f'<table class="grid"><tr>{"".join(f"<th>{esc(h)}</th>" for h in heads)}</tr>{rows}</table>')
        return [(say("tax_total"), money(bill.tax))]
    shown = []
    for rate, (base, tax) in bill.taxes.items():
        percent = f"{rate.replace('.', mark)}{draft.one('%', ' %')}"
        shown.append(
            (
                draft.one(
                    f"{say('tax_total')} {percent}",
                    f"{say('tax_total')} ({percent})",
                    f"{percent} {say('tax_total')}",
                    f"{say('tax_total')} {percent} {money(base)}",
                    say("tax_total"),
                ),
                money(tax),
            )
        )
    return shown


def _summed(draft: Draft, pairs: list[tuple[str, str]]) -> str:
    colon, bold = draft.scribe.colon, draft.chance(0.6)
    last = [f"<b>{v}</b>" if bold and at == len(pairs) - 1 else v for at, (_, v) in enumerate(pairs)]
    side = draft.one("margin-left:auto", "margin-left:auto", "margin-left:auto", "")
    match draft.one("table", "table", "table", "across", "wide", "text"):
        case "table":
            gap = draft.lot.randrange(2, 30)
            return (
                f'<table style="{side}">'
                + "".join(
                    f'<tr><td>{k}{colon}</td><td class="n" style="padding-left:{gap}mm">{v}</td></tr>'
                    for (k, _), v in zip(pairs, last, strict=True)
                )
                + "</table>"
            )
        case "across":
            return (
                f'<table class="grid" style="{side}"><tr>'
                + "".join(f"<th>{k}</th>" for k, _ in pairs)
                + "</tr><tr>"
                + "".join(f'<td class="n">{v}</td>' for v in last)
                + "</tr></table>"
            )
        case "wide":
            return (
                '<table style="width:100%">'
                + "".join(
                    f'<tr><td style="border-top:1px solid #aaa">{k}{colon}</td><td class="n" style="border-top:1px solid #aaa">{v}</td></tr>'
                    for (k, _), v in zip(pairs, last, strict=True)
                )
                + "</table>"
            )
        case _:
            return (
                '<div class="right">'
                + "".join(f"<div>{k}: {v}</div>" for (k, _), v in zip(pairs, last, strict=True))
                + "</div>"
            )


def payment_of(draft: Draft) -> str:
    bill, say = draft.bill, draft.scribe.say
    if not bill.iban or draft.chance(0.3):
        return ""
    draft.truth["seller_iban"] = bill.iban
    iban = " ".join(bill.iban[at : at + 4] for at in range(0, len(bill.iban), 4)) if draft.chance(0.7) else bill.iban
    bic = "".join(draft.lot.choice("ABCDEFGHKLMN") for _ in range(6)) + "2X"
    entries = [(draft.one("Bank", "Bank", say("payment")), bill.bank), ("IBAN", iban), ("BIC", bic)]
    if draft.chance(0.3):
        entries.insert(0, (draft.one("Account holder", "Kontoinhaber", "Name"), bill.seller.name))
    if draft.chance(0.3):
        entries.append((draft.one("Reference", "Payment reference", say("document_number")), bill.number))
    draft.lot.shuffle(entries)
    text = draft.one("<br>", " · ", "<br>").join(f"{esc(k)}: {esc(v)}" for k, v in entries)
    block = f'<div class="{draft.one("box", "", "small")}" style="margin-top:6mm">{text}</div>'
    return block + _slip(draft, iban) if draft.chance(0.25) else block


def _slip(draft: Draft, iban: str) -> str:
    """A part to pay with: a code, who is paid and who pays."""
    bill, money = draft.bill, draft.scribe.money(draft.bill.total)
    paid_to = [draft.one("Account / Payable to", "Konto / Zahlbar an", "Payable to", "Compte / Payable à"), iban,
               bill.seller.name, bill.seller.street, bill.seller.place]  # fmt: skip
    paid_by = [
        draft.one("Payable by", "Zahlbar durch", "Payable par", "Debtor"),
        bill.buyer.name,
        bill.buyer.street,
        bill.buyer.place,
    ]
    code = segno.make(_coded(draft), error="m").svg_data_uri(scale=2)
    title = draft.one("Payment part", "Zahlteil", "Receipt", "Section paiement", "Pay with this code")
    parts = ["<br>".join(map(esc, paid_to))] + (["<br>".join(map(esc, paid_by))] if draft.chance(0.6) else [])
    cells = "".join(f"<div>{part}</div>" for part in parts)
    return (
        f'<div class="row small" style="margin-top:8mm;break-inside:avoid"><div><b>{esc(title)}</b><br>'
        f'<img src="{code}" style="width:30mm"><br>{esc(money)}</div>{cells}</div>'
    )


def _coded(draft: Draft) -> str:
    """The text of the payment code: Swiss QR-bill, SPAYD, or EPC069-12."""
    bill = draft.bill
    amount = f"{abs(bill.total):.2f}"
    if bill.tongue.country == "CH":
        seller, buyer = (["S", p.name, p.street, "", *p.place.split(" ", 1), "CH"] for p in (bill.seller, bill.buyer))
        return "\n".join(
            ["SPC", "0200", "1", bill.iban, *seller, *[""] * 7, amount, "CHF", *buyer, "NON", "", "", "EPD"]
        )
    if bill.tongue.country in ("CZ", "SK"):
        return f"SPD*1.0*ACC:{bill.iban}*AM:{amount}*CC:{bill.tongue.currency}*X-VS:{bill.number}"
    return "\n".join(
        ["BCD", "002", "1", "SCT", "", bill.seller.name[:70], bill.iban, f"EUR{amount}", "", "", bill.number]
    )
