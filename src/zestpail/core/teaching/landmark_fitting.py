"""Fitting a landmark's description to what a person answered: yes, this; no, that one; it is not on this page."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TypeVar

from zestpail.core.landmarks.labels import folded
from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.landmarks.match import LandmarkMatch
from zestpail.core.landmarks.printed import PrintedWords
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box

L = TypeVar("L", bound=Landmark)
WEIGHTS = (1.0, 2.0, 4.0, 8.0, 0.0)
"""How much the place may matter, the usual first."""
LOOSEST = 0.5
"""The dial is never turned below: half of a wording is no wording."""


@dataclass(frozen=True)
class Answer:
    """Where the landmark stands on a document, in points; no box where it is not there at all."""

    document: DocumentReading
    page: int = 0
    box: Box | None = None


def fitted(landmark: L, answers: Sequence[Answer]) -> L:
    """The landmark tightened or loosened so that most answers come true, changed as little as that takes.

    Wordings that a person pointed at are added; then the dial and the weight of the place are tried between all
    scores that occur on the answered documents.
    """
    worded = _with_wordings(landmark, answers)
    tried = [landmark, *_settings(worded, answers)]
    return max(tried, key=lambda one: (agrees(one, answers), -tried.index(one)))


def agrees(landmark: Landmark, answers: Iterable[Answer]) -> int:
    """How many of the answers come true."""
    return sum(_right(chosen(landmark, answer.document), answer) for answer in answers)


def chosen(landmark: Landmark, document: DocumentReading) -> LandmarkMatch | None:
    """Where the landmark is taken to stand; None where nothing is like enough."""
    taken = [seen for seen in landmark.landmark_matches(document) if landmark.taken(seen)]
    return max(taken, key=lambda seen: seen.score, default=None)


def _right(seen: LandmarkMatch | None, answer: Answer) -> bool:
    if seen is None or answer.box is None:
        return seen is None and answer.box is None
    return seen.page == answer.page and (
        seen.box.grown(2).covers_centre_of(answer.box) or answer.box.grown(2).covers_centre_of(seen.box)
    )


def _with_wordings(landmark: L, answers: Iterable[Answer]) -> L:
    if not isinstance(landmark, PrintedWords):
        return landmark
    known = list(landmark.wordings)
    for answer in answers:
        if answer.box is not None and not _right(chosen(landmark, answer.document), answer):
            inside = answer.box.grown(0.5)
            words = [w.text for w in answer.document.pages[answer.page].words if inside.covers_centre_of(w.box)]
            text = " ".join(words).strip(" :")
            if folded(text) and folded(text) not in map(folded, known):
                known.append(text)
    return landmark.model_copy(update={"wordings": tuple(known)})


def _settings(landmark: L, answers: Sequence[Answer]) -> Iterator[L]:
    for weight in dict.fromkeys((landmark.keeps_place, *WEIGHTS)):
        placed = landmark.model_copy(update={"keeps_place": weight})
        yield placed
        for dial in _dials(placed, answers):
            yield placed.model_copy(update={"alike": dial})


def _dials(landmark: Landmark, answers: Iterable[Answer]) -> list[float]:
    """Dials between the scores that occur, those nearest to the present one first."""
    loose = landmark.model_copy(update={"alike": LOOSEST if isinstance(landmark, PrintedWords) else 0.1})
    scores = sorted({_decisive(loose, seen) for answer in answers for seen in loose.landmark_matches(answer.document)})
    least = LOOSEST if isinstance(landmark, PrintedWords) else 0.1
    between = [round((low + high) / 2, 3) for low, high in pairwise([least, *scores, 1.0])]
    return sorted((dial for dial in between if least <= dial <= 1), key=lambda dial: abs(dial - landmark.alike))


def _decisive(landmark: Landmark, seen: LandmarkMatch) -> float:
    """The figure that the dial is held against."""
    return seen.parts["alike"] if isinstance(landmark, PrintedWords) else seen.score
