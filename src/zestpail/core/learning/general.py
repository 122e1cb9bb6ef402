"""What each fact counts in general, as papers of many makers taught it: ``training/choosing.py`` makes the numbers."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import cache
from importlib import resources

import numpy as np

from zestpail.core.document_type.learned import TaughtField
from zestpail.core.kinds.code import Code
from zestpail.core.kinds.kind import Kind
from zestpail.core.kinds.registered import Iban, VatNumber
from zestpail.core.learning.choice import Facts, Floats, Weights, shares, table_of

NUMBERED = (Code, VatNumber, Iban)
"""Kinds of which everybody makes his own forms."""


def manner_of(kind: Kind, *, letter: bool, taught: bool) -> str:
    """Under which name its weights are kept: by what tells values of the kind from others, in letters and on papers."""
    if not taught:
        return "asked"
    told = "name" if kind.a_name else "text" if kind.free else "code" if isinstance(kind, NUMBERED) else "figure"
    return f"letter {told}" if letter else told


@cache
def general_weights(manner: str) -> Weights:
    """What each fact counts."""
    kept = json.loads((resources.files("zestpail.core.learning") / "choice.json").read_text("utf-8"))
    return dict(kept[manner])


def likely(facts: Sequence[Facts], none: Facts, known: TaughtField, manner: str) -> Floats:
    """How likely each candidate is the value, in [0, 1], and as the last number, how likely there is none."""
    weights = known.weights or general_weights(manner)
    names = sorted(weights)
    return shares(table_of(names, facts, none), np.array([weights[name] for name in names]))
