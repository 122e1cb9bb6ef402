"""The title of an invoice, and the block of its numbers and dates."""

from __future__ import annotations

from datetime import timedelta

from training.compose.draft import Draft
from training.compose.scribe import esc


def title_of(draft: Draft) -> str:
    word = draft.scribe.say("credit_note_number" if draft.bill.negative else "invoice_number")
    word = draft.one(
        word,
        *(("Rechnung",) if draft.scribe.language == "de" else ()),
        *(("INVOICE", "Invoice", "Tax Invoice") if draft.scribe.language == "en" else ()),
    )
    if draft.chance(0.3):
        draft.truth["invoice_number"] = draft.bill.number
        word = f"{word}{draft.one(' ', ': ', ' # ', ' #', ' No. ', ' Nr. ', ' n° ')}{draft.bill.number}"
    return f'<div class="{draft.one("big", "big", "")}"><b>{esc(word)}</b></div>'


def numbers_of(draft: Draft) -> str:
    """The block of numbers and dates."""
    bill, say, truth = draft.bill, draft.scribe.say, draft.truth
    entries: list[tuple[str, str]] = []
    if truth["invoice_number"] is None or draft.chance(0.3):
        truth["invoice_number"] = bill.number
        entries.append((say("invoice_number") if draft.chance(0.85) else say("document_number"), bill.number))
    if draft.chance(0.97):
        truth["issue_date"] = bill.issued.isoformat()
        entries.append((say("issue_date") if draft.chance(0.6) else say("date"), draft.scribe.day(bill.issued)))
    due = draft.lot.random()
    if due < 0.6:
        truth["due_date"] = bill.due.isoformat()
        entries.append((say("due_date"), draft.scribe.day(bill.due)))
    elif due < 0.8 and bill.days and truth["issue_date"]:
        truth["due_date"] = bill.due.isoformat()
        draft.notes.append(draft.one(*bill.tongue.days).format(bill.days))
    if draft.chance(0.5):
        truth["order_reference"] = bill.order
        entries.append((say("order_number"), bill.order))
    if draft.chance(0.45):
        entries.append((say("customer_number"), bill.customer))
    if draft.chance(0.25):
        delivered = bill.issued - timedelta(days=draft.lot.choice((0, 1, 1, 2, 5, 9, 20)))
        entries.append((say("delivery_date"), draft.scribe.day(delivered)))
    if draft.chance(0.2):
        entries.append((say("contact"), bill.seller.person))
    if draft.chance(0.2):
        entries.append((say("payment"), draft.one("SEPA", "30", "Visa", "netto")))
    if draft.chance(0.6):
        draft.lot.shuffle(entries)
    return _listed(draft, entries)


def _listed(draft: Draft, entries: list[tuple[str, str]]) -> str:
    pairs, colon = [(esc(k), esc(v)) for k, v in entries], draft.scribe.colon
    match draft.one("rows", "rows", "colons", "across", "boxes", "stacked", "values right"):
        case "rows":
            return (
                "<table>"
                + "".join(f'<tr><td style="padding-right:5mm">{k}{colon}</td><td>{v}</td></tr>' for k, v in pairs)
                + "</table>"
            )
        case "values right":
            return (
                "<table>"
                + "".join(
                    f'<tr><td class="n">{k}{colon}</td><td class="n" style="padding-left:4mm">{v}</td></tr>'
                    for k, v in pairs
                )
                + "</table>"
            )
        case "colons":
            return "".join(f"<div>{k}: {'<b>' * (len(k) % 2)}{v}{'</b>' * (len(k) % 2)}</div>" for k, v in pairs)
        case "across":
            return (
                '<table class="grid"><tr>'
                + "".join(f"<th>{k}</th>" for k, _ in pairs)
                + "</tr><tr>"
                + "".join(f"<td>{v}</td>" for _, v in pairs)
                + "</tr></table>"
            )
        case "boxes":
            return (
                '<div style="display:flex;flex-wrap:wrap;gap:2mm">'
                + "".join(
                    f'<div class="box" style="padding:1mm 3mm"><div class="small">{k}</div>{v}</div>' for k, v in pairs
                )
                + "</div>"
            )
        case _:
            return "".join(
                f'<div style="margin-bottom:1.5mm"><span class="small">{k}</span><br>{v}</div>' for k, v in pairs
            )
