"""Where a value should stand on a page: by the votes of the standing words near it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zestpail.core.learning.layouts.alignment import Alignment, Floats
from zestpail.core.reading.geometry import Box

NEAR = 40.0
"""Points over which the voice of a word sinks to a third."""
ALONG, ACROSS = 0.35, 2.0
"""How much a point along the line counts, and one across: what stands on the line knows the place best."""
ON_LINE = 2.5
"""How much more a word of the value's own line has to say."""
TOGETHER = 3.0
"""Points within which two votes say the same place."""
BEFORE = 50.0
"""Points before a value within which its label ends."""


@dataclass(frozen=True)
class VotedPlace:
    """Where the value should stand, and how well the standing words agree on that."""

    box: Box
    agreed: float
    """The share of the voices for this place, in [0, 1]."""
    voice: float
    """The share of what all remembered words nearby have to say that was heard, in [0, 1]."""


def voted(how: Alignment, box: Box) -> VotedPlace:
    """Where what stood in ``box`` (points) on the remembered page should stand on this one."""
    moved = how.moved(np.array([[box.x0, box.cy], [box.x1, box.cy]]))
    known = _along(how, box)
    shifts = how.shifts if known is None else np.vstack([how.shifts, known[1]])
    voices = how.weights[list(how.taught)] * _voices(how.there, box)
    if known is not None:
        voices = np.append(voices, known[0])
    whole = max(float((how.weights * _voices(how.all_there, box)).sum()), float(voices.sum()), 1e-6)
    if not voices.sum():
        return VotedPlace(_at(moved, box, how, np.zeros(2)), 0.0, 0.0)
    alike = np.asarray((np.abs(shifts[:, None] - shifts[None, :]) < TOGETHER).all(axis=2))
    best = int(np.argmax(alike @ voices))
    inside = alike[best]
    shift = np.average(shifts[inside], axis=0, weights=voices[inside])
    return VotedPlace(
        _at(moved, box, how, shift), float(voices[inside].sum() / voices.sum()), float(voices[inside].sum()) / whole
    )


def _along(how: Alignment, box: Box) -> tuple[float, Floats] | None:
    """What the words right before the value say, where they stand further along the line than they did.

    They say it with the voice of all the others: what a label stands by moves with it.
    """
    if not len(how.along):
        return None
    x1, y, shift = how.along[:, 2], how.along[:, 1], how.along[:, 4:6] - how.moved(how.along[:, :2])
    before = (np.abs(y - box.cy) < 0.5 * box.height) & (x1 <= box.x0 + 1) & (box.x0 - x1 < BEFORE)
    if not before.any():
        return None
    at = int(np.argmax(np.where(before, x1, -np.inf)))
    nearer = (how.there[:, 2] <= box.x0 + 1) & (how.there[:, 2] > x1[at]) & (
        np.abs(how.there[:, 1] - box.cy) < 0.5 * box.height
    )  # fmt: skip
    return None if nearer.any() else (1.5 * float(_voices(how.there, box).sum()) + 1, shift[at])


def _voices(words: Floats, box: Box) -> Floats:
    """How much each standing word has to say of the place: the nearer the more, those of its line the most."""
    x0, y, x1, _ = words.T
    aside = np.maximum(np.maximum(x0 - box.x1, box.x0 - x1), 0.0)
    across = np.maximum(np.abs(y - box.cy) - 0.5 * box.height, 0.0)
    level = np.where(across == 0, ON_LINE, 1.0)
    return np.asarray(level * np.exp(-np.hypot(ALONG * aside, ACROSS * across) / NEAR))


def _at(moved: Floats, box: Box, how: Alignment, shift: Floats) -> Box:
    scale = float(np.hypot(*how.transform[:, 0]))
    (x0, y), (x1, _) = moved + shift
    half = scale * box.height / 2
    return Box(float(x0), float(y) - half, float(x1), float(y) + half)
