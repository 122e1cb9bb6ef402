"""Texts of barcodes that carry a payment or an invoice, read by open standards.

EPC069-12 (European Payments Council, SEPA credit transfer), Swiss QR-bill (SIX, implementation guidelines), SPAYD
(Czech and Slovak banks), the Polish Bank Association's 2D code, UPN QR (Slovenia), HUB3 (Croatia), UPI links (India,
NPCI), EMVCo merchant codes (Brazil's Pix among them), the fiscal codes of Argentina (ARCA) and Portugal (Autoridade
Tributária).
"""

from __future__ import annotations

import base64
import binascii
import json
import re
from collections.abc import Callable, Iterator
from decimal import Decimal, InvalidOperation
from typing import Literal
from urllib.parse import parse_qs, urlsplit

What = Literal["payee", "iban", "amount", "currency", "payer", "tax_number", "number", "date", "tax"]
"""What a code may say."""
Details = dict[What, str]


def payment_in(text: str) -> Details:
    """What the code's text says, each as its kind of value is kept; nothing where it is of no known standard."""
    for reads in _STANDARDS:
        try:
            found = reads(text)
        except (ValueError, IndexError, KeyError, InvalidOperation, binascii.Error, UnicodeDecodeError):
            continue
        if found:
            return {what: value.strip() for what, value in found.items() if value and value.strip()}
    return {}


def _amount(text: str) -> str:
    return f"{Decimal(text.strip().replace(',', '.')):.2f}" if text.strip() else ""


def _bare(iban: str) -> str:
    return re.sub(r"\s", "", iban).upper()


def _epc(text: str) -> Details:
    lines = text.splitlines()
    if lines[0].strip() != "BCD":
        return {}
    money = lines[7].strip() if len(lines) > 7 else ""
    return {"payee": lines[5], "iban": _bare(lines[6]), "currency": money[:3], "amount": _amount(money[3:])}


def _swiss(text: str) -> Details:
    lines = text.splitlines()
    if lines[0].strip() != "SPC":
        return {}
    return {
        "iban": _bare(lines[3]), "payee": lines[5], "amount": _amount(lines[18]), "currency": lines[19],
        "payer": lines[21] if len(lines) > 21 else "",
    }  # fmt: skip


def _spayd(text: str) -> Details:
    if not text.startswith("SPD*"):
        return {}
    parts = dict(part.split(":", 1) for part in text.split("*")[2:] if ":" in part)
    return {
        "iban": _bare(parts.get("ACC", "").split("+")[0]), "amount": _amount(parts.get("AM", "")),
        "currency": parts.get("CC", ""), "payee": parts.get("RN", ""),
    }  # fmt: skip


def _polish(text: str) -> Details:
    parts = text.split("|")
    if len(parts) < 6 or parts[1] not in ("PL", "") or not re.fullmatch(r"\d{26}", parts[2]):
        return {}
    amount = f"{Decimal(int(parts[3])) / 100:.2f}" if parts[3].isdigit() and int(parts[3]) else ""
    return {"tax_number": parts[0], "iban": f"PL{parts[2]}", "amount": amount, "currency": "PLN", "payee": parts[4]}


def _slovenian(text: str) -> Details:
    lines = text.splitlines()
    if lines[0].strip() != "UPNQR":
        return {}
    amount = f"{Decimal(int(lines[8])) / 100:.2f}"
    return {"payer": lines[5], "amount": amount, "iban": _bare(lines[14]), "payee": lines[16], "currency": "EUR"}


def _croatian(text: str) -> Details:
    lines = text.splitlines()
    if not lines[0].startswith("HRVHUB3"):
        return {}
    amount = f"{Decimal(int(lines[2])) / 100:.2f}"
    return {"currency": lines[1], "amount": amount, "payer": lines[3], "payee": lines[6], "iban": _bare(lines[9])}


def _upi(text: str) -> Details:
    if not text.startswith("upi://"):
        return {}
    asked = {key: values[0] for key, values in parse_qs(urlsplit(text).query).items()}
    return {"payee": asked.get("pn", ""), "amount": _amount(asked.get("am", "")), "currency": asked.get("cu", "INR")}


def _merchant(text: str) -> Details:
    if not text.startswith("000201"):
        return {}
    tags = dict(_tagged(text))
    currency = {"986": "BRL", "356": "INR", "840": "USD", "978": "EUR"}.get(tags.get("53", ""), "")
    return {"payee": tags.get("59", ""), "amount": _amount(tags.get("54", "")), "currency": currency}


def _tagged(text: str) -> Iterator[tuple[str, str]]:
    """The pieces of an EMVCo code: two figures of a tag, two of a length, the value."""
    at = 0
    while at + 4 <= len(text):
        size = int(text[at + 2 : at + 4])
        yield text[at : at + 2], text[at + 4 : at + 4 + size]
        at += 4 + size


def _argentine(text: str) -> Details:
    found = re.match(r"https?://(?:www\.)?(?:afip|arca)\.gob\.ar/fe/qr/?\?p=([\w+/=%-]+)", text)
    if not found:
        return {}
    coded = found[1].replace("%3D", "=").replace("-", "+").replace("_", "/")
    said = json.loads(base64.b64decode(coded + "=" * (-len(coded) % 4)))
    money = {"PES": "ARS", "DOL": "USD", "060": "EUR"}.get(str(said.get("moneda")), "")
    number = f"{int(said['ptoVta']):05d}-{int(said['nroCmp']):08d}"
    return {
        "date": str(said["fecha"]), "tax_number": str(said["cuit"]), "number": number, "currency": money,
        "amount": _amount(str(said["importe"])),
    }  # fmt: skip


def _portuguese(text: str) -> Details:
    if not re.match(r"A:\d{9}\*B:", text):
        return {}
    parts = dict(part.split(":", 1) for part in text.split("*") if ":" in part)
    day = parts.get("F", "")
    day = f"{day[:4]}-{day[4:6]}-{day[6:8]}" if day else ""
    return {
        "tax_number": parts["A"], "number": parts.get("G", ""), "date": day,
        "tax": _amount(parts.get("N", "")), "amount": _amount(parts.get("O", "")), "currency": "EUR",
    }  # fmt: skip


_STANDARDS: tuple[Callable[[str], Details], ...] = (
    _epc, _swiss, _spayd, _polish, _slovenian, _croatian, _upi, _merchant, _argentine, _portuguese,
)  # fmt: skip
