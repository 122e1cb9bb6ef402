"""Which countries a paper speaks of: by what its tax numbers are called, its postcodes, and names in addresses."""

from __future__ import annotations

import re
from collections.abc import Iterator

from zestpail.core.finders.candidate import legibility
from zestpail.core.finders.context import SearchContext
from zestpail.core.finders.parties.addresses import country_in
from zestpail.core.reading.lines import Line

TAX_WORDS = {
    "ABN": "AU", "ACN": "AU", "GSTIN": "IN", "CUIT": "AR", "RFC": "MX", "RUT": "CL", "NIT": "CO", "UEN": "SG",
    "NZBN": "NZ", "CNPJ": "BR", "QST": "CA", "HST": "CA", "EIN": "US", "RUC": "EC",
}  # fmt: skip
"""What a country calls its tax numbers and taxes."""
_TAX_WORD = re.compile(rf"(?<!\w)(?:{'|'.join(TAX_WORDS)})(?!\w)")
_STATES = (
    "AL|AK|AZ|AR|CA|CO|CT|DE|FL|GA|HI|ID|IL|IN|IA|KS|KY|LA|ME|MD|MA|MI|MN|MS|MO|MT|NE|NV|NH|NJ|NM|NY|NC|ND|OH|OK|OR|"
    "PA|RI|SC|SD|TN|TX|UT|VT|VA|WA|WV|WI|WY|DC"
)
_PLACES = {
    "US": re.compile(rf"(?<!\w)(?:{_STATES}),? \d{{5}}(?:-\d{{4}})?(?!\w)"),
    "AU": re.compile(r"(?<!\w)(?:NSW|VIC|QLD|WA|SA|TAS|ACT|NT),? \d{4}(?!\w)"),
    "CA": re.compile(r"(?<!\w)[ABCEGHJ-NPRSTVXY]\d[A-Z] ?\d[A-Z]\d(?!\w)"),
}
"""States or provinces with a postcode, whose form tells the country."""


def countries_named(context: SearchContext) -> Iterator[tuple[str, Line, int, int, float]]:
    """Each country (ISO 3166) that the paper's words tell, where they stand, and how legibly, in [0, 1]."""
    seen: set[str] = set()
    for line in context.lines:
        for country, start, end in _told_by(line):
            if country not in seen:
                seen.add(country)
                yield country, line, start, end, legibility(line.confidence_of(start, end))


def _told_by(line: Line) -> Iterator[tuple[str, int, int]]:
    for word in _TAX_WORD.finditer(line.text):
        yield TAX_WORDS[word[0]], *word.span()
    for country, form in _PLACES.items():
        for place in form.finditer(line.text):
            yield country, *place.span()
    for piece in re.finditer(r"[^\t,]+", line.text):
        country = country_in(piece[0])
        if country:
            yield country, *piece.span()
