"""How the two parties stand on an invoice: letterhead, headed address, window, foot of the page."""

from __future__ import annotations

import re

from training.compose.bill import PartyDetails
from training.compose.draft import Draft
from training.compose.scribe import esc


def seller_of(draft: Draft) -> tuple[str, list[str]]:
    """The seller at the head, and what is left for the foot."""
    party = draft.bill.seller
    draft.truth["seller_name"] = party.name
    lines, foot = _address(draft, party, []), []
    reach = [f"{draft.one('Tel', 'Tel.', 'Phone', 'T')}: {party.phone}", party.email, party.web][
        : draft.lot.randrange(4)
    ]
    style = draft.one(
        "letterhead", "letterhead", "headed", "headed", "plain", "name only", "one line", "labelled", "parted", "brand"
    )
    where = draft.lot.random()
    if style in ("plain", "one line"):  # without a heading and without large print mostly something else tells
        where, reach = 0.0, reach or ([party.email] if draft.chance(0.7) else [])
    tax = [_tax_number(draft)] if draft.chance(0.8) else []
    if where < 0.5:
        gap = [""] if draft.chance(0.25) else []  # the ways to reach somebody may be set off
        lines += [*gap, *tax, *reach] if draft.chance(0.5) else [*gap, *reach, *tax]
    else:
        foot = [*tax, *reach]
    shown = party.name.upper() if draft.chance(0.1) else party.name
    name = f"<b>{esc(shown)}</b>" if draft.chance(0.6) else esc(shown)
    if party.person != party.name and draft.chance(0.08):  # who owns the firm, over or under its name
        name = f"{name}<br>{esc(party.person)}" if draft.chance(0.6) else f"{esc(party.person)}<br>{name}"
    if style == "labelled":
        return labelled(draft, party, draft.scribe.say("seller"), [*tax, *reach]), [] if where < 0.5 else foot
    return _styled(draft, style, name, lines, foot)


def _styled(draft: Draft, style: str, name: str, lines: list[str], foot: list[str]) -> tuple[str, list[str]]:
    """The seller in one of the styles that have no labels of their own, and what is left for the foot."""
    party, rest = draft.bill.seller, [esc(line) for line in lines]
    match style:
        case "parted":
            parts = f'<div class="grow"><b>{esc(party.name)}</b></div><div>{"<br>".join(rest)}</div>'
            return f'<div class="row">{parts}</div>', foot
        case "headed":
            head = f"{esc(draft.scribe.say('seller'))}{draft.scribe.colon}"
            head = f"<b>{head}</b>" if draft.chance(0.4) else head
            return f"<div>{head}</div><div>{name}</div>" + "<br>".join(rest), foot
        case "brand":
            return _branded(draft, rest, foot)
        case "name only":
            return f'<div class="big">{name}</div>', [party.name, *lines, *foot]
        case "one line":
            return f"<div>{name}{draft.one(', ', ' · ', ' | ')}{', '.join(rest)}</div>", foot
        case _:
            top = f'<div class="big">{name}</div>' if style == "letterhead" else f"<div>{name}</div>"
            return top + "<br>".join(rest), foot


def _branded(draft: Draft, rest: list[str], foot: list[str]) -> tuple[str, list[str]]:
    """The seller's short name in large print, and the one that it is registered by over the address or in the foot."""
    party = draft.bill.seller
    short = party.core if draft.chance(0.7) else party.core.split()[0].upper()
    top = f'<div class="big">{esc(short)}</div>'
    if draft.chance(0.6):
        return top + "<br>".join([esc(party.name), *rest]), foot
    return top + ("<br>".join(rest) if draft.chance(0.5) else ""), [party.name, party.street, party.place, *foot]


def _names(draft: Draft) -> list[str]:
    """Who is addressed: a firm, a person, or both in either order, and whom to ask for."""
    party, lot = draft.bill.buyer, draft.lot
    names = [party.name]
    if party.name != party.person:
        way = lot.random()
        names = [party.name, party.person] if way < 0.15 else [party.person, party.name] if way < 0.25 else names
        if 0.25 <= way < 0.37:
            names.append(
                draft.one("Accounts Payable", "Buchhaltung", "Service comptabilité", "Purchasing", "Administración")
            )
        if way > 0.9:
            names.append(f"{draft.one('Attn:', 'z. Hd.', 'c/o', 'Attention')} {party.person}")
    return names


def buyer_of(draft: Draft) -> str:
    party = draft.bill.buyer
    draft.truth["buyer_name"] = party.name
    names = _names(draft)
    lines = [esc(line) for line in _address(draft, party, names)]
    if draft.chance(0.12):
        lines = [esc(name) for name in names]
    if draft.chance(0.3):
        lines.append(esc(f"{draft.one(*draft.bill.tongue.tax_label)}: {party.tax_number}"))
    if draft.chance(0.12):
        lines.append(esc(party.email))
    if draft.chance(0.35):
        lines[0] = f"<b>{lines[0]}</b>"
    if draft.chance(0.06):
        lines[0] = f'<span class="big">{lines[0]}</span>'
    if draft.chance(0.08):
        lines.insert(1, "")
    label = esc(draft.scribe.say("buyer"))
    match draft.one(
        "above", "above", "above", "beside", "prefix", "window", "window", "none", "none", "none", "labelled"
    ):
        case "labelled":
            block = labelled(draft, party, draft.scribe.say("buyer"), [])
        case "above":
            head = f"<b>{label}{draft.scribe.colon}</b>" if draft.chance(0.5) else label + draft.scribe.colon
            block = f"<div>{head}</div>" + "<br>".join(lines)
        case "beside":
            block = f'<table><tr><td style="padding-right:6mm">{label}{draft.scribe.colon}</td><td>{"<br>".join(lines)}</td></tr></table>'
        case "prefix":
            block = f"{label}: " + "<br>".join(lines)
        case "window":
            small = " · ".join(esc(part) for part in _address(draft, draft.bill.seller, [draft.bill.seller.name]))
            block = f'<div class="small" style="text-decoration:underline">{small}</div>' + "<br>".join(lines)
        case _:
            block = "<br>".join(lines)
    return _with_delivery(draft, block) if draft.chance(0.18) else block


def _with_delivery(draft: Draft, block: str) -> str:
    """The buyer's block with an address for the goods beside it."""
    party = draft.bill.buyer
    gate = [party.name, draft.one("Gate 4", "Warehouse", "Dock 2"), party.place]
    other = gate if draft.chance(0.6) else [party.person, party.street, party.place]
    label = esc(draft.scribe.say("delivery_address")) + draft.scribe.colon
    return f'<div class="row"><div>{block}</div><div>{label}<br>{"<br>".join(map(esc, other))}</div></div>'


def labelled(draft: Draft, party: PartyDetails, heading: str, more: list[str]) -> str:
    """A party as a form has it: every line with a label of its own."""
    say = draft.scribe.say
    street, place = draft.one("Address", "Street", "Adresse"), draft.one("City", "Place", "Town")
    entries = [(say("name"), party.name), (street, party.street), (place, party.place)]
    head = f"<div><b>{esc(heading)}</b></div>" if draft.chance(0.6) else ""
    lines = [f"{esc(k)}: {esc(v)}" for k, v in entries] + [esc(line) for line in more]
    if draft.chance(0.4):
        rows = "".join(f'<tr><td style="padding-right:5mm">{esc(k)}</td><td>{esc(v)}</td></tr>' for k, v in entries)
        return f"{head}<table>{rows}</table>" + "<br>".join(esc(line) for line in more)
    return head + "<br>".join(lines)


def foot_of(draft: Draft, left: list[str]) -> str:
    if not left:
        return (
            f'<div class="foot"><span>{esc(draft.one(draft.bill.seller.name, "Thank you!", "1 / 1", ""))}</span></div>'
            if draft.chance(0.5)
            else ""
        )
    if draft.chance(0.4):
        return f'<div class="foot"><span>{esc(draft.one(" · ", " | ", ", ").join(left))}</span></div>'
    third = max(len(left) // 3, 1)
    columns = [left[at : at + third] for at in range(0, len(left), third)]
    return (
        '<div class="foot">' + "".join(f"<div>{'<br>'.join(map(esc, column))}</div>" for column in columns) + "</div>"
    )


def _address(draft: Draft, party: PartyDetails, names: list[str]) -> list[str]:
    towns = [party.place]
    if " " in party.place and draft.chance(0.06):  # postcode and town each on a line
        towns = party.place.replace(",", "").split(" ", 1)
    lines = [*names, party.street, *towns]
    if draft.chance(0.15):  # where in a town somebody is may stand over the street
        word = draft.bill.seller.name.split()[0].capitalize()
        site = draft.one(
            "Building 4", f"Zone {word}", f"{word} Park", "Haus B", "Zone industrielle", "Old Harbour", "3rd floor"
        )
        lines.insert(len(names), site)
    return [*lines, party.country] if party.country and draft.chance(0.7) else lines


def _tax_number(draft: Draft) -> str:
    draft.truth["seller_vat_id"] = re.sub(r"\W|MVA|MWST", "", draft.bill.seller.tax_number)
    return f"{draft.one(*draft.bill.tongue.tax_label)}{draft.one(':', '', ' ')} {draft.bill.seller.tax_number}"
