"""The finder of a currency by the country of the parties: where none is printed, or a sign that several share."""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar, Literal

from babel.numbers import get_territory_currencies

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.derived.named_countries import countries_named
from zestpail.core.finders.finder import Finder, Piece, Stage
from zestpail.core.kinds.currency import SHARED
from zestpail.core.kinds.registered import country_of

MOST_TRIED = 3
"""Numbers of each field by whose country one goes."""
MOST_SURE = 0.89
"""How sure one can be of a currency that is not printed."""
LESS_EACH = 0.6
"""What is left of the score for a number that is not the likeliest."""
WORDED = 0.5
"""How well a country is told by what tax numbers are called, by a postcode or by its name in an address."""
WITHOUT_SIGN = 0.15
WITH_SIGN = 0.95
"""How well a currency fits by the country alone, and where a sign on the page says the same; set by hand."""


class OfCountry(Finder):
    """The currency of the country in which a VAT number or an IBAN of the document was given out."""

    stage: ClassVar[Stage] = "candidates"
    finder: Literal["country_currency"] = "country_currency"
    fields: tuple[str, ...]
    """VAT numbers and IBANs, in order of trust."""

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        names = " or ".join(field.replace("_", " ") for field in self.fields)
        yield Piece(f"A sign that several currencies share, or none at all: go by the country of {names}.")

    def needs(self, key: str) -> dict[str, str | None]:  # noqa: ARG002 - any currency field may go by them
        """The numbers whose country it goes by."""
        return dict.fromkeys(self.fields)

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The currency of each number's country, with more weight where its sign is printed; then what words tell."""
        printed = {sign for line in context.lines for sign in SHARED if sign in line.text}
        of_numbers = list(self._of_numbers(target, printed))
        yield from of_numbers
        told = {candidate.value for candidate in of_numbers}
        yield from (candidate for candidate in self._of_words(context, printed) if candidate.value not in told)

    def _of_numbers(self, target: FieldTarget, printed: set[str]) -> Iterator[Candidate]:
        bases = [pair for field in self.fields for pair in enumerate(target.others.get(field, ())[:MOST_TRIED])]
        for at, base in bases:
            for currency in get_territory_currencies(country := country_of(base.raw)):
                fits = any(currency in SHARED[sign] for sign in printed)
                yield Candidate(
                    value=currency,
                    raw=country,
                    page=base.page,
                    box=base.box,
                    confidence=base.confidence,
                    finder=self.finder,
                    made=True,
                    most_sure=1.0 if fits else MOST_SURE,
                    parts={
                        "country": WITH_SIGN if fits else WITHOUT_SIGN,
                        "from": round(base.parts.get("shape", 1.0) * LESS_EACH**at, 3),
                    },
                    reason=f"the country of {base.raw}",
                )

    def _of_words(self, context: SearchContext, printed: set[str]) -> Iterator[Candidate]:
        """The currencies of the countries that the paper speaks of, as far as a printed sign may stand for them."""
        for country, line, start, end, legible in countries_named(context):
            for currency in get_territory_currencies(country):
                if any(currency in SHARED[sign] for sign in printed):
                    yield Candidate(
                        value=currency,
                        raw=line.text[start:end],
                        page=line.page,
                        box=line.box_of(start, end),
                        confidence=line.confidence_of(start, end),
                        finder=self.finder,
                        made=True,
                        parts={"country": WITH_SIGN, "from": round(WORDED * legible, 3)},
                        reason=f"a sign that several countries use, and {line.text[start:end].strip()}",
                    )
