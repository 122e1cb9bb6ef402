"""From an invoice's data to XML in either syntax, by the same table that it is read by."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date
from decimal import Decimal

from lxml import etree
from pydantic import BaseModel

from zestpail.core.exchange.bindings import (
    ALLOWANCE,
    ALLOWANCES,
    HEADER,
    LINE,
    LINES,
    NAMESPACES,
    PARTIES,
    PARTY,
    TAX,
    TAXES,
    Bound,
    Syntax,
)
from zestpail.core.exchange.invoice import InvoiceData
from zestpail.core.exchange.sequences import ORDER, SETS

_STEP = re.compile(r"(?P<name>[\w:]+)(?:\[(?P<where>[^=]+)='(?P<is>[^']*)'\])?")
_ATTRIBUTE = re.compile(r"(?P<path>.+)/@(?P<attribute>\w+)")
_OF_CII = ("rsm", "ram", "udt")
_IN_CURRENCY = "ram:TaxTotalAmount"
"""The one amount of CII that names its currency."""


def write(invoice: InvoiceData, syntax: Syntax) -> bytes:
    """The invoice as XML, in the order that the schema asks for; what is not known is not written."""
    return bytes(
        etree.tostring(_Writer(invoice, syntax).root, xml_declaration=True, encoding="UTF-8", pretty_print=True)
    )


class _Writer:
    """One invoice while it is written."""

    def __init__(self, invoice: InvoiceData, syntax: Syntax) -> None:
        self.syntax, self.currency, self.credit = syntax, invoice.currency, invoice.credit_note
        outermost = "rsm:CrossIndustryInvoice" if syntax == "cii" else "cn:CreditNote" if self.credit else "inv:Invoice"
        prefixes = {prefix: uri for prefix, uri in NAMESPACES.items() if (prefix in _OF_CII) == (syntax == "cii")}
        kept = {None if prefix in ("inv", "cn") else prefix: uri for prefix, uri in prefixes.items()
                if prefix not in ("inv", "cn") or outermost.startswith(prefix)}  # fmt: skip
        self.root = etree.Element(_named(outermost), nsmap=kept)
        self._terms(self.root, invoice, HEADER)
        for role, place in PARTIES.items():
            self._terms(self._made(self.root, self._path(place)), getattr(invoice, role), PARTY)
        for place, several, terms in (
            (TAXES, invoice.taxes, TAX), (ALLOWANCES, invoice.allowances, ALLOWANCE), (LINES, invoice.lines, LINE),
        ):  # fmt: skip
            for one in several:
                self._terms(self._made(self.root, self._path(place), anew=True), one, terms)
        self._finish(self.root)

    def _path(self, term: Bound) -> str:
        return term.path(self.syntax, credit_note=self.credit)

    def _terms(self, under: etree._Element, model: BaseModel, terms: Sequence[Bound]) -> None:
        for term in terms:
            value = getattr(model, term.term)
            if value is not None and value != "":
                self._put(under, term, value)

    def _put(self, under: etree._Element, term: Bound, value: object) -> None:
        path = self._path(term)
        if named := _ATTRIBUTE.fullmatch(path):
            self._made(under, named["path"]).set(named["attribute"], str(value))
            return
        element = self._made(under, path)
        element.text = _as_text(value, self.syntax)
        if term.holds == "amount" and (self.syntax == "ubl" or path.endswith(_IN_CURRENCY)):
            element.set("currencyID", self.currency)

    def _made(self, under: etree._Element, path: str, *, anew: bool = False) -> etree._Element:
        """The element at the end of a path; what of the way is not there yet is made, the last step with ``anew``."""
        steps = _steps(path)
        for at, step in enumerate(steps):
            found = [] if anew and at == len(steps) - 1 else under.xpath(step, namespaces=NAMESPACES)
            under = found[0] if found else self._step(under, step)
        return under

    def _step(self, under: etree._Element, step: str) -> etree._Element:
        parts = _STEP.fullmatch(step)
        assert parts, step
        made = etree.SubElement(under, _named(parts["name"]))
        if parts["where"]:
            path, _, attribute = parts["where"].rpartition("@")
            holder = self._made(made, path.rstrip("/")) if path.rstrip("/") else made
            if attribute and "/" not in attribute and ":" not in attribute:
                holder.set(attribute, parts["is"])
            else:
                self._made(made, parts["where"]).text = parts["is"]
        return made

    def _finish(self, element: etree._Element) -> None:
        """Say what is always said, and put all parts in the order of the schema."""
        name = _prefixed(element)
        for path, text in SETS.get(name, ()):
            if not element.xpath(path, namespaces=NAMESPACES):
                self._made(element, path).text = text or None
        places = {part: at for at, part in enumerate(ORDER.get(name, ()))}
        element[:] = sorted(element, key=lambda part: places.get(etree.QName(part).localname, len(places)))
        for part in element:
            self._finish(part)


def _steps(path: str) -> list[str]:
    """The steps of a path; a slash within brackets parts none."""
    return re.findall(r"[\w:]+(?:\[[^\]]*\])?", path)


def _named(name: str) -> str:
    prefix, _, local = name.partition(":")
    return f"{{{NAMESPACES[prefix]}}}{local}"


def _prefixed(element: etree._Element) -> str:
    name = etree.QName(element)
    return next(f"{prefix}:{name.localname}" for prefix, uri in NAMESPACES.items() if uri == name.namespace)


def _as_text(value: object, syntax: Syntax) -> str:
    if isinstance(value, bool):
        return str(value).lower()
    if isinstance(value, date):
        return value.strftime("%Y%m%d" if syntax == "cii" else "%Y-%m-%d")
    return f"{value:f}" if isinstance(value, Decimal) else str(value)
