"""Which entry of a list a paper speaks of: what stands on it is weighed for and against each entry that may be meant.

Evidence is added up as logarithms of odds, set by hand in the order in which the trade trusts it: VAT number, account,
host, telephone, name and address. An entry is taken where the odds are good and no other one comes near.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

from rapidfuzz import fuzz
from rapidfuzz.distance import Levenshtein

from zestpail.core.landmarks.labels import folded, skeleton
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line
from zestpail.core.reference.likeness import Likeness, likeness, name_of
from zestpail.core.reference.reference_list import Entry, ListSource, Says
from zestpail.core.reference.traces import Trace, bare, tokens_for, traces_on

BY_CHANCE = -4.0
"""What is to be said for an entry before anything is known."""
TAKEN, LEAD = 1.0, 1.5
"""The odds from which an entry is taken, and by how much it must lead over the next."""
MOST_ODDS = 40.0
"""A logarithm of odds beyond which nothing gets surer."""
OFFERED = 4
"""Entries that are offered besides, at most."""
MOST_NAMED = 12
"""Entries of like names that are looked at, at most."""
NAMESAKES_BY = 3
"""Texts by which namesakes are looked for, where an entry was found by something surer already."""
TRUST: dict[Says, float] = {"vat_number": 9.0, "iban": 8.0, "email": 5.0, "phone": 4.5}
SHAPED = 0.7
"""A trace that is less well formed than this counts as a misread one."""
NEARLY: dict[Says, float] = {"vat_number": 3.5, "iban": 3.5}
"""What a number says that differs in so few characters that it may have been misread."""
FEW_SLIPS = 2
OTHERWISE: dict[Says, float] = {"vat_number": -3.0, "iban": -1.0}
"""What a well-formed number says that is another one than the entry's."""
CALLED = ((14, 6.5), (8, 6.0), (6, 5.2), (4, 4.2), (0, 2.0))
"""What the very name says, by how many letters it has at least."""
LEGIBLE = 0.88
"""A name that was read more surely than this has few slips of OCR in it."""
SLIP, UNCLEAR_SLIP = -2.6, -1.0
"""What each unlike character of a name says, where it was read surely and where not."""
SHORT_NAME = 12
"""Letters of names up to which slips count in full: one in forty is less than one in four."""
UNLIKE = -1.4
"""What it costs besides that a name is not the very same."""
OTHER_FORM, NO_FORM = -3.5, -0.6
PART_OF_NAME = 2.0
"""What is said by all words of a name among the entry's, or the other way round."""
UNNAMED = -2.0
"""What is said by no text on the paper being like the entry's name."""
NOT_ITS_PLACE = -2.5
"""What it costs that a name stands where neither a letterhead nor an address is."""
STREET, POSTCODE, PLACE = 2.0, 1.5, 0.5
ITS_NAME = "its name"
ELSEWHERE = -1.2
"""What is said by a street or a postcode that are not on the paper."""
STREET_ALIKE = 88
"""Likeness, of 100, from which a street is the same."""


@dataclass(frozen=True)
class NameSeen:
    """A text on the paper that may be the name that is looked for."""

    text: str
    page: int
    box: Box
    confidence: float
    """How surely it was read, in [0, 1]."""
    fitting: float
    """How likely it is the one who is looked for, and not, say, the other party, in [0, 1]."""


@dataclass(frozen=True)
class Reason:
    """One thing that speaks for an entry, and where it stands; ``weight`` is a logarithm of odds."""

    text: str
    weight: float
    page: int = 0
    box: Box | None = None


@dataclass(frozen=True)
class Match:
    """An entry with all that speaks for and against it."""

    entry: Entry
    reasons: tuple[Reason, ...]

    @property
    def odds(self) -> float:
        return BY_CHANCE + sum(reason.weight for reason in self.reasons)

    @property
    def why(self) -> str:
        """What speaks for it, the weightiest first."""
        return ", ".join(reason.text for reason in self._told if reason.weight > 0)

    @property
    def against(self) -> str:
        """What speaks against it."""
        return ", ".join(reason.text for reason in reversed(self._told) if reason.weight < 0)

    @property
    def place(self) -> Reason | None:
        """Where the weightiest reason stands."""
        return next((reason for reason in self._told if reason.box and reason.weight > 0), None)

    @property
    def _told(self) -> list[Reason]:
        return sorted(self.reasons, key=lambda reason: -reason.weight)


@dataclass(frozen=True)
class Matched:
    """What came of looking a paper up in a list."""

    list_name: str
    revision: int
    best: Match | None
    """The likeliest entry; None where nothing speaks for any."""
    taken: bool
    """Whether it is the one meant, as far as can be told."""
    others: tuple[Match, ...]
    """The next best."""
    traces: tuple[Trace, ...]

    @property
    def entry(self) -> Entry | None:
        return self.best.entry if self.best and self.taken else None

    @property
    def named_exactly(self) -> bool:
        """Whether the best entry's very name was read."""
        return self.best is not None and any(reason.text == ITS_NAME for reason in self.best.reasons)

    @property
    def sure(self) -> float:
        """How likely the best entry is the one meant, in [0, 1]."""
        if self.best is None:
            return 0.0
        best, *others = (math.exp(min(match.odds, MOST_ODDS)) for match in (self.best, *self.others))
        return round(best / (best + 1 + sum(others)), 3)


def looked_up(source: ListSource, key: str, lines: Sequence[Line], names: Sequence[NameSeen]) -> Matched | None:
    """The entry of the list that the paper speaks of; None where there is no such list."""
    model = source.model(key)
    if model is None:
        return None
    traces = traces_on(lines)
    tokens = {token for trace in traces for token in trace.tokens}
    tokens |= {token for seen in names for token in tokens_for("name", seen.text)}
    telling = [seen.text for seen in sorted(names, key=lambda seen: -seen.fitting)]
    found = {entry.key: entry for entry in source.traced(key, tokens)}
    named = telling[:NAMESAKES_BY] if found else telling
    found |= {entry.key: entry for entry in source.named_like(key, named, MOST_NAMED)}
    page = _Paper(tuple(traces), tuple(names), tuple(lines), tuple(found.values()))
    matches = sorted((page.match(entry) for entry in found.values()), key=lambda match: -match.odds)
    best, others = (matches[0], tuple(matches[1 : 1 + OFFERED])) if matches else (None, ())
    lead = best.odds - others[0].odds if best and others else math.inf
    taken = best is not None and best.odds >= TAKEN and lead >= LEAD
    return Matched(model.name, source.revision(key), best, taken, others, tuple(traces))


@dataclass(frozen=True)
class _Paper:
    """A paper and the entries that it may speak of."""

    traces: tuple[Trace, ...]
    names: tuple[NameSeen, ...]
    lines: tuple[Line, ...]
    entries: tuple[Entry, ...]

    def match(self, entry: Entry) -> Match:
        """The entry with all that speaks for and against it."""
        return Match(entry, tuple(self._reasons(entry)))

    def _reasons(self, entry: Entry) -> Iterator[Reason]:
        for says in TRUST:
            yield from self._by_trace(entry, says)
        yield from self._by_name(entry)
        yield from self._by_address(entry)

    def _by_trace(self, entry: Entry, says: Says) -> Iterator[Reason]:
        own = {token for text in entry.said(says) for token in tokens_for(says, text)}
        here = [trace for trace in self.traces if trace.says == says]
        if not own or not here:
            return
        same = next((trace for trace in here if own & set(trace.tokens)), None)
        if same:
            shared = sum(bool(own & set(_tokens(other, says))) for other in self.entries)
            yield Reason(_SAME[says], TRUST[says] - math.log(max(shared, 1)), same.page, same.box)
            return
        near = next((trace for trace in here if _nearly(trace.text, entry.said(says))), None)
        if near and says in NEARLY:
            yield Reason(f"{_SAME[says]} but for a character or two", NEARLY[says], near.page, near.box)
        elif says in OTHERWISE and any(trace.shape >= SHAPED and trace.legible for trace in here):
            yield Reason(_OTHER[says], OTHERWISE[says])

    def _by_name(self, entry: Entry) -> Iterator[Reason]:
        alike = [(seen, _like(seen.text, entry.names)) for seen in self.names]
        weighed = [(_called(seen, like), seen, like) for seen, like in alike]
        best = max(weighed, key=lambda one: one[0], default=None)
        if best is None or best[0] <= UNNAMED:
            yield Reason("not called so", UNNAMED)
            return
        weight, seen, like = best
        if like.form < 1 and any(other.form == 0 and other.slips < 1 for _, other in alike):
            weight += OTHER_FORM  # elsewhere on the paper it states another legal form
        how = ITS_NAME if like.slips < 1 and like.form > 0 else "a name like it"
        yield Reason(how, weight, seen.page, seen.box)

    def _by_address(self, entry: Entry) -> Iterator[Reason]:
        for says, weight in (("postcode", POSTCODE), ("street", STREET), ("place", PLACE)):
            wanted = entry.said(says)  # type: ignore[arg-type] # one of the literals
            if not wanted:
                continue
            line = next((line for line in self.lines for text in wanted if _stands(text, line, says)), None)
            if line:
                yield Reason(f"its {says}", weight, line.page, line.box)
            elif says != "place":
                yield Reason(f"another {says}", ELSEWHERE)


_SAME: dict[Says, str] = {
    "vat_number": "its VAT number",
    "iban": "its bank account",
    "email": "its e-mail or web address",
    "phone": "its telephone",
}
_OTHER: dict[Says, str] = {"vat_number": "another VAT number", "iban": "another bank account"}


def _tokens(entry: Entry, says: Says) -> Iterator[str]:
    return (token for text in entry.said(says) for token in tokens_for(says, text))


def _nearly(text: str, wanted: Sequence[str]) -> bool:
    """Whether the number may be one of these, misread."""
    one = skeleton(bare(text).casefold())
    return any(
        Levenshtein.distance(one, skeleton(bare(other).casefold()), score_cutoff=FEW_SLIPS) <= FEW_SLIPS
        for other in wanted
    )


def _like(text: str, names: Sequence[str]) -> Likeness:
    likely = [likeness(text, name) for name in names]
    return max(likely, key=lambda like: (like.share, like.form), default=Likeness(99, 1, 0, False))


def _called(seen: NameSeen, like: Likeness) -> float:
    """What a text says for an entry that is called so, or nearly so."""
    slip = SLIP if seen.confidence >= LEGIBLE else UNCLEAR_SLIP
    form = OTHER_FORM if like.form == 0 else NO_FORM if like.form < 1 else 0.0
    slips = like.slips * slip * min(SHORT_NAME / max(like.length, 1), 1.0) ** 0.5 + UNLIKE * min(like.slips, 1.0)
    whole = next(weight for least, weight in CALLED if like.length >= least) + slips + form
    part = PART_OF_NAME if like.part and like.length >= CALLED[2][0] else -math.inf
    return float(max(whole, part) + (1 - seen.fitting) * NOT_ITS_PLACE)


def _stands(wanted: str, line: Line, says: str) -> bool:
    """Whether a part of an address stands on the line."""
    if says == "street":
        return fuzz.partial_ratio(_plain(wanted), _plain(line.text), score_cutoff=STREET_ALIKE) > 0 and (
            not _figures(wanted) or _figures(wanted) <= _figures(line.text)
        )
    if says == "postcode":
        return folded(wanted) in folded(line.text) if len(folded(wanted)) >= 4 else False
    return len(folded(wanted)) >= 4 and folded(wanted) in folded(line.text)


@lru_cache(maxsize=20_000)
def _plain(text: str) -> str:
    return folded(text)


def _figures(text: str) -> set[str]:
    return set("".join(c if c.isdigit() else " " for c in text).split())


def comparable(text: str) -> str:
    """A name as lists are searched for it."""
    return name_of(text).core
