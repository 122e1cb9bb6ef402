"""How labels are worded in many languages, by what they mean.

The words were collected from message catalogues of general business, accounting and shop software by
``python -m training.wordings``; ``wordings.json`` names the packages that each of them came from.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from functools import cache, lru_cache
from importlib import resources

from zestpail.core.landmarks.labels import Label, folded

MEANINGS: Mapping[str, str] = {
    "seller": "the seller",
    "buyer": "the buyer",
    "delivery_address": "the delivery address",
    "name": "a name",
    "address_part": "the parts of an address",
    "document_title": "what kind of paper it is",
    "contact": "a contact",
    "tax_number": "a tax number",
    "invoice_number": "the invoice number",
    "credit_note_number": "the credit note number",
    "document_number": "a number or reference",
    "issue_date": "the date of issue",
    "date": "a date",
    "due_date": "the due date",
    "delivery_date": "other dates",
    "order_number": "the order number",
    "customer_number": "the customer number",
    "net_total": "the net total",
    "tax_total": "the tax",
    "grand_total": "the total",
    "amount_due": "the amount due",
    "paid": "payments, discounts and shipping",
    "payment": "how to pay",
    "description": "the description",
    "quantity": "the quantity",
    "unit": "the unit",
    "unit_price": "the unit price",
    "line_total": "the amount of a line",
    "tax_rate": "the tax rate",
    "item_code": "the item number",
}
"""Codes of what labels mean, each in words."""


@cache
def words_for(meaning: str) -> Mapping[str, frozenset[str]]:
    """All wordings of a label of that meaning, each with the languages that word it so; none if it is not known."""
    languages: dict[str, set[str]] = {}
    for language, texts in catalogue().get(meaning, {}).items():
        for text in texts:
            languages.setdefault(text, set()).add(language)
    return {text: frozenset(spoken) for text, spoken in languages.items()}


@cache
def usual_folded(meanings: tuple[str, ...]) -> frozenset[str]:
    """All wordings of these meanings in small letters and figures only."""
    return frozenset(folded(text) for meaning in meanings for text in words_for(meaning))


@cache
def _meanings() -> Mapping[str, str]:
    found: dict[str, str] = {}
    for meaning in MEANINGS:
        for text in words_for(meaning):
            found.setdefault(folded(text), meaning)
    return found


def meaning_of(label: str) -> str | None:
    """What a label means on papers of many makers, in whatever language; None for one that is not known."""
    return _meanings().get(folded(label))


def usual_labels(meanings: Iterable[str], owner: str | None, weight: float = 1.0) -> tuple[Label, ...]:
    """The labels of all these meanings, as the owner's."""
    return tuple(label for meaning in meanings for label in _labels(meaning, owner, weight))


@lru_cache(maxsize=600)
def _labels(meaning: str, owner: str | None, weight: float) -> tuple[Label, ...]:
    return tuple(Label(text, owner, weight, languages) for text, languages in words_for(meaning).items())


@cache
def catalogue() -> Mapping[str, Mapping[str, Mapping[str, list[int]]]]:
    """By meaning and language the wordings, each with the numbers of the packages that say so."""
    text = (resources.files("zestpail.core.landmarks") / "wordings.json").read_text("utf-8")
    words: Mapping[str, Mapping[str, Mapping[str, list[int]]]] = json.loads(text)["words"]
    return words
