"""How well what stands around a piece of the page fits what is sought: by letters, by meaning, by its sentence.

The weights are set by hand and looked at on contracts and papers of several makers; what comes out is a likelihood.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from rapidfuzz.distance import Levenshtein

from zestpail.core.landmarks.labels import folded, skeleton
from zestpail.core.landmarks.wordings import meaning_of
from zestpail.core.learning.asked import stems_of
from zestpail.core.learning.contexts import Around
from zestpail.core.learning.meaning import alike

LETTERS, MEANT, SENTENCE = (0.72, 0.95), (0.34, 0.8), (0.42, 0.85)
"""From which similarity on each counts, and up to which it counts more."""
_NO = re.compile(r"\b(?:no|nr)\b\.?(?!\w)", re.IGNORECASE)
MOST_BY_LETTERS, MOST_BY_MEANING, MOST_BY_SENTENCE = 0.93, 0.85, 0.85
"""How likely a value is at most that fits by the one alone."""
SHORTEST = 4
"""Characters of a label that another may end with."""
FOLLOWS = 0.6
"""What a word counts that follows as on samples."""
ABOUT = 0.75
"""What a sentence counts that has all the words of what is asked."""
BEGINS = 0.9
"""How alike a label is that begins with a taught one, or has a word that does: “Ref” and “Our reference”."""
SAME_MEANING = 0.85
"""What a label counts that means the same in the catalogue of wordings, in whatever language."""


@dataclass(frozen=True)
class Sought:
    """What is known of the surroundings of a value."""

    labels: tuple[str, ...] = ()
    """Labels that stand beside it."""
    leads: tuple[str, ...] = ()
    """The last words before it, where it stands in a sentence."""
    names: tuple[str, ...] = ()
    """What it is called, or what is asked."""
    sentences: tuple[str, ...] = ()
    """Sentences that it stands in, with a mark in its place."""
    follows: tuple[str, ...] = ()
    """Words that follow it, such as a unit."""
    about: str = ""
    """What is asked, whose words a sentence that answers it has."""


@dataclass(frozen=True)
class Fit:
    """How well the surroundings fit, each in [0, 1]."""

    letters: float
    meant: float
    sentence: float
    follow: float = 0.0
    """How far the word after it is one that followed."""

    @property
    def likely(self) -> float:
        """All three together: each that speaks for it leaves less doubt."""
        doubt = (
            (1 - MOST_BY_LETTERS * max(self.letters, self.follow)) * (1 - MOST_BY_MEANING * self.meant)
            * (1 - MOST_BY_SENTENCE * self.sentence)
        )  # fmt: skip
        return round(1 - doubt, 4)


def fits(sought: Sought, several: Sequence[Around], *, english: bool) -> list[Fit]:
    """How well each of the surroundings fits; meaning is looked at in English alone."""
    labels = list(dict.fromkeys(around.label for around in several if around.label))
    words = {around.label or around.lead for around in several}
    letters = {label: _by_letters(label, sought) for label in words}
    named = [*sought.labels, *sought.names]
    meant = _by_meaning(labels, named) if english else dict.fromkeys(labels, 0.0)
    known = [*sought.sentences, *sought.names]
    said = [around.sentence for around in several]
    in_sentence = _most(said, known) if english and known else np.zeros(len(several))
    about = [_about(text, sought.about) for text in said]
    return [
        Fit(
            letters[around.label or around.lead],
            meant.get(around.label, 0.0),
            max(_scaled(float(similar), SENTENCE), speaks),
            _follows(around.follow, sought.follows),
        )
        for around, similar, speaks in zip(several, in_sentence, about, strict=True)
    ]  # fmt: skip


def _follows(word: str, known: Sequence[str]) -> float:
    """Whether a word is the one that follows, in this or another form or language: toneladas, tonnes."""
    text = folded(word)
    alike = (text[:2] == folded(one)[:2] and min(len(text), len(folded(one))) > 1 for one in known)
    return FOLLOWS if text and any(alike) else 0.0


def _about(text: str, asked: str) -> float:
    """How many of the words of what is asked a text has, by their stems, in [0, 1]."""
    wanted = stems_of(asked)
    return ABOUT * len(wanted & stems_of(text)) / len(wanted) if wanted else 0.0


def _by_letters(label: str, sought: Sought) -> float:
    text = folded(label)
    if not text:
        return 0.0
    known = [folded(one) for one in (*sought.labels, *sought.leads, *sought.names)]
    best = max((_similar(text, other) for other in known), default=0.0)
    long = [other for other in known if SHORTEST <= len(other) < len(text)]
    ends = max((_similar(text[-len(other) :], other) for other in long), default=0.0)
    begun = [one for one in map(folded, sought.labels) if len(one) >= SHORTEST - 1]
    if any(folded(word).startswith(one) for word in label.split() for one in begun):
        best = max(best, BEGINS)
    meanings = {meaning_of(one) for one in (*sought.labels, *sought.names)} - {None}
    return max(_scaled(max(best, 0.97 * ends), LETTERS), SAME_MEANING if meaning_of(label) in meanings else 0.0)


def _similar(one: str, other: str) -> float:
    plain = Levenshtein.normalized_similarity(one, other)
    return max(plain, 0.97 * Levenshtein.normalized_similarity(skeleton(one), skeleton(other)))


def _by_meaning(labels: Sequence[str], named: Sequence[str]) -> dict[str, float]:
    if not named or not labels:
        return dict.fromkeys(labels, 0.0)
    return {label: _scaled(float(similar), MEANT) for label, similar in zip(labels, _most(labels, named), strict=True)}


def _most(texts: Sequence[str], known: Sequence[str]) -> NDArray[np.float32]:
    """How alike each text means to the nearest of those known."""
    return np.asarray(alike([_spoken(text) for text in texts], [_spoken(one) for one in known]).max(axis=1), np.float32)


def _spoken(text: str) -> str:
    """The text with “no.” as the number that it means."""
    return _NO.sub("number", text)


def _scaled(similar: float, limits: tuple[float, float]) -> float:
    low, high = limits
    return min(max((similar - low) / (high - low), 0.0), 1.0)
