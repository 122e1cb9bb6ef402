"""Small whole numbers in words, in the languages in which people write to each other here."""

from __future__ import annotations

import re
import unicodedata

_WORDS = {
    0: "zero null zéro nul", 1: "one eins ein eine einen um uma un une uno una een één jeden",
    2: "two zwei dois duas deux dos due twee dva", 3: "three drei três trois tres tre drie tři",
    4: "four vier quatro quatre cuatro quattro čtyři", 5: "five fünf cinco cinq cinque vijf pět",
    6: "six sechs seis sei zes šest", 7: "seven sieben sete sept siete sette zeven sedm",
    8: "eight acht oito huit ocho otto osm", 9: "nine neun nove neuf nueve negen devět",
    10: "ten zehn dez dix diez dieci tien deset", 11: "eleven elf onze once undici jedenáct",
    12: "twelve zwölf doze douze doce dodici twaalf dvanáct",
    13: "thirteen dreizehn treze treize trece tredici dertien",
    14: "fourteen vierzehn catorze quatorze catorce quattordici veertien",
    15: "fifteen fünfzehn quinze quince quindici vijftien",
    16: "sixteen sechzehn dezesseis dezasseis seize dieciséis sedici",
    17: "seventeen siebzehn dezessete dix-sept diecisiete", 18: "eighteen achtzehn dezoito dix-huit dieciocho",
    19: "nineteen neunzehn dezanove dix-neuf diecinueve", 20: "twenty zwanzig vinte vingt veinte venti twintig dvacet",
}  # fmt: skip


def _folded(word: str) -> str:
    plain = unicodedata.normalize("NFD", word.casefold())
    return "".join(c for c in plain if unicodedata.category(c) != "Mn")


NUMBERS = {_folded(word): number for number, words in _WORDS.items() for word in words.split()}
PATTERN = "|".join(
    sorted(map(re.escape, (w for words in _WORDS.values() for w in words.split())), key=len, reverse=True)
)
"""Any of them, for a regular expression that does not look at case."""


def number_of(word: str) -> int | None:
    """The number that a word says; None for any other word."""
    return NUMBERS.get(_folded(word))
