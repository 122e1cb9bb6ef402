"""Cues: words that a person says must, or must not, stand on documents of a type, and where."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator
from rapidfuzz import fuzz

from zestpail.core.classification.page_sketch import PageSketch, folded_words

Where = Literal["anywhere", "first_page", "top", "large", "foot", "file_name", "sender", "subject", "barcode"]
WHERE: dict[Where, str] = {
    "anywhere": "anywhere", "first_page": "on the first page", "top": "near the top of the first page",
    "large": "in large print on the first page", "foot": "at the foot of a page",
    "file_name": "in the name of its file",
    "sender": "in the e-mail’s sender", "subject": "in the e-mail’s subject", "barcode": "in a barcode",
}  # fmt: skip
"""Where a cue's words may stand, by code, as a person says it."""
BESIDE = frozenset({"file_name", "sender", "subject", "barcode"})
"""Places that are not among the words of pages."""
ALIKE = 88
"""How alike, of 100, a long word must be that OCR may have garbled."""
LONG = 6
"""Letters from which on a word may be garbled."""


class Told(BaseModel):
    """What is known of a document beside its pages."""

    model_config = ConfigDict(frozen=True)

    file_name: str = ""
    sender: str = ""
    subject: str = ""
    barcodes: tuple[str, ...] = ()

    def said(self, where: Where) -> str:
        """What stands in that place; "" for places on pages."""
        said = {"file_name": self.file_name, "sender": self.sender, "subject": self.subject}
        return said.get(where, "") if where != "barcode" else " ".join(self.barcodes)


NOTHING_TOLD = Told()


class Cue(BaseModel):
    """One of several wordings, where they must stand, and whether they speak for the type or against it."""

    model_config = ConfigDict(frozen=True)

    words: tuple[str, ...] = Field(min_length=1, max_length=40)
    where: Where = "anywhere"
    speaks: Literal["for", "against"] = "for"
    weight: Literal["some", "much"] = "some"

    @field_validator("words")
    @classmethod
    def _has_letters(cls, words: tuple[str, ...]) -> tuple[str, ...]:
        if any(not folded_words(text) for text in words):
            raise ValueError("a cue needs a word with letters or figures")
        return words

    @property
    def sentence(self) -> str:
        """It as a person reads it."""
        said = " or ".join(f"“{text}”" for text in self.words)
        return f"{'says' if self.speaks == 'for' else 'does not say'} {said}, {WHERE[self.where]}"

    def applies(self, told: Told) -> bool:
        """Whether the place that it speaks of is there at all."""
        return self.where not in BESIDE or bool(told.said(self.where))

    def found(self, pages: Sequence[PageSketch], told: Told = NOTHING_TOLD) -> str:
        """The first of its wordings that stands there; "" for none. Beside pages, part of a word is enough."""
        beside = told.said(self.where).casefold()
        if beside:
            return next((text for text in self.words if text.casefold() in beside), "")
        places = _places(pages, self.where)
        return next((text for text in self.words if any(_stands(folded_words(text), words) for words in places)), "")


def _places(pages: Sequence[PageSketch], where: Where) -> list[tuple[str, ...]]:
    match where:
        case "anywhere":
            return [page.words for page in pages]
        case "first_page":
            return [page.words for page in pages[:1]]
        case "top":
            return [page.top for page in pages[:1]]
        case "large":
            return [page.large for page in pages[:1]]
        case "foot":
            return [page.foot for page in pages]
        case _:
            return []


def _stands(wanted: tuple[str, ...], words: tuple[str, ...]) -> bool:
    first, length = wanted[0], len(wanted)
    return any(
        _same(first, word)
        and all(_same(one, other) for one, other in zip(wanted, words[at : at + length], strict=False))
        for at, word in enumerate(words[: len(words) - length + 1])
    )


def _same(wanted: str, word: str) -> bool:
    if wanted == word:
        return True
    return len(wanted) >= LONG and abs(len(wanted) - len(word)) <= 2 and fuzz.ratio(wanted, word) >= ALIKE
