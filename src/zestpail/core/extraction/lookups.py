"""Looking a document up in reference lists: which of its names are compared, and what its entry says of its style."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from zestpail.core.checks import AgreesWithList, AgreesWithOrder
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.finders import Candidate, FromList, SearchContext, TooSlow
from zestpail.core.finders.context import FieldTarget
from zestpail.core.finders.parties.blocks import pieces_of
from zestpail.core.kinds import Style
from zestpail.core.kinds.style import decimal_marks
from zestpail.core.landmarks.labels import folded
from zestpail.core.reading.engines.second_reader import SecondLook
from zestpail.core.reference.by_values import Told, looked_up_by_values
from zestpail.core.reference.likeness import likeness
from zestpail.core.reference.match import LEGIBLE, Matched, NameSeen, looked_up
from zestpail.core.reference.reference_list import Entry, ListSource, Says
from zestpail.core.reference.traces import bare

ON_PAPER = 0.45
"""How likely a text is the name that is looked for by standing on the paper alone."""
SURE_ENTRY = 0.9
"""How likely an entry must be, in [0, 1], for the paper to be read by what the list says of it."""
BORNE_OUT = 0.99
"""How likely a value is that the list says too."""
LEAST_LETTERS = 4
MOST_READ_AGAIN = 8
BOTH_ALIKE = 0.97
"""How surely a name is read that both readers read alike, in [0, 1]."""
DAY_FIRST = {
    "day": True,
    "dd": True,
    "dmy": True,
    "d": True,
    "ddmmyyyy": True,
    "mmddyyyy": False,
    "month": False,
    "mm": False,
    "mdy": False,
    "m": False,
}


@dataclass
class Lookups:
    """The lists that are searched, and what was found in them for one document."""

    source: ListSource
    doc_type: DocumentType
    look: SecondLook | None = None
    """The second reader, for names that no list knows as they were read first."""
    besides: tuple[str, ...] = ()
    """Lists that are searched although no rule of the type asks them."""
    _found: dict[tuple[str, str], Matched | None] = field(default_factory=dict)

    def matched(self, key: str, named_by: str, context: SearchContext) -> Matched | None:
        """The entry of the list that the document speaks of; None where there is no such list."""
        if (key, named_by) not in self._found:
            names = names_seen(context, self.doc_type, named_by)
            found = looked_up(self.source, key, context.lines, names)
            if found and self.look and not (found.taken and found.named_exactly):
                found = looked_up(self.source, key, context.lines, with_second_look(names, self.look))
            self._found[key, named_by] = found
        return self._found[key, named_by]

    def identified(self, key: str, value: str) -> Entry | None:
        """The entry of the list that a value identifies, but for spaces, case and punctuation."""
        matched = looked_up_by_values(self.source, key, Told(value))
        return matched.entry if matched else None

    def all(self, context: SearchContext) -> dict[str, Matched]:
        """By list, what came of looking it up for any field."""
        asked = ((f.list, f.named_by) for rule in self.doc_type.fields for f in rule.finders if isinstance(f, FromList))
        found = {key: self.matched(key, named_by, context) for key, named_by in dict.fromkeys(asked) if key}
        who = next((rule.key for rule in self.doc_type.fields if rule.kind.a_name), "")
        found |= {key: self.matched(key, who, context) for key in self.besides if key not in found}
        return {key: matched for key, matched in found.items() if matched}

    def told_by(self, key: str) -> Iterator[tuple[str, Says]]:
        """The fields of which the list's entry says what they must be, apart from accounts."""
        for rule in self.doc_type.fields:
            for finder in rule.finders:
                if isinstance(finder, FromList) and finder.list == key and finder.named_by:
                    yield finder.named_by, "name"
        model = self.source.model(key)
        for check in self.doc_type.checks:
            if isinstance(check, AgreesWithList) and check.list == key and model:
                column = model.column(check.column)
                if column and column.says == "vat_number":
                    yield check.field, column.says

    def style(self, context: SearchContext) -> Style:
        """How the document writes numbers and dates, by what the lists say where the paper leaves it open."""
        style = context.style
        for matched in self.all(context).values():
            if matched.entry:
                style = _as_said(matched.entry, style, context)
        return style


def orders_named(
    source: ListSource,
    doc_type: DocumentType,
    values: Mapping[str, str | None],
    tables: Mapping[str, Sequence[Mapping[str, str | None]]],
    parties: Sequence[str],
) -> dict[str, Matched]:
    """By list of orders, the entry that a document's values speak of; ``parties`` are its entries of other lists."""
    found: dict[str, Matched] = {}
    money = [value for rule in doc_type.fields if rule.kind.money and (value := values.get(rule.key))]
    for check in doc_type.checks:
        if isinstance(check, AgreesWithOrder):
            told = Told(values.get(check.field) or "", parties, money, check.rows(tables))
            matched = looked_up_by_values(source, check.list, told)
            if matched:
                found[check.list] = matched
    return found


def borne_out(context: SearchContext, options: Mapping[str, tuple[Candidate, ...]]) -> dict[str, tuple[Candidate, ...]]:
    """The short lists, surer of what the list says of the entry: its name and its VAT number, as the paper has them.

    Never its account: where a paper names two, the one that is known already must not hide the other.
    """
    lookups, known = context.lists, dict(options)
    if not isinstance(lookups, Lookups):
        return known
    for key, matched in lookups.all(context).items():
        if matched.entry and matched.sure >= SURE_ENTRY:
            for name, says in lookups.told_by(key):
                wanted = matched.entry.said(says)
                known[name] = tuple(sorted((_as_known(c, says, wanted) for c in known[name]), key=lambda c: -c.score))
    return known


def _as_known(candidate: Candidate, says: Says, wanted: Sequence[str]) -> Candidate:
    if says == "name":
        same = any(like.slips < 1 and like.form > 0 for text in wanted for like in (likeness(candidate.raw, text),))
    else:
        same = bare(candidate.value) in {bare(text) for text in wanted}
    if not same:
        return candidate
    return candidate.model_copy(update={"likely": max(candidate.likely or 0.0, BORNE_OUT)})


def _as_said(entry: Entry, style: Style, context: SearchContext) -> Style:
    order = next(
        (DAY_FIRST.get(said.casefold().replace("/", "").replace(".", "")) for said in entry.said("date_order")), None
    )
    mark = next(({"comma": ",", "point": "."}.get(said.casefold(), said) for said in entry.said("decimal_mark")), "")
    told: dict[str, object] = {}
    if order is not None and not style.order_told:
        told |= {"day_first": order, "order_told": True}
    if mark in (",", ".") and not decimal_marks(context.lines)[style.decimal_mark]:
        told["decimal_mark"] = mark
    return style.model_copy(update=told)


def names_seen(context: SearchContext, doc_type: DocumentType, named_by: str) -> tuple[NameSeen, ...]:
    """The texts of a document that may name the entry: what the field's finders propose, and all that look like names.

    What another field of names has a better claim to counts less.
    """
    own, others = _proposed(context, doc_type, named_by), _claims_of_others(context, doc_type, named_by)
    seen: dict[tuple[int, str], NameSeen] = {}
    for candidate in own:
        claim = others.get(folded(candidate.raw), 0.0)
        fitting = candidate.score / (candidate.score + claim) if candidate.score else 0.0
        _add(seen, NameSeen(candidate.raw, candidate.page, candidate.box, candidate.confidence, fitting))
    for name in _on_paper(context):
        claim = others.get(folded(name.text), 0.0)
        _add(seen, name if claim < ON_PAPER else NameSeen(name.text, name.page, name.box, name.confidence, 0.0))
    return tuple(seen.values())


def with_second_look(names: Sequence[NameSeen], look: SecondLook) -> tuple[NameSeen, ...]:
    """The names with what the second reader has for those that were read unsurely: both alike are read surely."""
    likely = sorted((seen for seen in names if seen.fitting >= ON_PAPER), key=lambda seen: -seen.fitting)
    unsure = [seen for seen in likely if seen.confidence < LEGIBLE][:MOST_READ_AGAIN]
    seen_again: list[NameSeen] = []
    for seen in unsure:
        text = look(seen.page, seen.box)
        if text and folded(text) == folded(seen.text):
            seen_again.append(replace(seen, confidence=BOTH_ALIKE))
        else:
            seen_again += [seen, replace(seen, text=text)] if text else [seen]
    return (*(seen for seen in names if seen not in unsure), *seen_again)


def _add(seen: dict[tuple[int, str], NameSeen], name: NameSeen) -> None:
    known = seen.get((name.page, name.text))
    if known is None or known.fitting < name.fitting:
        seen[name.page, name.text] = name


def _proposed(context: SearchContext, doc_type: DocumentType, named_by: str) -> list[Candidate]:
    rule = next((rule for rule in doc_type.fields if rule.key == named_by), None)
    return _candidates(context, rule) if rule else []


def _claims_of_others(context: SearchContext, doc_type: DocumentType, named_by: str) -> dict[str, float]:
    claims: dict[str, float] = defaultdict(float)
    for rule in doc_type.fields:
        if named_by and rule.key != named_by and rule.kind.a_name:
            for candidate in _candidates(context, rule):
                text = folded(candidate.raw)
                claims[text] = max(claims[text], candidate.score)
    return claims


def _candidates(context: SearchContext, rule: FieldRule) -> list[Candidate]:
    """What a field's finders propose that look at the page themselves."""
    found: list[Candidate] = []
    for finder in rule.finders:
        if finder.stage == "page" and not isinstance(finder, FromList):
            try:
                found += finder.candidates(context, FieldTarget(rule.key, rule.kind))
            except TooSlow:
                continue
    return found


def _on_paper(context: SearchContext) -> Iterator[NameSeen]:
    """All pieces of lines that look like a name."""
    for line in context.lines:
        labelled = [match.end for match in context.matches_on(line)]
        for piece in pieces_of(line):
            if piece.part not in ("name", "street"):
                continue
            behind = max((end for end in labelled if piece.start < end < piece.end), default=piece.start)
            for start in {piece.start, behind}:
                text = line.text[start : piece.end].strip(" ,;:·|")
                if sum(c.isalpha() for c in text) >= LEAST_LETTERS:
                    sure = line.confidence_of(start, piece.end)
                    yield NameSeen(text, line.page, line.box_of(start, piece.end), sure, ON_PAPER)
