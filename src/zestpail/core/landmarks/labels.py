"""Finding labels on lines, although OCR garbles them and longer labels contain shorter ones.

Labels of all fields are matched in one go. Where two overlap, the longer one has it: "Total net" is not also a
"Total". Labels that belong to no field ("Customer no.") take part, so that what stands beside them is not taken.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from rapidfuzz import process
from rapidfuzz.distance import Levenshtein

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line

ALIKE = 0.8
"""The least similarity at which a text is taken for a label."""
CONFUSION_PRICE = 0.97
"""What is left of the similarity where only characters differ that OCR takes for each other."""

SURE_ALIKE, BARELY = 0.85, 0.5
"""A label that is less alike has half a claim: "Harbour - VAT" is hardly a "Harbour tax", but surely a "VAT"."""
ROUNDING = 0.001
"""What is as alike as asked for may come out a little less."""
EXACT = 0.99
"""Similarity of a label that speaks for its language."""
TELLING = 8
"""Letters of a word that tells its language as well as any longer one."""
SHARED = 0.5
"""How much less a word tells that several languages have: the power of their number by which its voice is divided."""
SPOKEN = 0.4
"""What a language needs of the most heard one's voice to be taken for spoken: papers in two languages have two."""

_LOOKALIKES = (
    ("rn", "m"),
    ("vv", "w"),
    ("cl", "d"),
    ("0", "o"),
    ("1", "l"),
    ("i", "l"),
    ("5", "s"),
    ("8", "b"),
)
MOST_WRAPPED = 3
"""Words on each of the two lines of a label that is broken."""
_TOKEN = re.compile(r"(?:[^\W\d_] ){3,}[^\W\d_](?!\w)|[^\s:]+")
"""A word, or one whose letters are set apart: I n v o i c e."""


@dataclass(frozen=True)
class Label:
    """One wording of a label; ``owner`` is a field's key, or None where it belongs to no field."""

    text: str
    owner: str | None
    weight: float = 1.0
    languages: frozenset[str] = frozenset()
    """The languages that word it so (ISO 639); none where it counts in any document."""


@dataclass(frozen=True)
class LabelMatch:
    """A label found on a line, at the characters ``start`` to ``end``."""

    label: Label
    line: Line
    start: int
    end: int
    similarity: float

    @cached_property
    def box(self) -> Box:
        return self.line.box_of(self.start, self.end)


@lru_cache(maxsize=20_000)
def folded(text: str) -> str:
    """Letters and figures only, without case and accents."""
    plain = unicodedata.normalize("NFKD", text.casefold().replace("№", "no"))
    return "".join(c for c in plain if c.isalnum() or c in "#")


@lru_cache(maxsize=20_000)
def unaccented(text: str) -> str:
    """The text without case and accents, each character in its place."""
    return "".join(unicodedata.normalize("NFD", c)[0] for c in text.lower())


@lru_cache(maxsize=20_000)
def skeleton(text: str) -> str:
    """Folded text with the characters that OCR confuses made one."""
    for often, once in _LOOKALIKES:
        text = text.replace(often, once)
    return text


def match_labels(lines: Sequence[Line], labels: Sequence[Label], alike: float = ALIKE) -> tuple[LabelMatch, ...]:
    """All places where a label stands, each place given to the longest label that fits it; ``alike`` is the least.

    The usual words of many languages are looked for as they are where a text layer says what stands there for certain:
    only what was read from pixels may be garbled.
    """
    if not labels:
        return ()
    longest = max(len(folded(label.text)) for label in labels)
    windows = [window for line in lines for window in _windows(line, longest)]
    windows += [window for above, under in pairwise(lines) for window in _wrapped(above, under, longest)]
    texts = {text for _, _, _, text in windows}
    unsure = {text for line, _, _, text in windows if any(word.confidence < 1 for word in line.words)}
    usual = [label for label in labels if label.languages]
    fitting = _fitting(sorted(texts), [label for label in labels if not label.languages], alike)
    for text, fits in _fitting(sorted(unsure), usual, alike).items():
        fitting.setdefault(text, []).extend(fits)
    for label in usual:
        if (text := folded(label.text)) in texts and text not in unsure:
            fitting.setdefault(text, []).append((label, 1.0))
    found = [
        LabelMatch(label, line, start, end, similarity)
        for line, start, end, text in windows
        for label, similarity in fitting.get(text, ())
    ]
    return tuple(_longest_only(_in_its_languages(found)))


def _fitting(texts: Sequence[str], labels: Sequence[Label], alike: float) -> dict[str, list[tuple[Label, float]]]:
    """By text the labels that it is like, and how much."""
    fitting: dict[str, list[tuple[Label, float]]] = {}
    if not texts or not labels:
        return fitting
    table = _similarities(texts, [folded(label.text) for label in labels], alike)
    for row, column in zip(*(at.tolist() for at in np.nonzero(table >= alike)), strict=True):
        fitting.setdefault(texts[row], []).append((labels[column], float(table[row, column])))
    return fitting


@lru_cache(maxsize=60_000)
def _windows(line: Line, longest: int) -> tuple[tuple[Line, int, int, str], ...]:
    """Runs of whole words without a wide gap between, short enough to be a label; colons end a word too."""
    found = []
    for segment in re.finditer(r"[^\t]+", line.text):
        tokens = [(segment.start() + m.start(), segment.start() + m.end()) for m in _TOKEN.finditer(segment[0])]
        for first in range(len(tokens)):
            for last in range(first, min(first + 7, len(tokens))):
                start, end = tokens[first][0], tokens[last][1]
                text = folded(line.text[start:end])
                if len(text) > longest + 3:
                    break
                if any(c.isalpha() or c == "#" for c in text):
                    found.append((line, start, end, text))
    return tuple(found)


@lru_cache(maxsize=60_000)
def _wrapped(above: Line, under: Line, longest: int) -> tuple[tuple[Line, int, int, str], ...]:
    """A piece of the line with the one over it, as a label that is broken over two lines; it stands where it ends.

    Only where no figure stands beside the upper piece: what has its value there is a label of its own.
    """
    near = under.page == above.page and 0 <= under.box.y0 - above.box.y1 + 1 < 0.9 * above.height
    if not near or any(c.isdigit() for c in above.text):
        return ()
    found = []
    for upper in re.finditer(r"[^\t]+", above.text):
        for lower in re.finditer(r"[^\t]+", under.text):
            short = max(len(upper[0].split()), len(lower[0].split())) <= MOST_WRAPPED
            if short and abs(above.box_of(*upper.span()).x0 - under.box_of(*lower.span()).x0) < above.height:
                end = lower.start() + len(lower[0].split(":")[0])
                text = folded(upper[0]) + folded(under.text[lower.start() : end])
                if len(text) <= longest + 3 and end > lower.start():
                    found.append((under, lower.start(), end, text))
    return tuple(found)


def _similarities(texts: Sequence[str], wanted: Sequence[str], least: float) -> NDArray[np.float32]:
    """How alike each of the texts is to each that is wanted; 0 where it is less than ``least``."""

    def compared(ours: Sequence[str], theirs: Sequence[str]) -> NDArray[np.float32]:
        table = process.cdist(
            ours, theirs, scorer=Levenshtein.normalized_similarity, dtype=np.float32, score_cutoff=least - ROUNDING
        )
        return np.asarray(table, dtype=np.float32)

    plain = compared(texts, wanted)
    bones = compared([skeleton(t) for t in texts], [skeleton(w) for w in wanted])
    return np.asarray(np.maximum(plain, CONFUSION_PRICE * bones), dtype=np.float32)


def _in_its_languages(found: list[LabelMatch]) -> list[LabelMatch]:
    """Without the labels of languages that the document does not speak: each exact label speaks for its languages."""
    voices: dict[str, float] = {}
    exact = {m.label.text: m.label.languages for m in found if m.label.languages and m.similarity > EXACT}
    for text, languages in exact.items():
        for language in languages:
            voices[language] = voices.get(language, 0.0) + min(len(text), TELLING) / len(languages) ** SHARED
    most = max(voices.values(), default=0.0)
    spoken = {language for language, voice in voices.items() if voice >= SPOKEN * most}
    return [match for match in found if not match.label.languages or match.label.languages & spoken]


def _longest_only(found: list[LabelMatch]) -> list[LabelMatch]:
    """Drop a match that lies within, or overlaps, one of more letters that fits as well."""
    saved: dict[int, list[LabelMatch]] = {}
    for match in sorted(found, key=_claim, reverse=True):
        others = saved.setdefault(id(match.line), [])
        if all(match.end <= other.start or other.end <= match.start or _same_place(match, other) for other in others):
            others.append(match)
    return [match for matches in saved.values() for match in matches]


def _claim(match: LabelMatch) -> tuple[float, float]:
    letters = len(folded(match.label.text))
    barely = BARELY if match.similarity < SURE_ALIKE else 1.0
    return match.similarity**4 * letters * barely, match.label.weight


def _same_place(one: LabelMatch, other: LabelMatch) -> bool:
    """Two fields may share a wording; each then has its match."""
    same = one.start == other.start and one.end == other.end
    return same and one.label.owner != other.label.owner and one.similarity == other.similarity
