"""Fields choose together: the combination of candidates that fits best as a whole.

A small beam search over the best candidates of each field. A combination is liked for the scores of its candidates,
for amounts that add up, and for giving each place on the page to one field only. The second-best combination is kept
with the reason why it lost.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from pydantic import BaseModel, ConfigDict

from zestpail.core.checks import AnyCheck, Arithmetic, DateOrder, Named
from zestpail.core.finders import Candidate
from zestpail.core.finders.rates import Rate, share_of

MOST_CANDIDATES = 8
BEAM, NARROW_BEAM = 400, 60
"""Combinations that are kept while amounts are chosen, and while the rest is, which hardly depends on each other."""
MISSING = math.log(0.08)
ADDS_UP = math.log(12)
SHARE_FITS = math.log(4)
"""Besides adding up, the tax is a printed rate of the net."""
FAILS = math.log(0.25)
SAME_PLACE = math.log(0.03)
SAME_NAME = math.log(0.05)
"""Two fields seldom have the same text for a value: the seller is not the buyer, the order is not the invoice."""

Picks = dict[str, Candidate | None]
Related = Arithmetic | DateOrder


class RunnerUp(BaseModel):
    """The second-best combination, as far as it differs from the one taken, and why it lost."""

    model_config = ConfigDict(frozen=True)

    instead: dict[str, str | None]
    why: str


@dataclass(frozen=True)
class Choice:
    """One combination; ``liked`` is its logarithmic score."""

    liked: float
    picks: Picks


@dataclass(frozen=True)
class Chosen:
    """The combination that was taken, and the one that nearly was."""

    picks: Picks
    runner_up: RunnerUp | None


@dataclass(frozen=True)
class _Terms:
    """What ties the fields of a document to each other."""

    checks: tuple[Related, ...]
    rates: Sequence[Rate]


def shortlist(candidates: Sequence[Candidate]) -> tuple[Candidate, ...]:
    """The best candidates, best first, each place and value once."""
    best: dict[tuple[str, int, int, int], Candidate] = {}
    for candidate in sorted(candidates, key=lambda c: -c.score):
        best.setdefault((candidate.value, candidate.page, round(candidate.box.cx), round(candidate.box.cy)), candidate)
    return tuple(best.values())[:MOST_CANDIDATES]


def choose(
    options: Mapping[str, Sequence[Candidate]], checks: Sequence[AnyCheck], rates: Sequence[Rate] = ()
) -> Chosen:
    """The combination that fits best: for each field a candidate of its short list, or none."""
    terms = _Terms(tuple(check for check in checks if isinstance(check, Arithmetic | DateOrder)), rates)
    added = {key for check in terms.checks if isinstance(check, Arithmetic) for key in check.touches}
    beam, sums = [Choice(0.0, {})], [Choice(0.0, {})]
    for key in sorted(options, key=lambda key: key not in added):
        longer = [_extended(choice, key, pick, terms) for choice in beam for pick in (*options[key], None)]
        beam = sorted(longer, key=lambda c: -c.liked)[: BEAM if key in added else NARROW_BEAM]
        if key in added:
            sums = beam
    best = beam[0].picks
    # What else the amounts could be tells the most; only where that was never in question, look at the rest.
    second = _unlike(best, sums) or _unlike(best, beam)
    return Chosen(best, _runner_up(best, {**best, **second.picks}, terms) if second else None)


def _extended(choice: Choice, key: str, pick: Candidate | None, terms: _Terms) -> Choice:
    picks = {**choice.picks, key: pick}
    liked = choice.liked + (math.log(max(pick.score, 1e-6)) if pick else MISSING)
    if pick:
        others = [other for other in choice.picks.values() if other]
        liked += sum(SAME_PLACE for other in others if same_place(pick, other))
        liked += sum(SAME_NAME for other in others if _same_name(pick, other))
    for check in terms.checks:
        if key in check.touches and all(touched in picks for touched in check.touches):
            liked += _check_liked(check, picks, terms.rates)
    return Choice(liked, picks)


def _check_liked(check: Related, picks: Picks, rates: Sequence[Rate]) -> float:
    values = {key: picks[key].value if picks[key] else None for key in check.touches}  # type: ignore[union-attr]
    verdict = check.judge(Named(values, {}))
    if verdict is None:
        return 0.0
    if isinstance(check, DateOrder):
        return 0.0 if verdict.passed else FAILS
    if not verdict.passed:
        return FAILS
    return ADDS_UP + (SHARE_FITS if _shared(check, values, rates) else 0.0)


def _shared(check: Arithmetic, values: Mapping[str, str | None], rates: Sequence[Rate]) -> bool:
    """Whether the check's share is one of the printed rates."""
    if check.share is None:
        return False
    part, whole = values[check.share.part], values[check.share.of]
    return bool(part and whole and share_of(Decimal(part), Decimal(whole), rates))


def _runner_up(best: Picks, second: Picks, terms: _Terms) -> RunnerUp:
    """What the second-best combination has instead, and the weightiest thing that speaks against it."""
    unlike = {key: pick.value if pick else None for key, pick in second.items() if _value(pick) != _value(best[key])}
    ours, theirs = _weighed(best, terms), _weighed(second, terms)
    against = max(ours, key=lambda why: ours[why] - theirs[why])
    return RunnerUp(instead=unlike, why=against)


def _weighed(picks: Picks, terms: _Terms) -> dict[str, float]:
    """What a combination is liked for, under the reason that is given where another one has less of it."""
    there = [(key, pick) for key, pick in picks.items() if pick]
    pairs = [(one, other) for at, (_, one) in enumerate(there) for _, other in there[:at]]
    sums = [check for check in terms.checks if isinstance(check, Arithmetic)]
    dates = [check for check in terms.checks if isinstance(check, DateOrder)]
    return {
        "its values fit their rules less well": sum(math.log(max(pick.score, 1e-6)) for _, pick in there),
        "it leaves more fields empty": MISSING * (len(picks) - len(there)),
        "two fields would take the same place": sum(SAME_PLACE for one, other in pairs if same_place(one, other)),
        "two fields would have the same value": sum(SAME_NAME for one, other in pairs if _same_name(one, other)),
        "its amounts add up less well": sum(_check_liked(check, picks, terms.rates) for check in sums),
        "its dates are not in order": sum(_check_liked(check, picks, terms.rates) for check in dates),
    }


def _unlike(best: Picks, beam: Sequence[Choice]) -> Choice | None:
    """The best choice that has another value for a field."""
    return next((c for c in beam if any(_value(pick) != _value(best[key]) for key, pick in c.picks.items())), None)


def _value(pick: Candidate | None) -> str | None:
    return pick.value if pick else None


def _same_name(one: Candidate, other: Candidate) -> bool:
    if one.made or other.made:
        return False
    wordy = any(c.isalpha() for c in one.value) or "-" in one.value
    return wordy and one.value.casefold() == other.value.casefold() and not one.value[:4].isdigit()


def same_place(one: Candidate, other: Candidate) -> bool:
    """Whether two candidates stand on the same piece of a page."""
    if one.made or other.made or one.page != other.page or one.box.x1 < other.box.x0 or other.box.x1 < one.box.x0:
        return False
    smaller = min(one.box.width * one.box.height, other.box.width * other.box.height)
    return one.box.shared_area(other.box) > 0.5 * smaller
