"""What speaks for each piece being the value that samples taught, as numbers by name, and what for there being none."""

from __future__ import annotations

from dataclasses import dataclass
from math import log1p

from rapidfuzz.distance import Levenshtein

from zestpail.core.document_type.learned import TaughtField
from zestpail.core.finders.value_profile import ValueProfile, shape_of
from zestpail.core.kinds.code import Code
from zestpail.core.kinds.kind import Kind
from zestpail.core.kinds.style import in_english
from zestpail.core.kinds.time_of_day import Time
from zestpail.core.landmarks.labels import folded
from zestpail.core.learning.choice import Facts
from zestpail.core.learning.offers import Offer, Offers
from zestpail.core.learning.sought import Fit, Sought, fits
from zestpail.core.learning.spots import likeness

LOOKS_ELSE, UNKNOWN = 0.25, 0.5
"""What a piece counts that looks quite unlike the examples, and where there are none."""
LATEST = 16
"""Examples that a piece is held against."""
LONGEST = 10
"""Characters more than the longest example, from which more make no difference."""


@dataclass(frozen=True)
class Evidence:
    """The pieces that a document offers for a field, how each fits, and what speaks for each and for none."""

    offers: tuple[Offer, ...]
    fits: tuple[Fit, ...]
    facts: tuple[Facts, ...]
    none: Facts


def evidence_of(document: Offers, kind: Kind, sought: Sought, known: TaughtField) -> Evidence:
    """What speaks for each piece of the kind, by what is sought around it and what samples taught of the field."""
    offers = document.of(kind)
    looks = _Looks.of(document, kind, known)
    english = in_english(document.context.lines)
    found = fits(sought, [offer.around for offer in offers], english=english)
    facts = [
        _piece(offer, fit, known) | looks.facts(offer.span.raw) | likeness(offer.spot, known.spots)
        for offer, fit in zip(offers, found, strict=True)
    ]
    together = tuple(one | _together(one) for one in facts)
    return Evidence(offers, tuple(found), together, _none(kind, known, len(offers)))


def _piece(offer: Offer, fit: Fit, known: TaughtField) -> Facts:
    span, around = offer.span, offer.around
    alone = not any(c.isalnum() for c in around.sentence)
    fit = Fit(fit.letters, fit.meant, 0.0, fit.follow) if alone else fit
    before, after = span.line.text[: span.start], span.line.text[span.end : span.end + 1]
    return {
        "letters": fit.letters,
        "meant": fit.meant,
        "sentence": fit.sentence,
        "follow": fit.follow,
        "fit": fit.likely,
        "best": max(fit.letters, fit.meant),
        "shape": span.shape,
        "alone": float(alone),
        "unlabelled": float(not around.label),
        "labels_another": float(around.over and after == "\t"),
        "is_label": float(folded(span.raw) in map(folded, known.labels)),
        "begins_line": float(not before),
        "begins_piece": float(not before or before.endswith(("\t", ": "))),
        "ends_piece": float(after in ("", "\t")),
        "seen": float(not span.value.isdigit() and folded(span.raw) in map(folded, known.examples)),
    }


@dataclass(frozen=True)
class _Looks:
    """What the examples look like; nothing where looks tell nothing."""

    profile: ValueProfile | None
    shapes: tuple[str, ...]
    longest: int

    @classmethod
    def of(cls, document: Offers, kind: Kind, known: TaughtField) -> _Looks:
        """In letters everybody writes days, times and numbers in another way."""
        varies = document.context.style.day is not None and (kind.sheet != "text" or isinstance(kind, Time))
        examples = () if varies else known.examples[-LATEST:]
        profile = ValueProfile(examples=examples) if examples and kind.narrow else None
        return cls(profile, tuple(shape_of(_packed(one)) for one in examples), max(map(len, examples), default=99))

    def facts(self, raw: str) -> Facts:
        text = _packed(raw)
        mine = shape_of(text)
        each = [Levenshtein.normalized_similarity(mine, other) for other in self.shapes]
        return {
            "looks": self._looks(raw),
            "looks_mean": sum(each) / max(len(each), 1),
            "same_shape": sum(mine == other for other in self.shapes) / max(len(each), 1),
            "longer": min(max(len(text) - self.longest, 0), LONGEST) / LONGEST if each else 0.0,
        }

    def _looks(self, raw: str) -> float:
        if self.profile is None:
            return UNKNOWN
        product = 1.0
        for part in self.profile.parts(raw).values():
            product *= part
        return LOOKS_ELSE + (1 - LOOKS_ELSE) * product


def _together(facts: Facts) -> Facts:
    """Facts that tell more together than apart."""
    return {
        "fit_shape": facts["fit"] * facts["shape"],
        "fit_looks": facts["fit"] * facts["looks"],
        "fit_same_shape": facts["fit"] * facts["same_shape"],
        "place_looks": facts.get("place", 0.0) * facts["looks"],
        "rank_looks": facts.get("rank", 0.0) * facts["looks"],
    }


def _none(kind: Kind, known: TaughtField, offered: int) -> Facts:
    """What speaks for there being no value."""
    taught = len(known.spots)
    return {
        "none": 1.0,
        "none_absent": known.absent / max(known.absent + taught, 1),
        "none_few": 1 / max(taught, 1),
        "none_many": log1p(offered),
        "none_name": float(kind.a_name),
        "none_free": float(kind.free),
        "none_money": float(kind.money),
        "none_code": float(isinstance(kind, Code)),
    }


def _packed(text: str) -> str:
    return "".join(text.split())
