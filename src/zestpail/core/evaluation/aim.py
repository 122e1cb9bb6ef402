"""Review set by its aim: from which confidence on values may go through, so that so few of those delivered are wrong.

Values under the threshold go to a person and are right afterwards. Of the others it is known, as far as people have
reviewed such values, how many were wrong; where too few were reviewed, confidence is taken at its word.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

LEAST_REVIEWED = 200
"""Values that people must have reviewed for a figure to be more than a guess."""
STEP = 0.01


@dataclass(frozen=True)
class Reviewed:
    """A value: its document, how sure it was, in [0, 1], and whether it was right; None where nobody looked."""

    document: int
    confidence: float
    right: bool | None


@dataclass(frozen=True)
class Reached:
    """What a threshold comes to."""

    wrong_in_thousand: float
    """The aim: values wrong of a thousand delivered, at most."""
    threshold: float
    """Values less sure than this, in [0, 1], go to a person."""
    expected: float
    """Values wrong of a thousand delivered, as far as can be told."""
    values: float
    documents: float
    """The shares of values and of documents that need a person, each in [0, 1]."""
    guess: bool
    """Whether too few values were reviewed to tell."""


def reached(values: Sequence[Reviewed], wrong_in_thousand: float) -> Reached | None:
    """The lowest threshold with which the aim is reached; None where there are no values."""
    if not values:
        return None
    looked_at = [value for value in values if value.right is not None]
    guess = len(looked_at) < LEAST_REVIEWED
    basis = values if guess else looked_at
    for at in range(round(1 / STEP) + 1):
        threshold = round(at * STEP, 2)
        expected = 1000 * sum(_wrong(one, guess) for one in basis if one.confidence >= threshold) / len(basis)
        if expected <= wrong_in_thousand:
            break
    below = [value for value in values if value.confidence < threshold]
    documents = {value.document for value in values}
    asked = {value.document for value in below}
    return Reached(wrong_in_thousand, threshold, expected, len(below) / len(values), len(asked) / len(documents), guess)


def _wrong(value: Reviewed, guess: bool) -> float:
    if value.right is None or guess:
        return 1 - value.confidence
    return 0.0 if value.right else 1.0
