"""The judge: how likely each candidate of each field is right, as it was learned from papers of many makers.

It is asked by the kind of value, since what tells a total from a subtotal tells nothing of names. Of the candidates of
one field at most one place is right, and there may be none: the odds are made to share that out.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import cache
from importlib import resources

import numpy as np

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import Candidate
from zestpail.core.kinds import AnyKind
from zestpail.core.learning.features import Facts, Surroundings
from zestpail.core.learning.forest import Forest

SPOKEN = ("amount", "date", "code", "firm", "vat_number", "iban", "currency")
"""Kinds of value that the judge has learned; others keep the score of their finders."""
AS_LIKELY = 0.5
"""How likely a printed value must be, against the same one worked out, to be taken in its stead."""
KNOWN = frozenset({
    "beside_label", "pattern", "party", "address_block", "return_address", "beside_rate", "sum_of_several", "remainder",
    "days_after", "foot_of_column", "country_currency", "payment_code",
})  # fmt: skip
"""Finders whose candidates it has seen; where a person said where a value stands, she is right and not the judge."""


def judged(surroundings: Surroundings, field: FieldRule) -> tuple[Candidate, ...]:
    """The candidates of a field with how likely each is right, likeliest first."""
    several = tuple(surroundings.options[field.key])
    forest = _forest(field.kind) if field.judged else None
    if forest is None or not several or any(candidate.finder not in KNOWN for candidate in several):
        return several
    likely = likelihoods(forest, surroundings.of_field(field))
    with_it = (c.model_copy(update={"likely": round(p, 4)}) for c, p in zip(several, likely, strict=True))
    return _printed_first(sorted(with_it, key=lambda c: -c.score))


def _printed_first(several: Sequence[Candidate]) -> tuple[Candidate, ...]:
    """Without what was worked out and is printed as well, in a place that is nearly as likely."""
    printed = {c.value: c.score for c in reversed(several) if not c.made}
    return tuple(c for c in several if not (c.made and printed.get(c.value, 0.0) >= AS_LIKELY * c.score))


def likelihoods(forest: Forest, facts: Sequence[Facts]) -> list[float]:
    """How likely each candidate is right, in [0, 1]."""
    odds = forest.log_odds(facts)
    return [float(p) for p in 1 / (1 + np.exp(-odds))]


def _forest(kind: AnyKind) -> Forest | None:
    return _learned().get(kind.kind)


@cache
def _learned() -> dict[str, Forest]:
    file = resources.files("zestpail.core.learning") / "judge.json"
    if not file.is_file():
        return {}
    return {kind: Forest.model_validate(body) for kind, body in json.loads(file.read_text("utf-8"))["forests"].items()}
