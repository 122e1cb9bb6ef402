"""Fields choose together: the combination of candidates that fits best as a whole.

A small beam search over the best candidates of each field. A combination is liked for the scores of its candidates,
for amounts that add up, and for giving each place on the page to one field only.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zestpail.core.checks import AnyCheck, Arithmetic, DateOrder, Named
from zestpail.core.finders import Candidate

MOST_CANDIDATES = 8
BEAM, NARROW_BEAM = 400, 60
"""Combinations that are kept while amounts are chosen, and while the rest is, which hardly depends on each other."""
MISSING = math.log(0.08)
ADDS_UP = math.log(12)
FAILS = math.log(0.25)
SAME_PLACE = math.log(0.03)
SAME_NAME = math.log(0.05)
"""Two fields seldom have the same text for a value: the seller is not the buyer, the order is not the invoice."""

Picks = dict[str, Candidate | None]


@dataclass(frozen=True)
class Choice:
    """One combination; ``liked`` is its logarithmic score."""

    liked: float
    picks: Picks


def shortlist(candidates: Sequence[Candidate]) -> tuple[Candidate, ...]:
    """The best candidates, best first, each place and value once."""
    best: dict[tuple[str, int, int, int], Candidate] = {}
    for candidate in sorted(candidates, key=lambda c: -c.score):
        best.setdefault((candidate.value, candidate.page, round(candidate.box.cx), round(candidate.box.cy)), candidate)
    return tuple(best.values())[:MOST_CANDIDATES]


def choose(options: Mapping[str, Sequence[Candidate]], checks: Sequence[AnyCheck]) -> Choice:
    """The combination that fits best: for each field a candidate of its short list, or none."""
    sums = [check for check in checks if isinstance(check, Arithmetic | DateOrder)]
    added = {key for check in sums if isinstance(check, Arithmetic) for key in check.touches}
    order = sorted(options, key=lambda key: key not in added)
    beam = [Choice(0.0, {})]
    for key in order:
        longer = [_extended(choice, key, pick, sums) for choice in beam for pick in (*options[key], None)]
        beam = sorted(longer, key=lambda c: -c.liked)[: BEAM if key in added else NARROW_BEAM]
    return beam[0]


def _extended(choice: Choice, key: str, pick: Candidate | None, sums: Sequence[Arithmetic | DateOrder]) -> Choice:
    picks = {**choice.picks, key: pick}
    liked = choice.liked + (math.log(max(pick.score, 1e-6)) if pick else MISSING)
    if pick:
        others = [other for other in choice.picks.values() if other]
        liked += sum(SAME_PLACE for other in others if same_place(pick, other))
        liked += sum(SAME_NAME for other in others if pick.finder != "days after" and _same_name(pick, other))
    for check in sums:
        if key in check.touches and all(touched in picks for touched in check.touches):
            liked += _sum_liked(check, picks)
    return Choice(liked, picks)


def _sum_liked(check: Arithmetic | DateOrder, picks: Picks) -> float:
    values = {key: picks[key].value if picks[key] else None for key in check.touches}  # type: ignore[union-attr]
    verdict = check.judge(Named(values, {}))
    if verdict is None:
        return 0.0
    if isinstance(check, DateOrder):
        return 0.0 if verdict.passed else FAILS
    return ADDS_UP if verdict.passed else FAILS


def _same_name(one: Candidate, other: Candidate) -> bool:
    wordy = any(c.isalpha() for c in one.value) or "-" in one.value
    return wordy and one.value.casefold() == other.value.casefold() and not one.value[:4].isdigit()


def same_place(one: Candidate, other: Candidate) -> bool:
    """Whether two candidates stand on the same piece of a page."""
    if one.page != other.page or one.box.x1 < other.box.x0 or other.box.x1 < one.box.x0:
        return False
    smaller = min(one.box.width * one.box.height, other.box.width * other.box.height)
    return one.box.shared_area(other.box) > 0.5 * smaller
