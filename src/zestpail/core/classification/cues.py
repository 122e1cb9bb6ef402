"""Cues: words that a person says must, or must not, stand on documents of a type, and where."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator
from rapidfuzz import fuzz

from zestpail.core.classification.page_sketch import PageSketch, folded_words

Where = Literal["anywhere", "first_page", "top", "large", "foot"]
WHERE: dict[Where, str] = {
    "anywhere": "anywhere", "first_page": "on the first page", "top": "near the top of the first page",
    "large": "in large print on the first page", "foot": "at the foot of a page",
}  # fmt: skip
"""Where a cue's words may stand, by code, as a person says it."""
ALIKE = 88
"""How alike, of 100, a long word must be that OCR may have garbled."""
LONG = 6
"""Letters from which on a word may be garbled."""


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

    def found(self, pages: Sequence[PageSketch]) -> str:
        """The first of its wordings that stands there; "" for none."""
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
