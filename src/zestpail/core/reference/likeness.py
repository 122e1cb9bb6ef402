"""How like two names are, so that slips of OCR and ways of writing count little and another word counts much."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from rapidfuzz.distance import Levenshtein

from zestpail.core.kinds.names import LEGAL_FORMS
from zestpail.core.landmarks.labels import folded, skeleton

LOOKALIKE = 0.25
"""What a character counts that OCR takes for the other, where an unlike one counts 1."""
OTHER_FIGURES = 2.0
"""What it counts besides that names differ in their figures: "Works 2" is another firm than "Works"."""
FORM_MISREAD = 1.5
"""Slips up to which a legal form may be misread as a word of the name: "Lid" for "Ltd"."""
_AND = re.compile(r"\s*(?:[&+]|\b(?:and|und|et|en|og|och|y)\b)\s*", re.IGNORECASE)
_SPELT = str.maketrans(
    {"ä": "ae", "ö": "oe", "ü": "ue", "Ä": "Ae", "Ö": "Oe", "Ü": "Ue", "å": "aa", "ø": "oe", "æ": "ae", "ß": "ss"}
)
_SAME_FORM = {
    "limited": "ltd",
    "incorporated": "inc",
    "corporation": "corp",
    "company": "co",
    "privatelimited": "ltd",
    "pvtltd": "ltd",
    "ughaftungsbeschraenkt": "ug",
    "ughaftungsbeschrankt": "ug",
}
_FORMS = frozenset((*(folded(form) for form in LEGAL_FORMS), *_SAME_FORM))
_MOST_FORM_WORDS = 5


@dataclass(frozen=True)
class Name:
    """A name in the parts that are compared."""

    core: str
    """Letters and figures without the legal form; "&" and the words for it are one."""
    words: tuple[str, ...]
    form: str
    """The legal form; "" where none is stated."""


@dataclass(frozen=True)
class Likeness:
    """What sets two names apart."""

    slips: float
    """Characters by which they differ, those less that look alike."""
    length: int
    """Characters of the shorter one, with the legal form that both state."""
    form: float
    """1 where both state the same legal form, or none; 0.5 where one states none; 0 where they differ."""
    part: bool
    """Whether all words of one are among the other's, which has more."""

    @property
    def share(self) -> float:
        """How much of the names is alike, in [0, 1]."""
        return max(1 - self.slips / max(self.length, 1), 0.0)


@lru_cache(maxsize=20_000)
def name_of(text: str) -> Name:
    """The parts of a name."""
    words = [
        word
        for word in _AND.sub(" & ", text.translate(_SPELT)).replace(",", " ").split()
        if word == "&" or folded(word)
    ]
    for many in range(min(_MOST_FORM_WORDS, len(words) - 1), 0, -1):
        form = folded("".join(words[-many:]))
        if form in _FORMS or form.replace("&", "") in _FORMS:
            bare, said = words[:-many], form
            break
    else:
        bare, said = words, ""
    while bare and bare[-1] == "&":
        bare.pop()
    plain = tuple(word if word == "&" else folded(word) for word in bare)
    return Name("".join(plain), tuple(word for word in plain if word != "&"), _SAME_FORM.get(said, said))


def likeness(seen: str, listed: str) -> Likeness:
    """What sets a name on paper apart from one in a list."""
    a, b = name_of(seen), name_of(listed)
    part = (
        a.words != b.words
        and bool(a.words)
        and bool(b.words)
        and (set(a.words) < set(b.words) or set(b.words) < set(a.words))
    )
    form = _same_form(a.form, b.form)
    if b.form and not a.form and (misread := _slips(a.core + a.form, b.core + b.form)) <= FORM_MISREAD:
        return Likeness(misread / 2, min(len(a.core), len(b.core)), 1.0, False)
    length = min(len(a.core), len(b.core)) + (min(len(a.form), len(b.form)) if form == 1 else 0)
    figures = OTHER_FIGURES if _numbers(a) != _numbers(b) else 0.0
    return Likeness(_slips(a.core, b.core) + figures, length, form, part)


def _numbers(name: Name) -> list[str]:
    return [word for word in name.words if word.isdigit()]


def _same_form(one: str, other: str) -> float:
    if one == other or skeleton(one) == skeleton(other):
        return 1.0
    return 0.5 if not one or not other else 0.0


@lru_cache(maxsize=50_000)
def _slips(one: str, other: str) -> float:
    """Unlike characters; umlauts may be written out on one side and not on the other."""
    if one == other:
        return 0.0
    near = Levenshtein.distance(skeleton(one), skeleton(other))
    whole = Levenshtein.distance(one, other)
    return min(near + LOOKALIKE * max(whole - near, 0), _without_spelling(one, other))


def _without_spelling(one: str, other: str) -> float:
    """The same where "ae", "oe" and "ue" are taken for the letters that they stand for."""
    a, b = (re.sub(r"(?<=[aou])e", "", text) for text in (one, other))
    if a == one and b == other:
        return float("inf")
    return Levenshtein.distance(skeleton(a), skeleton(b))
