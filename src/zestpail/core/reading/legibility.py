"""How surely print is read rightly, by what the reader says of it."""

from __future__ import annotations

from itertools import pairwise


def read_rightly(word_confidence: float) -> float:
    """Under 0.8 lie three quarters of all misread figures, under 0.9 nine tenths (measured, see docs/reading.md)."""
    points = ((0.0, 0.2), (0.6, 0.5), (0.8, 0.8), (0.9, 0.96), (1.0, 1.0))
    for (low, at_low), (high, at_high) in pairwise(points):
        if word_confidence <= high:
            return at_low + (at_high - at_low) * (word_confidence - low) / (high - low)
    return 1.0
