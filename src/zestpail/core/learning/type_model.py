"""Values on layouts that nobody taught: by what stands around them, as samples and questions say it must."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zestpail.core.document_type.learned import TaughtField
from zestpail.core.finders.candidate import Candidate, legibility
from zestpail.core.finders.context import SearchContext
from zestpail.core.kinds.kind import Kind
from zestpail.core.kinds.style import in_english
from zestpail.core.learning.choice import Floats
from zestpail.core.learning.claims import settled
from zestpail.core.learning.evidence import Evidence, evidence_of
from zestpail.core.learning.general import likely, manner_of
from zestpail.core.learning.offers import offers_of
from zestpail.core.learning.said import said_by_ink, said_in_words
from zestpail.core.learning.sought import Sought

LEAST, LEAST_ASKED = 0.06, 0.2
"""Candidates less likely than this are none; of questions that no sample answered: no answer is an answer too."""
SURELY_NONE = 0.85
"""How likely it must be that there is no value for none to be proposed."""
MOST = 6
"""Candidates of a field."""
SIGNING = ("signature", "signed by")
"""What stands where one signs."""


@dataclass(frozen=True)
class Asked:
    """A field that is looked for: what is known of it, and what is sought around its value."""

    kind: Kind
    sought: Sought
    known: TaughtField


@dataclass(frozen=True)
class Weighed:
    """What a document offers for a field, and how likely each of it is the value; the last share is that of none."""

    evidence: Evidence
    shares: Floats
    taught: bool
    """Whether samples taught where its values stand."""


def told_in_text(kind: Kind) -> bool:
    """Whether a value of the kind is text that stands somewhere, and not ink or what a sentence says or denies."""
    return not (kind.told_by or kind.in_words)


def weighed(context: SearchContext, asked: Mapping[str, Asked]) -> dict[str, Weighed]:
    """How likely each piece of the document is the value of each field, all of them together."""
    document, letter = offers_of(context), context.style.day is not None
    found = {key: evidence_of(document, one.kind, one.sought, one.known) for key, one in asked.items()}
    alone = {
        key: likely(
            one.facts, one.none, asked[key].known,
            manner_of(asked[key].kind, letter=letter, taught=bool(asked[key].known.spots)),
        )
        for key, one in found.items()
    }  # fmt: skip
    spans = {key: [offer.span for offer in one.offers] for key, one in found.items()}
    names = {key for key, one in asked.items() if one.kind.a_name}
    together = settled(alone, spans, names)
    return {key: Weighed(one, together[key], bool(asked[key].known.spots)) for key, one in found.items()}


def by_surroundings(one: Weighed, finder: str, why: str) -> list[Candidate]:
    """What may be the value, likeliest first; one of each value."""
    if one.shares[-1] >= SURELY_NONE:
        return []
    of_value: dict[str, float] = {}
    best: dict[str, int] = {}
    for at, offer in enumerate(one.evidence.offers):
        value, share = offer.span.value, float(one.shares[at])
        of_value[value] = of_value.get(value, 0.0) + share
        if value not in best or share > one.shares[best[value]]:
            best[value] = at
    least = LEAST if one.taught else LEAST_ASKED
    ranked = sorted((value for value in best if of_value[value] >= least), key=lambda value: -of_value[value])[:MOST]
    return [_candidate(one, best[value], of_value[value], finder, why) for value in ranked]


def by_ink_or_words(context: SearchContext, kind: Kind, sought: Sought, finder: str, why: str) -> Sequence[Candidate]:
    """What a ticked box, a stroke of the pen or a sentence says of what is sought."""
    english = in_english(context.lines)
    by_ink = said_by_ink(context, kind, sought, finder, why, english=english)
    return by_ink or ([] if kind.told_by else said_in_words(context, sought, finder, why, english=english))


def most_likely_said(context: SearchContext, kind: Kind, name: str) -> list[Candidate]:
    """What says yes or no of what is called so, however little it fits: for finding the place of a known value."""
    sought = Sought(names=(name, *(SIGNING if kind.told_by == "stroke" else ())), about=name)
    english = in_english(context.lines)
    found = said_by_ink(context, kind, sought, "", "", english=english, least=0.0)
    return found + (said_in_words(context, sought, "", "", english=english) if not kind.told_by else [])


def _candidate(one: Weighed, at: int, share: float, finder: str, why: str) -> Candidate:
    offer, fit, facts = one.evidence.offers[at], one.evidence.fits[at], one.evidence.facts[at]
    span, label = offer.span, offer.around.label or offer.around.lead
    return Candidate(
        value=span.value, raw=span.raw, page=span.line.page, box=span.box, confidence=span.confidence, finder=finder,
        reason=f"{why}, beside “{label}”" if label else why, likely=round(share, 4),
        parts={
            "letters": round(fit.letters, 3), "meaning": round(fit.meant, 3), "sentence": round(fit.sentence, 3),
            "shape": round(span.shape, 3), "looks": round(facts["looks"], 3),
            "place": round(facts.get("place", 0.0), 3), "reading": legibility(span.confidence),
        },
    )  # fmt: skip
