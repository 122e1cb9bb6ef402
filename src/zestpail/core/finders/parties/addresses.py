"""What the lines of an address look like in many countries: street, postcode and place, country, ways to be reached."""

from __future__ import annotations

import re
from functools import cache
from typing import Literal

from babel import Locale

from zestpail.core.landmarks.labels import folded

Part = Literal["name", "street", "place", "country", "contact", "number", "person_to_ask", "other"]
"""What a line of an address is."""

LONGEST = 70
"""Characters; a longer piece is no line of an address."""
_CODES = (
    r"(?:[A-Z]{1,3}[ -])?\d{4,6}",  # most of Europe, Asia and Latin America, with the country before it or not
    r"\d{3} \d{2}",  # Czechia, Slovakia, Sweden, Greece
    r"\d{2}-\d{3}",  # Poland
    r"\d{4}-\d{3}",  # Portugal
    r"\d{5}-\d{3,4}",  # Brazil, United States
    r"\d{4} ?[A-Z]{2}",  # Netherlands
    r"[A-Z]{1,2}\d[A-Z\d]? ?\d[A-Z]{2}",  # United Kingdom
    r"[A-Z]\d[\dW] ?[A-Z\d]{4}",  # Ireland
    r"[A-Z]\d[A-Z] ?\d[A-Z]\d",  # Canada
    r"[A-Z]\d{4}[A-Z]{3}",  # Argentina
)
_POSTCODE = re.compile(rf"(?<![\w.,/+-])(?:{'|'.join(_CODES)})(?![\w-]|[.,/]\d)")
_NUMBERED_PAPER = re.compile(r"(?i)\b(?:no|nr|num|number|n°|ref|id)\b|#")
_YEAR = re.compile(r"(?:19|20)\d\d")
_STREET_WORDS = re.compile(
    r"(?i)\b(?:street|road|lane|avenue|drive|quay|square|court|wharf|unit|suite|floor|p\.? ?o\.? box|postfach|rue|"
    r"chemin|"
    r"impasse|quai|boulevard|bd|allée|route|via|viale|corso|piazza|calle|avenida|av|paseo|plaza|rua|travessa|largo|praça|"
    r"ul|ulica|aleja|plac|nám|náměstí|třída|utca|út|tér|vej|veien|gate|tie|weg|laan|plein|kade|dijk|iela|g|gatvė|strada|"
    r"bulevardul|sokak|caddesi|jalan)\b\.?|(?:straße|strasse|str\.|gasse|platz|allee|ufer|damm|straat|gracht|gatan|vägen|"
    r"gata|katu|utca|stræde|gade)\b"
)
_SITE = re.compile(
    r"(?i)(?:zone|z\.?a\.?c?|z\.?i|parc d['’]activités|résidence|bâtiment|lieu-dit|pol[ií]gono|zona industriale?|"
    r"gewerbegebiet|industriegebiet|gewerbepark|industriepark|zóna|strefa|bedrijventerrein|industriområde)\b"
    r"|.*\b(?:industrial estate|trading estate|business park|business centre|industrial park)$"
)
"""Where in a town somebody is, without a street."""
_NUMBERED = re.compile(
    r"\d{1,5}[a-zA-Z]?(?:[-/]\d+\w?)?,? [^\W\d_][^\d]*"
    r"|.*[^\W\d_]\.?,? (?:n[.º°o]+ ?)?\d{1,5} ?[a-zA-Z]?(?: ?[-/–] ?\d+ ?\w?)*"
)
"""A house number before or behind words."""
_REACHED = re.compile(
    r"@|\bwww\.|https?://|\b(?:tel|phone|fax|mobil|mobile|tél|telefon|teléfono|telefono|telefoon|telefone|puh|tlf)\b",
    re.IGNORECASE,
)
_PHONE = re.compile(r"\+?[\d ()/.–-]{7,}")
_ASKED = re.compile(
    r"(?i)(?:attn|attention|att|z\. ?hd|zu händen|c/o|à l['’]attention|t\.a\.v|ter attentie|k rukám|alla c\.?a|a/c|"
    r"f\.a\.o|do rąk)\b"
)
_SPOKEN = ("en", "de", "fr", "es", "it", "nl", "pt", "pl", "cs", "sv", "da", "nb", "fi", "hu", "ro", "lt", "hr")
"""Languages whose names of countries are known."""


def part_of(text: str) -> Part:
    """What a piece of a line is, as a part of an address."""
    bare = text.strip(" ,;:")
    digits, letters = sum(c.isdigit() for c in bare), sum(c.isalpha() for c in bare)
    tests: tuple[tuple[Part, bool], ...] = (
        ("other", not bare or len(bare) > LONGEST),
        ("person_to_ask", bool(_ASKED.match(bare))),
        ("contact", bool(_REACHED.search(bare) or _PHONE.fullmatch(bare))),
        ("place", is_place(bare)),
        ("number", digits >= 5 or (digits > 0 and digits >= letters)),
        ("country", country_in(bare) != ""),
        ("street", is_street(bare)),
        ("name", letters >= 2 and digits <= 3),
    )
    return next((part for part, true in tests if true), "other")


def is_place(text: str) -> bool:
    """Whether it is a place with its postcode."""
    for found in _POSTCODE.finditer(text):
        rest = text[: found.start()] + " " + text[found.end() :]
        named = re.search(r"[^\W\d_]{2,}", rest) is not None and sum(c.isdigit() for c in rest) <= 4
        year = _YEAR.fullmatch(found[0]) and (found.start() > 0 or len(rest.split()) > 3)
        if named and not year and not _NUMBERED_PAPER.search(rest) and not re.search(r"[:%€$£=]|\d[.,]\d\d\b", text):
            return True
    return False


def is_street(text: str) -> bool:
    """Whether it is a street, with its number before or behind it, or a box for letters."""
    if _STREET_WORDS.search(text) or _SITE.match(text):
        return True
    return _NUMBERED.fullmatch(text) is not None and len(text.split()) >= 2


def country_in(text: str) -> str:
    """The code (ISO 3166) of the country that the text names, in any of many languages; "" for none."""
    return _countries().get(folded(text), "")


@cache
def _countries() -> dict[str, str]:
    return {
        folded(name): code
        for language in reversed(_SPOKEN)
        for code, name in Locale(language).territories.items()
        if code.isalpha()
    }
