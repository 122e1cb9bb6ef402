"""How sure we are of a value: found in the right place, and read rightly.

Confidence is the product of two probabilities. *Placed* grows with the candidate's score and its lead over the next
other value; *read* follows the engine's confidence in the least sure word. Amounts that add up prove both.
The curves are set by hand and looked at on the demo.
"""

from __future__ import annotations

from collections.abc import Sequence

from zestpail.core.finders import Candidate

PROVEN_PLACE, PROVEN_READING = 0.99, 0.99
CONTRADICTED = 0.55
"""What is left of the confidence of a value that takes part in a failed sum."""


def confidence_of(chosen: Candidate, rivals: Sequence[Candidate], sums: bool | None) -> float:
    """Confidence in [0, 1]; ``sums`` says whether arithmetic over the value holds, or None if there is none."""
    strongest = max((c.score for c in rivals if c.value != chosen.value), default=0.0)
    lead = chosen.score / (chosen.score + strongest) if chosen.score else 0.0
    placed = 0.55 + 0.45 * min(chosen.score / 0.7, 1.0) ** 0.7
    placed *= 1.0 if lead >= 0.6 else 0.5 + 0.5 * lead / 0.6
    read = _read_rightly(chosen.confidence)
    if sums is True:
        placed, read = max(placed, PROVEN_PLACE), max(read, PROVEN_READING)
    sure = placed * read
    return round(sure * (CONTRADICTED if sums is False else 1.0), 3)


def _read_rightly(word_confidence: float) -> float:
    """Under 0.8 lie three quarters of all misread figures, under 0.9 nine tenths (measured, see docs/reading.md)."""
    points = ((0.0, 0.2), (0.6, 0.5), (0.8, 0.8), (0.9, 0.96), (1.0, 1.0))
    for (low, at_low), (high, at_high) in zip(points, points[1:], strict=False):
        if word_confidence <= high:
            return at_low + (at_high - at_low) * (word_confidence - low) / (high - low)
    return 1.0
