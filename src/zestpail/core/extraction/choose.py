"""Fields choose together: the combination of candidates that fits best as a whole.

A small beam search over the best candidates of each field. A combination is liked for the scores of its candidates,
for amounts that add up, and for giving each place on the page to one field only. The second-best combination is kept
with the reason why it lost.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import partial

from pydantic import BaseModel, ConfigDict

from zestpail.core.checks import AnyCheck
from zestpail.core.finders import Candidate
from zestpail.core.finders.rates import Rate, share_of
from zestpail.core.landmarks.labels import folded

MOST_CANDIDATES = 8
"""So many compete for each field: the combinations that are weighed grow with it."""
MOST_JUDGED = 20
"""Candidates of a field that the judge looks at."""
BEAM, NARROW_BEAM = 200, 30
"""Combinations that are kept while amounts are chosen, and while the rest is, which hardly depends on each other."""
MISSING, MISSING_JUDGED = math.log(0.08), math.log(0.05)
"""Log weights of leaving a field empty, of which the scores of finders or the odds of the judge are to be better."""
NOTHING = 4.0
"""How much likelier an empty field is right than it is liked: a doubtful value is of more use than none."""
SAME_PLACE = math.log(0.03)
"""Log weight of two fields that take the same words; all of these set by hand."""
SUREST = 0.002
"""How near to 0 and 1 the judge is believed."""
SAME_NAME = math.log(0.05)
"""Two fields seldom have the same text for a value: the seller is not the buyer, the order is not the invoice."""

Picks = dict[str, Candidate | None]


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
    shares: Mapping[str, float]
    """By field how likely the value picked is, among all that the field might have, in [0, 1]."""


class _Terms:
    """What ties the fields of a document to each other; all that is asked often is worked out once."""

    def __init__(
        self, options: Mapping[str, Sequence[Candidate]], checks: Sequence[AnyCheck], rates: Sequence[Rate]
    ) -> None:
        self.ties = tuple(check for check in checks if check.in_choosing)
        self._is_share = partial(_is_share, rates)
        self.merit = {id(c): _merit(c) for several in options.values() for c in several}
        judged = {key: any(c.likely is not None for c in several) for key, several in options.items()}
        self.missing = {key: MISSING_JUDGED if of_judge else MISSING for key, of_judge in judged.items()}
        self.clashes = _clashes([(key, c) for key, several in options.items() for c in several])
        self._judged: dict[tuple[int, tuple[str | None, ...]], float] = {}

    def judged(self, check: AnyCheck, picks: Picks) -> float:
        """How a check likes these picks, all of those that it touches being among them."""
        key = (id(check), tuple(_value(picks[touched]) for touched in check.touches))
        if key not in self._judged:
            self._judged[key] = check.weigh(dict(zip(check.touches, key[1], strict=True)), self._is_share)
        return self._judged[key]

    def clash(self, one: Candidate, picks: Iterable[Candidate | None]) -> float:
        """What it costs that the candidate takes the place or the text of another pick."""
        with_others, cost = self.clashes.get(id(one)), 0.0
        if with_others:
            for other in picks:  # a loop, as this is asked thousands of times for a document
                cost += with_others.get(id(other), 0.0)
        return cost


def shortlist(candidates: Sequence[Candidate]) -> tuple[Candidate, ...]:
    """The best candidates, best first, each place and value once: all that the judge looks at.

    What other finders know of the same value in the same place is kept as facts.
    """
    best: dict[tuple[str, int, int, int], Candidate] = {}
    for candidate in sorted(candidates, key=lambda c: -c.score):
        place = (candidate.value, candidate.page, round(candidate.box.cx), round(candidate.box.cy))
        best[place] = _with_facts_of(best[place], candidate) if place in best else candidate
    return tuple(best.values())[:MOST_JUDGED]


def _with_facts_of(one: Candidate, other: Candidate) -> Candidate:
    """The candidate with what another finder knows of the same value; of the same finder the better one says all."""
    if other.finder == one.finder or f"also_{other.finder}" in one.facts:
        return one
    facts = {**other.facts, **one.facts, f"also_{other.finder}": round(other.score, 3)}
    return one.model_copy(update={"facts": facts})


def choose(
    options: Mapping[str, Sequence[Candidate]], checks: Sequence[AnyCheck], rates: Sequence[Rate] = ()
) -> Chosen:
    """The combination that fits best: for each field a candidate of its short list, or none."""
    terms = _Terms(options, checks, rates)
    added = {key for check in terms.ties if check.in_choosing and check.in_choosing.wide for key in check.touches}
    beam, sums = [Choice(0.0, {})], [Choice(0.0, {})]
    for key in sorted(options, key=lambda key: key not in added):
        longer = [_extended(choice, key, pick, terms) for choice in beam for pick in (*options[key], None)]
        beam = sorted(longer, key=lambda c: -c.liked)[: BEAM if key in added else NARROW_BEAM]
        if key in added:
            sums = beam
    best = beam[0].picks
    # What else the amounts could be tells the most; only where that was never in question, look at the rest.
    second = _unlike(best, sums) or _unlike(best, beam)
    runner_up = _runner_up(best, {**best, **second.picks}, terms) if second else None
    shares = {
        key: _share(sums, key, best) if key in added else _share_alone(options[key], key, best, terms)
        for key in options
    }
    return Chosen(best, runner_up, shares)


def _merit(candidate: Candidate) -> float:
    """The logarithm of the odds that it is right, where the judge says so, else of its score."""
    score = candidate.score
    if candidate.likely is None:
        return math.log(max(score, 1e-6))
    score = min(max(score, SUREST), 1 - SUREST)
    return math.log(score / (1 - score))


def _share(combinations: Sequence[Choice], key: str, best: Picks) -> float:
    """How likely the picked value is among the combinations that were kept."""
    top = max(choice.liked for choice in combinations)
    weights: dict[tuple[str | None, ...], float] = {}
    for choice in combinations:  # the same values at several places are one combination
        values = (_value(choice.picks[key]), *(_value(pick) for pick in choice.picks.values()))
        weight = math.exp(choice.liked - top) * (1.0 if choice.picks[key] else NOTHING)
        weights[values] = max(weights.get(values, 0.0), weight)
    alike = _said_alike(_value(best[key]))
    return sum(weight for values, weight in weights.items() if _said_alike(values[0]) == alike) / sum(weights.values())


def _said_alike(value: str | None) -> str | None:
    """The value with what a name may be printed with or without left out: the same one in capitals is no rival."""
    return folded(value) if value and not any(c.isdigit() for c in value) else value


def _share_alone(several: Sequence[Candidate], key: str, best: Picks, terms: _Terms) -> float:
    """How likely the picked value is among the field's candidates, the other fields being as they are."""
    others = {other: pick for other, pick in best.items() if other != key}
    choices = [_extended(Choice(0.0, others), key, pick, terms) for pick in (*several, None)]
    return _share(choices, key, best)


def _extended(choice: Choice, key: str, pick: Candidate | None, terms: _Terms) -> Choice:
    picks = {**choice.picks, key: pick}
    liked = choice.liked + terms.missing[key]
    if pick:
        liked = choice.liked + terms.merit[id(pick)] + terms.clash(pick, choice.picks.values())
    for check in terms.ties:
        if key in check.touches and all(touched in picks for touched in check.touches):
            liked += terms.judged(check, picks)
    return Choice(liked, picks)


def _clashes(candidates: Sequence[tuple[str, Candidate]]) -> dict[int, dict[int, float]]:
    """For each candidate those of other fields that it should not be picked with, and what that costs."""
    found: dict[int, dict[int, float]] = {}
    for at, (key, one) in enumerate(candidates):
        for other_key, other in candidates[:at]:
            if key != other_key:
                cost = SAME_PLACE * same_place(one, other) + SAME_NAME * same_name(one, other)
                if cost:
                    found.setdefault(id(one), {})[id(other)] = cost
                    found.setdefault(id(other), {})[id(one)] = cost
    return found


def _is_share(rates: Sequence[Rate], part: str | None, whole: str | None) -> bool:
    """Whether the one amount is a printed rate of the other."""
    return bool(part and whole and share_of(Decimal(part), Decimal(whole), rates))


def _runner_up(best: Picks, second: Picks, terms: _Terms) -> RunnerUp:
    """What the second-best combination has instead, and the weightiest thing that speaks against it."""
    unlike = {key: pick.value if pick else None for key, pick in second.items() if _value(pick) != _value(best[key])}
    ours, theirs = _weighed(best, terms), _weighed(second, terms)
    against = max(ours, key=lambda why: ours[why] - theirs[why])
    return RunnerUp(instead=unlike, why=against)


def _weighed(picks: Picks, terms: _Terms) -> dict[str, float]:
    """What a combination is liked for, under the reason that is given where another one has less of it."""
    there = [pick for pick in picks.values() if pick]
    pairs = [(one, other) for at, one in enumerate(there) for other in there[:at]]
    weighed = {
        "its values fit their rules less well": sum(terms.merit[id(pick)] for pick in there),
        "it leaves more fields empty": sum(terms.missing[key] for key, pick in picks.items() if pick is None),
        "two fields would take the same place": sum(SAME_PLACE for one, other in pairs if same_place(one, other)),
        "two fields would have the same value": sum(SAME_NAME for one, other in pairs if same_name(one, other)),
    }
    for check in terms.ties:
        against = check.in_choosing.against if check.in_choosing else ""
        weighed[against] = weighed.get(against, 0.0) + terms.judged(check, picks)
    return weighed


def _unlike(best: Picks, beam: Sequence[Choice]) -> Choice | None:
    """The best choice that has another value for a field; one that only leaves more of them empty tells nothing."""
    return next(
        (c for c in beam if any(pick and pick.value != _value(best[key]) for key, pick in c.picks.items())), None
    )


def _value(pick: Candidate | None) -> str | None:
    return pick.value if pick else None


def same_name(one: Candidate, other: Candidate) -> bool:
    """Whether two candidates have the same text, which two fields seldom do."""
    if one.made or other.made or len(one.value) != len(other.value) or one.value.casefold() != other.value.casefold():
        return False
    wordy = any(c.isalpha() for c in one.value) or "-" in one.value
    return wordy and not one.value[:4].isdigit()


def same_place(one: Candidate, other: Candidate) -> bool:
    """Whether two candidates stand on the same piece of a page."""
    if one.made or other.made or one.page != other.page or one.box.x1 < other.box.x0 or other.box.x1 < one.box.x0:
        return False
    smaller = min(one.box.width * one.box.height, other.box.width * other.box.height)
    return one.box.shared_area(other.box) > 0.5 * smaller
