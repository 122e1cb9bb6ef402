"""What each fact counts for a type's own fields: as papers of many makers taught, moved by what its samples say.

Each sample is held against what the others teach, as it will be with papers that are still to come.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from zestpail.core.document_type import FieldRule
from zestpail.core.document_type.learned import TaughtField
from zestpail.core.finders import SearchContext
from zestpail.core.kinds.equality import same
from zestpail.core.learning.choice import Choice, Weights, fitted, table_of
from zestpail.core.learning.evidence import evidence_of
from zestpail.core.learning.general import general_weights, manner_of
from zestpail.core.learning.labelled import Label
from zestpail.core.learning.memory import sought_by_name
from zestpail.core.learning.offers import offers_of
from zestpail.core.learning.sought import Sought
from zestpail.core.learning.type_model import told_in_text
from zestpail.core.teaching.surroundings import together

FROM, MOST = 6, 12
"""Samples from which a field's own weights are worth having, and so many are looked at, the newest."""
HELD = 10.0
"""How much a weight is held to what it is in general."""


@dataclass(frozen=True)
class Told:
    """One sample, with what it teaches of each field by itself."""

    context: SearchContext
    labels: Mapping[str, Label]
    fields: Mapping[str, TaughtField]


def tuned(field: FieldRule, samples: Sequence[Told]) -> Weights:
    """What each fact counts for the field; empty where there are too few samples to say, or the judge rules on it."""
    told = [one for one in samples if field.key in one.fields]
    if len(told) < FROM or field.judged or not told_in_text(field.kind):
        return {}
    letter = told[-1].context.style.day is not None
    general = general_weights(manner_of(field.kind, letter=letter, taught=True))
    names = sorted(general)
    choices = list(_choices(field, told, names))
    if not choices:
        return {}
    weights = fitted(choices, np.array([general[name] for name in names]), np.full(len(names), HELD))
    return {name: round(float(weight), 4) for name, weight in zip(names, weights, strict=True)}


def choice_of(field: FieldRule, one: Told, sought: Sought, known: TaughtField, names: Sequence[str]) -> Choice | None:
    """A sample's field as it is to be chosen by what is known of it; None where the sample says nothing of it."""
    label = one.labels.get(field.key)
    if label is None:
        return None
    evidence = evidence_of(offers_of(one.context), field.kind, sought, known)
    right = [label.value is not None and same(offer.span.value, label.value) for offer in evidence.offers]
    if not right:
        return None
    return Choice(table_of(names, evidence.facts, evidence.none), np.array([*right, not any(right)]))


def _choices(field: FieldRule, told: Sequence[Told], names: Sequence[str]) -> Iterator[Choice]:
    for one in told[-MOST:]:
        known = together([other.fields[field.key] for other in told if other is not one])
        choice = choice_of(field, one, sought_by_name(known), known, names) if known and known.spots else None
        if choice:
            yield choice
