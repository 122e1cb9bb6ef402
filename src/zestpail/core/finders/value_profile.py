"""What a value usually looks like, worked out from examples; odd ones rank lower, none is thrown away."""

from __future__ import annotations

import math
import re

from pydantic import BaseModel, ConfigDict, Field
from rapidfuzz.distance import Levenshtein

OTHER_SHAPE = 0.5
"""What is left of the score of a value of quite another shape."""
MOST_EXAMPLES = 40
"""Examples that a shape is made of: more do not change it."""

_RUNS = re.compile(r"[^\W\d_]+|\d+|\s+|.", re.DOTALL)


class ValueProfile(BaseModel):
    """Examples of a value; its usual shape and length follow from them."""

    model_config = ConfigDict(frozen=True)

    examples: tuple[str, ...] = Field(min_length=1, max_length=MOST_EXAMPLES)

    @property
    def sentence(self) -> str:
        """The look as a person reads it: "shaped like BB-20418, 7 to 9 long"."""
        low, high = self.lengths
        shown = " or ".join(dict.fromkeys(_first_of_each(self.examples)))
        return f"shaped like {shown}, {low if low == high else f'{low} to {high}'} long"

    @property
    def lengths(self) -> tuple[int, int]:
        """The usual length, in characters without blanks."""
        sizes = [len(_packed(example)) for example in self.examples]
        return min(sizes), max(sizes)

    def parts(self, raw: str) -> dict[str, float]:
        """How far a text has the usual shape and length, each in [0, 1]."""
        text = _packed(raw)
        shape = max(_alike(shape_of(text), shape_of(_packed(example))) for example in self.examples)
        low, high = self.lengths
        off = max(low - len(text), len(text) - high, 0)
        return {"looks": round(OTHER_SHAPE + (1 - OTHER_SHAPE) * shape, 3), "length": round(math.exp(-off / 4), 3)}

    def learned(self, example: str) -> ValueProfile:
        """The same with one more example."""
        return ValueProfile(examples=tuple(dict.fromkeys((*self.examples, example)))[-MOST_EXAMPLES:])


def shape_of(text: str) -> str:
    """The kinds of characters in a row: ``BB-20418`` → ``A-9``."""
    return "".join("A" if run[0].isalpha() else "9" if run[0].isdigit() else run[0] for run in _RUNS.findall(text))


def _alike(one: str, other: str) -> float:
    return float(Levenshtein.normalized_similarity(one, other)) ** 2


def _packed(text: str) -> str:
    return "".join(text.split())


def _first_of_each(examples: tuple[str, ...]) -> list[str]:
    """One example of each shape, two at most."""
    first: dict[str, str] = {}
    for example in examples:
        first.setdefault(shape_of(_packed(example)), example)
    return list(first.values())[:2]
