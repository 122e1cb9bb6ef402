"""Which entry of a list a document's values speak of: an order, by its number, or by its supplier, amount and lines."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from zestpail.core.kinds.equality import same
from zestpail.core.reference.lines import Line, share_answered
from zestpail.core.reference.match import BY_CHANCE, OFFERED, Match, Matched, Reason
from zestpail.core.reference.reference_list import Entry, ListSource
from zestpail.core.reference.traces import tokens_for

NUMBERED, NEARLY_NUMBERED = 9.0, 3.0
PARTY, AMOUNT, ANSWERED = 2.0, 3.0, 3.5
"""What is said for an entry by its number, by whose it is, by its amount, and by lines that all answer its lines."""
OTHERS = -6.0
"""What is said by a number that is another one's."""


@dataclass(frozen=True)
class Told:
    """What a document says that tells which entry it speaks of."""

    number: str = ""
    parties: Sequence[str] = ()
    """Entries of other lists that it speaks of, such as its supplier's number."""
    amounts: Sequence[str] = ()
    rows: Sequence[Line] = field(default=())


def looked_up_by_values(source: ListSource, key: str, told: Told) -> Matched | None:
    """The entry that has the number; without one the likeliest, which are only offered. None where there is no list."""
    model = source.model(key)
    if model is None:
        return None
    tokens = set(tokens_for("identifier", told.number)) if told.number else set()
    numbered = {entry.key: entry for entry in source.traced(key, tokens)} if tokens else {}
    theirs = {token for party in told.parties for token in tokens_for("party", party)}
    entries = {**numbered, **{entry.key: entry for entry in source.traced(key, theirs)}} if theirs else numbered
    matches = sorted((_match(entry, told, entry.key in numbered) for entry in entries.values()), key=lambda m: -m.odds)
    best, others = (matches[0], tuple(matches[1 : 1 + OFFERED])) if matches else (None, ())
    taken = best is not None and best.entry.key in numbered
    return Matched(model.name, source.revision(key), best, taken, others, ())


def _match(entry: Entry, told: Told, numbered: bool) -> Match:
    reasons: list[Reason] = []
    if told.number:
        reasons.append(Reason("its number" if numbered else "another number", NUMBERED if numbered else OTHERS))
    if set(entry.said("party")) & set(told.parties):
        reasons.append(Reason("the same supplier", PARTY))
    if any(same(_plain(amount), _plain(said)) for amount in told.amounts for said in entry.said("amount")):
        reasons.append(Reason("the same amount", AMOUNT))
    answered = share_answered(told.rows, entry.lines_said())
    if answered:
        many = f"{round(answered * len(told.rows))} of {len(told.rows)} lines"
        reasons.append(Reason(many, ANSWERED * answered))
    return Match(entry, tuple(reasons) or (Reason("nothing but likeness", BY_CHANCE),))


def _plain(amount: str) -> str:
    try:
        return f"{Decimal(amount):.2f}"
    except ArithmeticError:
        return amount
