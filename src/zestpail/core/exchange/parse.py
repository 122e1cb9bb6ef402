"""From the XML of an electronic invoice to its data: nothing outside it is asked for, nothing is expanded."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date, datetime
from decimal import Decimal

from lxml import etree
from pydantic import ValidationError

from zestpail.core.exchange.bindings import (
    ALLOWANCE,
    ALLOWANCES,
    HEADER,
    LINE,
    LINES,
    NAMESPACES,
    PARTIES,
    PARTY,
    ROOTS,
    TAX,
    TAXES,
    Bound,
    Syntax,
)
from zestpail.core.exchange.invoice import Allowance, InvoiceData, InvoiceLine, Party, TaxShare
from zestpail.core.problems import Unreadable

MOST_BYTES = 20_000_000
"""The largest file that is taken."""
MOST_LINES = 50_000
_NUMBER = re.compile(r"[+-]?(?:\d{1,18}(?:\.\d{0,12})?|\.\d{1,12})")
"""A decimal of XML Schema of a size that is on invoices: neither NaN nor a number of a million figures."""
_DAYS = ("%Y%m%d", "%Y-%m-%d")
_ZONE = re.compile(r"(?<=\d\d-\d\d)(?:Z|[+-]\d\d:\d\d)$")


def parse(data: bytes) -> InvoiceData:
    """The invoice that the XML says. Raises Unreadable with a sentence."""
    root = _root(data)
    syntax = ROOTS.get(root.tag)
    if syntax is None:
        raise Unreadable("This XML is no electronic invoice: neither UBL nor a cross-industry invoice of UN/CEFACT.")
    lines = _all(root, LINES, syntax)
    if len(lines) > MOST_LINES:
        raise Unreadable(f"This invoice has {len(lines)} lines; {MOST_LINES} are the most that is taken.")
    parties = {role: _party(root, place, syntax) for role, place in PARTIES.items()}
    try:
        return InvoiceData(
            **_values(root, HEADER, syntax),
            **parties,
            lines=tuple(InvoiceLine(**_values(line, LINE, syntax)) for line in lines),
            taxes=tuple(TaxShare(**_values(one, TAX, syntax)) for one in _all(root, TAXES, syntax)),
            allowances=tuple(Allowance(**_values(one, ALLOWANCE, syntax)) for one in _all(root, ALLOWANCES, syntax)),
        )
    except ValidationError as error:
        raise Unreadable("The invoice's data say something that does not belong where it stands.") from error


def is_invoice(data: bytes) -> bool:
    """Whether it is the XML of an electronic invoice at all."""
    try:
        return _root(data).tag in ROOTS
    except Unreadable:
        return False


def _root(data: bytes) -> etree._Element:
    if len(data) > MOST_BYTES:
        raise Unreadable(f"This XML is larger than {MOST_BYTES // 1_000_000} MB, which no invoice is.")
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, dtd_validation=False, huge_tree=False,
        remove_comments=True, remove_pis=True,
    )  # fmt: skip
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise Unreadable("This XML is damaged, or not XML at all.") from error
    if root.getroottree().docinfo.doctype:
        raise Unreadable("This XML brings definitions of its own, which an invoice may not; it was not read.")
    return root


def _all(under: etree._Element, place: Bound, syntax: Syntax) -> list[etree._Element]:
    return next((found for path in place.paths(syntax) if (found := _found(under, path))), [])


def _found(under: etree._Element, path: str) -> list[etree._Element]:
    return list(under.xpath(path, namespaces=NAMESPACES))


def _party(root: etree._Element, place: Bound, syntax: Syntax) -> Party:
    found = _all(root, place, syntax)
    return Party(**_values(found[0], PARTY, syntax)) if found else Party()


def _values(under: etree._Element, terms: Sequence[Bound], syntax: Syntax) -> dict[str, object]:
    """By term what is said; what is not said is left out."""
    said: dict[str, object] = {}
    for term in terms:
        text = _said(under, term.paths(syntax), said.get("currency"))
        if text:
            said[term.term] = _as_it_holds(term, text)
    return said


def _said(under: etree._Element, paths: Sequence[str], currency: object) -> str:
    """The text of the first path that is there; of amounts in several currencies the one in the invoice's own."""
    for path in paths:
        found = _found(under, path)
        own = [one for one in found if not isinstance(one, str) and one.get("currencyID", currency) == currency]
        for one in own or found:
            text = one if isinstance(one, str) else one.text or ""
            if text.strip():
                return " ".join(text.split())
    return ""


def _as_it_holds(term: Bound, text: str) -> object:
    if term.holds == "day":
        return _day(text)
    if term.holds in ("text", "truth"):  # true and false are known by the model
        return text
    if not _NUMBER.fullmatch(text):
        raise Unreadable(f"The invoice's data say “{text[:40]}” where a number belongs.")
    return Decimal(text)


def _day(text: str) -> date:
    for form in _DAYS:
        try:
            return datetime.strptime(_ZONE.sub("", text), form).date()
        except ValueError:
            continue
    raise Unreadable(f"The invoice's data say “{text[:40]}” where a day belongs.")
