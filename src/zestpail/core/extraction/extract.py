"""From a document that was read to its values: find, choose, check."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from zestpail.core.checks import AnyCheck, DocumentValues, Verdict
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.alternatives import doubtful_characters, other_readings
from zestpail.core.extraction.choose import (
    MOST_CANDIDATES,
    Picks,
    choose,
    shortlist,
)
from zestpail.core.extraction.confidence import confidence_of
from zestpail.core.extraction.embedded import held_against, rows_by_data, said_by_data
from zestpail.core.extraction.extracted_value import ExtractedValue, Extraction
from zestpail.core.extraction.familiarity import unlike_known
from zestpail.core.extraction.lookups import Lookups, borne_out, orders_named
from zestpail.core.extraction.recalled import with_learned
from zestpail.core.extraction.roles import own_share
from zestpail.core.extraction.verify import verified
from zestpail.core.extraction.within_rows import apart_from_rows
from zestpail.core.finders import Candidate, Learned, Question, SearchContext, TooSlow
from zestpail.core.finders.context import FieldTarget
from zestpail.core.finders.memory import SearchMemory
from zestpail.core.learning.features import Surroundings
from zestpail.core.learning.judge import judged
from zestpail.core.learning.memory import memory_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.engines.second_reader import SecondLook
from zestpail.core.reference.held import NO_LISTS
from zestpail.core.reference.list_match import kept
from zestpail.core.reference.match import Matched
from zestpail.core.reference.reference_list import ListSource
from zestpail.core.tables import ExtractedTable, Table
from zestpail.core.tables.find import find_table

LEARNED = (Learned.code(), Question.code())
"""Finders that say how likely their candidates are themselves."""
GOOD_ENOUGH = 0.35
"""Where finders are tried in order, a candidate of this score ends the search."""


@dataclass(frozen=True)
class FieldSearch:
    """What the finders of a field see on the page, and why one of them could not go on."""

    candidates: tuple[Candidate, ...]
    problem: str = ""
    learned: tuple[Candidate, ...] = ()
    """What samples taught, which the judge was not: it is weighed against what the judge says of the others."""


def extract(
    document: DocumentReading,
    doc_type: DocumentType,
    look: SecondLook | None = None,
    lists: ListSource = NO_LISTS,
    besides: tuple[str, ...] = (),
) -> Extraction:
    """Find all fields of the type in the document, choose among the candidates, and check the result.

    With ``look`` the second reader reads every chosen value again, and the choice is made anew with what it saw.
    ``lists`` are the reference lists that the type's rules may ask; it is looked up in those named ``besides`` too.
    """
    return extract_in(context_of(document, doc_type, lists, look, besides), doc_type, SearchMemory(), look)


def context_of(
    document: DocumentReading,
    doc_type: DocumentType,
    lists: ListSource = NO_LISTS,
    look: SecondLook | None = None,
    besides: tuple[str, ...] = (),
) -> SearchContext:
    """The document as the type's finders search it, in the style that the list entry of its maker tells."""
    lookups = Lookups(lists, doc_type, look, besides)
    context = SearchContext(document, doc_type.labels, doc_type.landmarks, memory_of(doc_type.learned), lookups)
    style = lookups.style(context)
    return context if style == context.style else context.with_style(style)


def extract_in(
    context: SearchContext,
    doc_type: DocumentType,
    memory: SearchMemory,
    look: SecondLook | None = None,
    with_readings: bool = True,
) -> Extraction:
    """The same in a context that may be used again; ``memory`` keeps what was found for each rule.

    Without ``with_readings`` it is not worked out what else each value might be, which takes as long as finding it.
    """
    surroundings, searched = surroundings_in(context, doc_type, memory)
    tables = surroundings.tables
    options = likely_options(surroundings, searched)
    chosen = choose(options, doc_type.checks, context.rates)
    if look:
        options = verified(context, doc_type, chosen.picks, options, look)
        chosen = choose(options, doc_type.checks, context.rates)
    said = said_by_data(context, doc_type)
    tables = tuple(
        rows_by_data(context, table, paper) if said else paper
        for table, paper in zip(doc_type.tables, tables, strict=True)
    )
    paper = _derived_from_choice(context, doc_type, chosen.picks)
    picks = {**paper, **said}
    found = {key: pick.value if pick else None for key, pick in picks.items()}
    looked_up = _looked_up(context, doc_type, found, {table.key: table.values for table in tables})
    verdicts = judge(
        doc_type.checks,
        DocumentValues(
            found,
            doc_type.all_names,
            {table.key: table.values for table in tables},
            lists=context.lists.source if isinstance(context.lists, Lookups) else NO_LISTS,
            entries={key: matched.entry for key, matched in looked_up.items() if matched.entry},
        ),
    )
    read = tuple(
        _value(
            context,
            field,
            paper[field.key],
            options[field.key],
            proven(doc_type.checks, verdicts, field.key),
            own_share(field, paper, doc_type.fields, options),
            chosen.shares[field.key],
            searched[field.key].problem,
            with_readings,
        )
        for field in doc_type.fields
    )
    values = tuple(held_against(field, value, said) for field, value in zip(doc_type.fields, read, strict=True))
    needed = doc_type.required({key for key, pick in picks.items() if pick})
    return Extraction(
        values=values,
        tables=tables,
        verdicts=verdicts,
        style=context.style,
        runner_up=chosen.runner_up,
        entries={key: kept(key, matched) for key, matched in looked_up.items()},
        unfamiliar=unlike_known({value.key: value.confidence for value in values}, needed),
    )


def _looked_up(
    context: SearchContext,
    doc_type: DocumentType,
    values: Mapping[str, str | None],
    tables: Mapping[str, Sequence[Mapping[str, str | None]]],
) -> dict[str, Matched]:
    """By reference list, what came of looking the paper up, and then its values."""
    if not isinstance(context.lists, Lookups):
        return {}
    found = context.lists.all(context)
    parties = [matched.entry.key for matched in found.values() if matched.entry]
    return found | orders_named(context.lists.source, doc_type, values, tables, parties)


def surroundings_of(context: SearchContext, doc_type: DocumentType) -> Surroundings:
    """All candidates of a document, as the judge looks at them: for teaching it."""
    return surroundings_in(context, doc_type, SearchMemory())[0]


def surroundings_in(
    context: SearchContext, doc_type: DocumentType, memory: SearchMemory
) -> tuple[Surroundings, dict[str, FieldSearch]]:
    """All candidates of a document as the judge looks at them, and what the finders of each field saw."""
    tables = tuple(_table(context, table, doc_type, memory) for table in doc_type.tables)
    searched = searched_in(context, doc_type, memory, tables)
    return Surroundings(context, doc_type, _options(context, doc_type, searched), tables), searched


def searched_in(
    context: SearchContext, doc_type: DocumentType, memory: SearchMemory, tables: Sequence[ExtractedTable]
) -> dict[str, FieldSearch]:
    """What the finders of all fields see on the page; amounts in the rows of a table count less."""
    searched = {field.key: _searched(context, field, memory) for field in doc_type.fields}
    return {field.key: _of_the_document(field, searched[field.key], tables) for field in doc_type.fields}


def likely_options(surroundings: Surroundings, searched: Mapping[str, FieldSearch]) -> dict[str, tuple[Candidate, ...]]:
    """The short list of each field, as the judge and what samples taught put it in order."""
    options = {
        field.key: with_learned(
            judged(surroundings, field)[:MOST_CANDIDATES], searched[field.key].learned, ruled=field.judged
        )
        for field in surroundings.doc_type.fields
    }
    return borne_out(surroundings.context, options)


def judge(checks: Iterable[AnyCheck], document: DocumentValues) -> tuple[Verdict, ...]:
    """What the checks say of these values; checks that cannot be applied say nothing."""
    return tuple(verdict for check in checks if (verdict := check.judge(document)))


def proven(checks: Iterable[AnyCheck], verdicts: Iterable[Verdict], key: str) -> bool | None:
    """Whether the checks that can prove the field hold; None if there are none, or none could be applied."""
    proofs = {check.id: check.proves for check in checks if key in check.proves}
    about = [verdict for verdict in verdicts if verdict.check in proofs]
    if any(verdict.passed and proofs[verdict.check] == (key,) for verdict in about):
        return True  # it is proven by itself, whatever is wrong with what it is added to
    return all(verdict.passed for verdict in about) if about else None


def _table(context: SearchContext, table: Table, doc_type: DocumentType, memory: SearchMemory) -> ExtractedTable:
    """The table's rows, with the checks that speak of its columns."""
    about = [check for check in doc_type.checks if any(key == table.key for key, _ in check.columns)]
    question = "".join(one.model_dump_json() for one in (table, *about))
    return memory.recall(question, lambda: find_table(context, table, about))


def _of_the_document(field: FieldRule, search: FieldSearch, tables: Sequence[ExtractedTable]) -> FieldSearch:
    """What was seen of an amount, less likely where it stands in a row of a table."""
    if not field.kind.money or not tables:
        return search
    return replace(search, candidates=apart_from_rows(search.candidates, tables))


def _searched(context: SearchContext, field: FieldRule, memory: SearchMemory) -> FieldSearch:
    return memory.recall(field.model_dump_json(), lambda: _search(context, field))


def _search(context: SearchContext, field: FieldRule) -> FieldSearch:
    """What stands on the page, by the finders that look at it."""
    target, problem = FieldTarget(field.key, field.kind), ""
    found: list[Candidate] = []
    for finder in field.finders:
        if finder.stage != "page":
            continue
        try:
            found += finder.candidates(context, target)
        except TooSlow as slow:  # costs this field its value, not the document all of them
            problem = str(slow)
        if field.tries == "in_order" and any(candidate.score >= GOOD_ENOUGH for candidate in found):
            break
    if field.profile or field.within:
        found = [_as_usual(context, field, candidate) for candidate in found]
    return FieldSearch(
        tuple(c for c in found if c.finder not in LEARNED), problem, tuple(c for c in found if c.finder in LEARNED)
    )


def _as_usual(context: SearchContext, field: FieldRule, candidate: Candidate) -> Candidate:
    """The candidate, judged by how the field's values usually look and by where they may stand."""
    parts = dict(candidate.parts)
    if field.profile:
        parts |= field.profile.parts(candidate.raw)
    if field.within:
        parts["area"] = field.within.inside(context, candidate.page, candidate.box)
    return candidate.model_copy(update={"parts": parts})


def _options(
    context: SearchContext, doc_type: DocumentType, searched: Mapping[str, FieldSearch]
) -> dict[str, tuple[Candidate, ...]]:
    """The short list of each field: first what stands on the page, then what is derived from that."""
    options = {key: shortlist(search.candidates) for key, search in searched.items()}
    for field in doc_type.fields:
        found = searched[field.key].candidates
        target = FieldTarget(field.key, field.kind, found, options)
        derived = [
            candidate
            for finder in field.finders
            if finder.stage == "candidates"
            for candidate in finder.candidates(context, target)
        ]
        if derived:
            options[field.key] = shortlist([*found, *derived])
    return options


def _derived_from_choice(context: SearchContext, doc_type: DocumentType, picks: Picks) -> Picks:
    """The picks with the fields that follow from them, where nothing was found for these on the page."""
    done = dict(picks)
    for field in doc_type.in_order():
        for finder in field.finders:
            if finder.stage == "choice" and done[field.key] is None:
                others = {key: (pick,) for key, pick in done.items() if pick}
                target = FieldTarget(field.key, field.kind, (), others)
                done[field.key] = next(finder.candidates(context, target), None)
    return done


def _value(
    context: SearchContext,
    field: FieldRule,
    chosen: Candidate | None,
    rivals: tuple[Candidate, ...],
    sums: bool | None,
    own: float,
    share: float,
    problem: str,
    with_readings: bool,
) -> ExtractedValue:
    readings = other_readings(field, chosen, rivals, context) if with_readings else ()
    if chosen is None:
        return ExtractedValue(key=field.key, doubt=problem, candidates=rivals, readings=readings)
    sure = confidence_of(chosen, rivals, sums, own, share, field.kind.ambiguous(chosen.raw, context.style))
    return ExtractedValue(
        key=field.key,
        value=chosen.value,
        raw=chosen.raw,
        confidence=sure.value,
        doubt=sure.doubt,
        page=None if chosen.elsewhere else chosen.page,
        box=None if chosen.elsewhere else chosen.box,
        finder=chosen.finder,
        reason=chosen.reason,
        doubtful=doubtful_characters(chosen, context) if with_readings else (),
        readings=readings,
        candidates=rivals,
    )
