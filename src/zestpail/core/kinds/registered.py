"""Numbers with check figures: IBANs and VAT numbers."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import cache
from typing import ClassVar, Literal

from babel import Locale
from stdnum.ar import cuit
from stdnum.au import abn
from stdnum.be import vat as be_vat
from stdnum.br import cnpj
from stdnum.ca import bn
from stdnum.ch import uid as ch_uid
from stdnum.eu import vat
from stdnum.fi import alv as fi_alv
from stdnum.hu import anum as hu_anum
from stdnum.in_ import gstin
from stdnum.iso7064 import mod_97_10
from stdnum.mx import rfc
from stdnum.no import mva as no_mva
from stdnum.nz import ird
from stdnum.pl import nip
from stdnum.us import ein

from zestpail.core.kinds.kind import Kind, Span, repaired
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line

_IBAN = re.compile(r"(?<![\w])([A-Z]{2})([ ]?)([0-9OQIl]{2})((?:[ ]?[A-Z0-9]{4}){2,7}(?:[ ]?[A-Z0-9]{1,3})?)(?![\w])")
_VAT = re.compile(
    r"(?<![\w-])([A-Z]{2})[ .-]?((?:[A-Z0-9]{1,2}(?=\d))?(?:[ .-]?[0-9OQIlS]){7,12})([A-Z0-9]{0,3})(?![\w])"
)
_NATIONAL: tuple[tuple[str, re.Pattern[str], Callable[[str], bool]], ...] = (
    ("CH", re.compile(r"(?<!\w)CHE[- ]?\d{3}[. ]?\d{3}[. ]?\d{3}(?!\d)"), ch_uid.is_valid),
    ("BR", re.compile(r"(?<![\d.])\d{2}\.\d{3}\.\d{3}/\d{4}-\d{2}(?!\d)"), cnpj.is_valid),
    ("AR", re.compile(r"(?<![\d-])\d{2}-\d{8}-\d(?![\d-])"), cuit.is_valid),
    ("IN", re.compile(r"(?<!\w)\d{2}[A-Z]{5}\d{4}[A-Z][\dA-Z]Z[\dA-Z](?!\w)"), gstin.is_valid),
    ("AU", re.compile(r"(?<![\d.,])\d{2} \d{3} \d{3} \d{3}(?![\d]|[.,]\d)"), abn.is_valid),
    ("PL", re.compile(r"(?<![\d-])\d{3}-\d{3}-\d{2}-\d{2}(?![\d-])"), nip.is_valid),
    ("HU", re.compile(r"(?<![\d-])\d{8}-\d-\d{2}(?![\d-])"), lambda text: hu_anum.is_valid(text[:8])),
    ("FI", re.compile(r"(?<![\d-])\d{7}-\d(?![\d-])"), fi_alv.is_valid),
    ("NO", re.compile(r"(?<![\d.,])(?:NO ?)?\d{3} \d{3} \d{3}(?= MVA)"), lambda text: no_mva.is_valid(f"{text}MVA")),
    ("NO", re.compile(r"(?<!\w)(?:NO ?)?\d{9}(?= ?MVA)"), lambda text: no_mva.is_valid(f"{text}MVA")),
    ("BE", re.compile(r"(?<!\w)BE ?0\d{3}\.\d{3}\.\d{3}(?!\d)"), be_vat.is_valid),
    ("MX", re.compile(r"(?<!\w)[A-ZÑ&]{3,4}\d{6}[A-Z\d]{3}(?!\w)"), rfc.is_valid),
    ("CA", re.compile(r"(?<!\w)\d{9} ?RT ?\d{4}(?!\w)"), bn.is_valid),
    ("NZ", re.compile(r"(?<![\d-])\d{2,3}-\d{3}-\d{3}(?![\d-])"), ird.is_valid),
    ("US", re.compile(r"(?<![\d-])\d{2}-\d{7}(?![\d-])"), ein.is_valid),
)
"""Forms of their own by country, with what knows their check figures."""
_BARE = re.compile(r"(?<![\w.,/-])([A-Z]?\d{8,11}[A-Z]?)(?![\w]|[.,]\d)")
SHORTEST_IBAN = 15
"""Characters of Norway's, the shortest there is; what is shorter may be a VAT number."""
NO_COUNTRY = 0.4
"""Shape of a number that begins with two letters of no country ("AV2026-00001"), or with more letters than these."""
UNPROVEN = 0.75
"""Shape of a number whose check figures do not come out: misread, or of a kind that is not known."""


class Registered(Kind):
    """A number that registers whom it names, with check figures in it."""

    def proven(self, value: str) -> bool:
        """Whether the check figures come out."""
        raise NotImplementedError

    def as_entered(self, text: str, style: Style) -> tuple[str, str] | None:
        compact = re.sub(r"[\s.·-]", "", text).upper()
        value = self.parse(text, style) or compact
        if not 4 <= len(value) <= 40 or not value.isalnum() or not any(c.isdigit() for c in value):
            return None
        return value, "" if self.proven(value) else "its check figures do not come out"


class Iban(Registered):
    """An international bank account number (ISO 13616), kept without blanks."""

    proposal_rank: ClassVar[int] = 1
    wraps: ClassVar[Literal["never", "in sentences", "always"]] = "always"
    kind: Literal["iban"] = "iban"

    @property
    def words(self) -> str:
        return "an IBAN"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _IBAN.finditer(line.text):
            check, left = repaired(m[3])
            value = m[1] + check + m[4].replace(" ", "")
            if len(value) < SHORTEST_IBAN:
                continue
            yield Span(line, m.start(), m.end(), value, left if self.proven(value) else UNPROVEN * left)

    def proven(self, value: str) -> bool:
        return mod_97_10.is_valid(value[4:] + value[:4])

    def show(self, value: str) -> str:
        return " ".join(value[at : at + 4] for at in range(0, len(value), 4))


class VatNumber(Registered):
    """A VAT number, kept without blanks, points and dashes."""

    proposal_rank: ClassVar[int] = 5
    of_maker: ClassVar[bool] = True
    kind: Literal["vat_number"] = "vat_number"

    @property
    def words(self) -> str:
        return "a VAT number"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        accounts = [m.span() for m in _IBAN.finditer(line.text) if len(m[0].replace(" ", "")) >= SHORTEST_IBAN]
        for _, form, valid in _NATIONAL:
            for m in form.finditer(line.text):
                yield Span(line, m.start(), m.end(), re.sub(r"\W", "", m[0]), 1.0 if valid(m[0]) else UNPROVEN)
        for m in _VAT.finditer(line.text):
            if any(m.start() < end and start < m.end() for start, end in accounts):
                continue
            read = re.sub(r"[ .-]", "", m[2])
            figures, left = repaired(read)
            if not vat.is_valid(
                m[1] + figures + m[3]
            ):  # only check figures that come out say that letters were misread
                figures, left = read, 1.0
            value = m[1] + figures + m[3]
            left *= 1.0 if self.proven(value) else UNPROVEN
            lettered = value[2].isalpha() and m[1].lower() not in vat.MEMBER_STATES
            known = _of_a_country(m[1]) and not lettered
            yield Span(line, m.start(), m.end(), value, left if known else NO_COUNTRY * left)
        for m in _BARE.finditer(line.text):
            yield Span(line, m.start(), m.end(), m[1], 0.5)

    def proven(self, value: str) -> bool:
        return vat.is_valid(value) or value[:2].lower() not in vat.MEMBER_STATES


@cache
def _of_a_country(prefix: str) -> bool:
    """Whether the two letters stand for a country (ISO 3166-1), or are left free for private use (XA to XZ)."""
    return prefix[0] == "X" or prefix == "EL" or prefix in Locale("en").territories


def country_of(printed: str) -> str:
    """The country (ISO 3166-1) that gave out a VAT number or an IBAN, by how it is printed."""
    return next((country for country, form, _ in _NATIONAL if form.fullmatch(printed)), printed[:2].upper())
