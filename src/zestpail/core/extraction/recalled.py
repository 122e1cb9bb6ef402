"""What samples taught beside what the judge says: both speak of how likely a value is right."""

from __future__ import annotations

from collections.abc import Sequence

from zestpail.core.finders import Candidate

UNJUDGED = 0.6
"""What the score of a candidate counts as a likelihood, where the judge has not learned its kind."""
ELSEWHERE = 0.75
"""What the layout, where it is known, takes from a candidate that stands elsewhere."""
TAUGHT = 0.9
"""How alike a label must be to one of the samples to be taken for it."""
LAYOUT = "layout"
"""The part of a score that those of a known layout have."""
NEAR = 4.0
"""Points by which two candidates of one place may begin apart."""
SAME = 0.4
"""The share of the smaller box that two candidates of one place have in common."""


def with_learned(others: Sequence[Candidate], learned: Sequence[Candidate], *, ruled: bool) -> tuple[Candidate, ...]:
    """The candidates, those of a known layout among them, likeliest first.

    Where a known layout finds the same value at the same place, both must be wrong for it to be wrong; where another
    stands elsewhere, the layout speaks against it. What stands around a value is no witness of its own: the judge
    sees the same labels. Of a field that the judge rules on, it is asked only beside a label that the samples have: of
    everything else papers of many makers taught more.
    """
    taught = _once(
        [one for one in learned if not ruled or LAYOUT in one.parts or one.parts.get("letters", 0) >= TAUGHT]
    )
    if not taught:
        return tuple(others)
    surest = max((one.likely or 0.0 for one in taught if LAYOUT in one.parts), default=0.0)
    agreeing = {id(other): next((one for one in taught if _agree(one, other)), None) for other in others}
    found = [
        _joined(one, [other for other in others if agreeing[id(other)] is one]) for one in taught
    ]  # fmt: skip
    found += [_discounted(other, surest) for other in others if agreeing[id(other)] is None]
    return tuple(sorted(found, key=lambda candidate: -candidate.score))


def _once(learned: Sequence[Candidate]) -> list[Candidate]:
    """Each value at its place once, the likeliest."""
    kept: list[Candidate] = []
    for candidate in sorted(learned, key=lambda one: -(one.likely or 0.0)):
        if candidate.likely and not any(_same(candidate, other) for other in kept):
            kept.append(candidate)
    return kept


def _agree(taught: Candidate, other: Candidate) -> bool:
    """Whether both mean the same place: a value that goes on over a line or a gap begins where the shorter one does."""
    if _same(taught, other):
        return True
    begins = other.value.startswith(taught.value) and bool(taught.value) and taught.page == other.page
    return begins and abs(taught.box.x0 - other.box.x0) < NEAR and abs(taught.box.y0 - other.box.y0) < NEAR


def _same(one: Candidate, other: Candidate) -> bool:
    if one.value != other.value or one.page != other.page:
        return False
    smaller = min(one.box.width * one.box.height, other.box.width * other.box.height)
    return one.made or other.made or one.box.shared_area(other.box) >= SAME * smaller


def _joined(taught: Candidate, agreeing: Sequence[Candidate]) -> Candidate:
    """The taught candidate with what others make of the same value, the longest of them."""
    longest = max(agreeing, key=lambda other: len(other.value), default=taught)
    if len(longest.value) > len(taught.value) and not taught.agreed:
        taught = longest.model_copy(
            update={"likely": taught.likely, "finder": taught.finder, "reason": taught.reason, "parts": taught.parts}
        )
    wrong = 1 - (taught.likely or 0.0)
    for other in agreeing[:1]:
        theirs = other.likely if other.likely is not None else UNJUDGED * other.score
        wrong = wrong * (1 - theirs) if LAYOUT in taught.parts else min(wrong, 1 - theirs)
    facts = {name: value for other in agreeing[:1] for name, value in other.facts.items()}
    return taught.model_copy(update={"likely": round(1 - wrong, 4), "facts": facts | taught.facts})


def _discounted(other: Candidate, surest: float) -> Candidate:
    left = 1 - ELSEWHERE * surest
    if other.likely is not None:
        return other.model_copy(update={"likely": round(other.likely * left, 4)})
    return other.model_copy(update={"parts": {**other.parts, "as on the sample": round(left, 3)}})
