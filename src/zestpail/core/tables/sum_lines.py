"""Lines of a table that are no rows: carried forward, opening and closing balances, subtotals and totals."""

from __future__ import annotations

import re
from functools import lru_cache

from rapidfuzz import fuzz

from zestpail.core.landmarks.labels import unaccented
from zestpail.core.landmarks.wordings import words_for

LIKE, LEAST_LONG = 86.0, 9
"""How alike (0 to 100) a garbled phrase must be, and how many letters it must have to be known although garbled."""
_CARRIED = (
    "carried forward", "brought forward", "balance forward", "carry forward", "carried over", "opening balance",
    "closing balance", "balance brought", "balance carried", "previous balance", "new balance", "saldovortrag",
    "anfangssaldo", "endsaldo", "schlusssaldo", "alter saldo", "neuer saldo", "zwischensumme", "à reporter",
    "a reporter",
    "solde précédent", "solde reporté", "solde initial", "solde final", "ancien solde", "nouveau solde", "sous-total",
    "suma y sigue", "saldo anterior", "saldo final", "übertrag von seite", "übertrag auf seite",
)  # fmt: skip
_CARRIED_ALONE = ("c/f", "b/f", "übertrag", "uebertrag", "vortrag", "report", "subtotal", "sub-total", "riporto",
                  "transporte", "transport")  # fmt: skip
_TOTAL = (
    "total", "totals", "totaux", "net", "netto", "net total", "total net", "summe", "gesamt", "gesamtbetrag",
    "gesamtsumme", "nettobetrag", "rechnungsbetrag", "montant", "montant ht", "montant hors taxes", "total ht",
    "total ttc", "total tva", "vat", "tax", "sales tax", "tva", "mwst", "ust", "umsatzsteuer", "mehrwertsteuer", "iva",
    "amount due", "balance due", "total due", "zu zahlen", "net à payer", "totaal", "btw", "celkem", "totale",
    "imponibile", "importe", "suma", "grand total", "invoice total", "saldo", "zahlbetrag", "goods total", "turnover",
    "umsatz", "zzgl", "inkl", "plus vat", "add vat", "plus tax", "dont tva", "inclusive",
)  # fmt: skip
_OPENING = ("brought forward", "opening", "previous balance", "vortrag", "anfangssaldo", "alter saldo", "précédent",
            "solde initial", "ancien solde", "b/f", "saldo anterior", "balance forward", "balance brought")  # fmt: skip


@lru_cache(maxsize=20_000)
def _plain(text: str) -> str:
    return " ".join(re.sub(r"[^\w/ -]+", " ", unaccented(text)).split())


def _any_of(words: tuple[str, ...]) -> re.Pattern[str]:
    longest_first = sorted((re.escape(unaccented(word)) for word in words), key=len, reverse=True)
    return re.compile(rf"(?<!\w)(?:{'|'.join(longest_first)})(?!\w)")


_USUAL = tuple(
    word for meaning in ("net_total", "tax_total", "grand_total", "amount_due", "paid") for word in words_for(meaning)
)
_CARRIED_AT, _TOTAL_AT, _OPENING_AT = _any_of(_CARRIED), _any_of((*_TOTAL, *_USUAL)), _any_of(_OPENING)
_GRAND_AT = _any_of(("total", "totals", *words_for("grand_total")))  # a balance stands on every page of a statement
_TAX = r"(?<!\w)(?:vat|tva|mwst|ust|iva|btw|moms|gst|sales tax|umsatzsteuer|mehrwertsteuer)(?!\w)"
_RATE_AT = re.compile(rf"\d ?%.{{0,12}}{_TAX}|{_TAX}.{{0,12}}\d ?%")
_LONG = tuple(unaccented(phrase) for phrase in _CARRIED if len(phrase) > LEAST_LONG)
_ALONE_AT = re.compile(_any_of(_CARRIED_ALONE).pattern + r"[^a-zà-ÿ]*$")


def carried(text: str, more: tuple[str, ...] = ()) -> bool:
    """Whether a line of text carries a sum from or to somewhere, or says one of the words of ``more``."""
    plain = _plain(text)
    alone = any(_ALONE_AT.match(_plain(piece)) for piece in (text, *text.split("\t")))
    garbled = any(fuzz.partial_ratio(phrase, plain) >= LIKE for phrase in _LONG if len(plain) >= len(phrase))
    details = any(word and word in plain for word in map(_plain, more))
    return alone or garbled or details or bool(_CARRIED_AT.search(plain))


def opening(text: str) -> bool:
    """Whether it is the sum that a running balance begins with."""
    return bool(_OPENING_AT.search(_plain(text)))


def is_word_for_total(text: str) -> bool:
    """Whether a piece of text is a word for the sum of all and nothing else."""
    return _GRAND_AT.fullmatch(_plain(text)) is not None


def total(text: str) -> bool:
    """Whether a piece of text begins with a word for a sum or a tax, or names a tax with its rate."""
    return bool(_TOTAL_AT.match(_plain(text)) or _RATE_AT.search(unaccented(text)))
