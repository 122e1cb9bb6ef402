"""Whose name it is: one that may as well be the buyer's is not surely the seller's."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from zestpail.core.document_type import FieldRule
from zestpail.core.extraction.choose import MISSING, Picks, same_name, same_place
from zestpail.core.finders import Candidate

Options = Mapping[str, Sequence[Candidate]]

LEAST_SHARE = 1 / 6
"""What makes a role doubtful: the other way is at least a fifth as likely as the one that was chosen. Set by hand."""
EMPTY = math.exp(MISSING)
"""What a field left empty counts for against one that is filled."""


def own_share(field: FieldRule, picks: Picks, fields: Sequence[FieldRule], options: Options) -> float:
    """How surely a name is this field's own and no other's, in [0, 1]; 1 for what is no name.

    Compares the two fields as they were chosen with the best pair in which the other one has this value.
    """
    pick = picks[field.key]
    if pick is None or pick.made or not field.kind.a_name:
        return 1.0
    shares = [
        _share_of_other(pick, options[field.key], picks[other.key], rival)
        for other in fields
        if other.key != field.key and other.kind.a_name
        for rival in options[other.key]
        if rival is not picks[other.key] and (same_place(pick, rival) or same_name(pick, rival))
    ]
    most = max(shares, default=0.0)
    return 1.0 - most if most >= LEAST_SHARE else 1.0


def _share_of_other(pick: Candidate, own: Sequence[Candidate], other_pick: Candidate | None, rival: Candidate) -> float:
    """The likelihood of the pair with the value in the other field, as a share of both ways together."""
    instead = max((c.score for c in own if not same_place(c, rival) and not same_name(c, rival)), default=0.0)
    swapped = rival.score * max(instead, EMPTY)
    chosen = pick.score * (other_pick.score if other_pick else EMPTY)
    return swapped / (swapped + chosen) if swapped else 0.0
