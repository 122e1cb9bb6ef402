"""From a document that was read to its values: find, choose, check."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

from pydantic import BaseModel, ConfigDict

from zestpail.core.checks import AnyCheck, Arithmetic, Before, ColumnSum, Named, Verdict
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.alternatives import OtherReading, doubtful_characters, other_readings
from zestpail.core.extraction.choose import (
    Picks,
    RunnerUp,
    choose,
    shortlist,
)
from zestpail.core.extraction.confidence import confidence_of
from zestpail.core.extraction.verify import looked_at
from zestpail.core.finders import (
    AddressBlock,
    BesideLabel,
    BesideRate,
    Candidate,
    Computed,
    DaysAfter,
    Expression,
    FixedPlace,
    Ground,
    InBarcode,
    OfCountry,
    Pattern,
    Remainder,
    Section,
    Signed,
    SumOfSeveral,
    Ticked,
    TooSlow,
)
from zestpail.core.finders.context import Sought
from zestpail.core.kinds import Style
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.engines.second_reader import SecondLook
from zestpail.core.reading.geometry import Box
from zestpail.core.tables import CapturedTable, Table
from zestpail.core.tables.find import found_table

Looking = (
    BesideLabel | BesideRate | Pattern | FixedPlace | InBarcode | Expression | AddressBlock | Section | Ticked | Signed
)
LEGIBLE = 0.35
"""Where an amount of at least this score is printed, none is worked out: a printed slip is for a person to see."""

GOOD_ENOUGH = 0.35
"""Where finders are tried in order, a candidate of this score ends the search."""


class CapturedValue(BaseModel):
    """What was found for one field, where, how surely, and what else it might have been."""

    model_config = ConfigDict(frozen=True)

    key: str
    value: str | None = None
    raw: str = ""
    confidence: float = 0.0
    page: int | None = None
    """Number of the page in the document, from 0."""
    box: Box | None = None
    finder: str = ""
    reason: str = ""
    doubt: str = ""
    """The weightiest reason not to be surer."""
    doubtful: tuple[int, ...] = ()
    """Which characters of ``raw`` were read unsurely."""
    readings: tuple[OtherReading, ...] = ()
    candidates: tuple[Candidate, ...] = ()
    """The short list, the losing ones too, best first."""


class Capture(BaseModel):
    """Everything found in one document."""

    model_config = ConfigDict(frozen=True)

    values: tuple[CapturedValue, ...]
    tables: tuple[CapturedTable, ...] = ()
    verdicts: tuple[Verdict, ...]
    style: Style
    runner_up: RunnerUp | None = None


def capture(document: DocumentReading, kind: DocumentType, look: SecondLook | None = None) -> Capture:
    """Find all fields of the type in the document, choose among the candidates, and check the result.

    With ``look`` the second reader reads every chosen value again, and the choice is made anew with what it saw.
    """
    return capture_on(Ground(document, kind.labels, kind.landmarks), kind, look)


def capture_on(
    ground: Ground, kind: DocumentType, look: SecondLook | None = None, with_readings: bool = True
) -> Capture:
    """The same on a ground that may be used again, so that what an edit did not touch is not looked for anew.

    Without ``with_readings`` it is not worked out what else each value might be, which takes as long as finding it.
    """
    options = _options(ground, kind)
    chosen = choose(options, kind.checks, ground.rates)
    if look:
        options = looked_at(ground, kind, chosen.picks, options, look)
        chosen = choose(options, kind.checks, ground.rates)
    picks = _worked_out(ground, kind, chosen.picks)
    found = {key: pick.value if pick else None for key, pick in picks.items()}
    tables = tuple(_table(ground, table, kind) for table in kind.tables)
    verdicts = judge(kind.checks, found, kind.all_names, {table.key: table.values for table in tables})
    values = tuple(
        _captured(
            ground, field, picks[field.key], options[field.key], _sums(kind.checks, verdicts, field.key), with_readings
        )
        for field in kind.fields
    )
    return Capture(values=values, tables=tables, verdicts=verdicts, style=ground.style, runner_up=chosen.runner_up)


def judge(
    checks: Iterable[AnyCheck],
    values: Mapping[str, str | None],
    names: Mapping[str, str],
    tables: Mapping[str, Sequence[Mapping[str, str | None]]] | None = None,
    before: Before | None = None,
) -> tuple[Verdict, ...]:
    """What the checks say of these values; checks that cannot be applied say nothing."""
    document = Named(values, names, tables or {}, before)
    return tuple(verdict for check in checks if (verdict := check.judge(document)))


def _table(ground: Ground, table: Table, kind: DocumentType) -> CapturedTable:
    """The table's rows; what was found once by the same description is not looked for anew."""
    about = [check for check in kind.checks if any(key == table.key for key, _ in check.columns)]
    asked = "".join(one.model_dump_json() for one in (table, *about))
    if asked not in ground.tables:
        ground.tables[asked] = found_table(ground, table, about)
    found: CapturedTable = ground.tables[asked]
    return found


def _options(ground: Ground, kind: DocumentType) -> dict[str, tuple[Candidate, ...]]:
    """The short list of each field: first what stands on the page, then what is made of that."""
    found = {field.key: _standing(ground, field) for field in kind.fields}
    options = {key: shortlist(candidates) for key, candidates in found.items()}
    for field in kind.fields:
        made = list(_made(ground, field, found[field.key], options))
        if made:
            options[field.key] = shortlist([*found[field.key], *made])
    return options


def _worked_out(ground: Ground, kind: DocumentType, picks: Picks) -> Picks:
    """The picks with the fields that are computed from them, where nothing was found for these on the page."""
    done = dict(picks)
    for field in kind.in_order():
        for finder in field.finders:
            if isinstance(finder, Computed) and done[field.key] is None:
                done[field.key] = finder.computed(ground, Sought(field.key, field.kind), done)
    return done


def _standing(ground: Ground, field: FieldRule) -> list[Candidate]:
    asked = field.model_dump_json()
    if asked not in ground.found:
        ground.found[asked] = _looked_for(ground, field)
    return ground.found[asked]


def _looked_for(ground: Ground, field: FieldRule) -> list[Candidate]:
    sought = Sought(field.key, field.kind)
    found: list[Candidate] = []
    for finder in field.finders:
        if isinstance(finder, Looking):
            try:
                found += finder.candidates(ground, sought)
            except TooSlow as problem:  # costs this field its value, not the document all of them
                ground.too_slow[field.key] = str(problem)
        if field.tries == "in order" and any(candidate.score >= GOOD_ENOUGH for candidate in found):
            break
    return [_as_usual(ground, field, candidate) for candidate in found] if field.looks or field.within else found


def _as_usual(ground: Ground, field: FieldRule, candidate: Candidate) -> Candidate:
    """The candidate, judged by how the field's values usually look and by where they may stand."""
    parts = dict(candidate.parts)
    if field.looks:
        parts |= field.looks.parts(candidate.raw)
    if field.within:
        parts["area"] = field.within.inside(ground, candidate.page, candidate.box)
    return candidate.model_copy(update={"parts": parts})


def _made(
    ground: Ground, field: FieldRule, found: list[Candidate], options: Mapping[str, tuple[Candidate, ...]]
) -> Iterator[Candidate]:
    for finder in field.finders:
        if isinstance(finder, SumOfSeveral):
            yield from finder.combined(found)
        elif isinstance(finder, DaysAfter):
            yield from finder.computed(ground, options[finder.field])
        elif isinstance(finder, OfCountry):
            yield from finder.computed(ground, options)
        elif isinstance(finder, Remainder) and not any(candidate.score >= LEGIBLE for candidate in found):
            yield from finder.computed(ground, field.key, options)


def _sums(checks: Iterable[AnyCheck], verdicts: Iterable[Verdict], key: str) -> bool | None:
    """Whether the sums that the field takes part in hold; None if it takes part in none."""
    sums = [check for check in checks if isinstance(check, Arithmetic | ColumnSum)]
    touching = [set(check.touches) for check in sums if key in check.touches]
    about = [verdict for verdict in verdicts if set(verdict.fields) in touching]
    if any(verdict.passed and verdict.fields == (key,) for verdict in about):
        return True  # the rows prove it, whatever is wrong with what it is added to
    return all(verdict.passed for verdict in about) if about else None


def _captured(
    ground: Ground,
    field: FieldRule,
    chosen: Candidate | None,
    rivals: tuple[Candidate, ...],
    sums: bool | None,
    with_readings: bool,
) -> CapturedValue:
    readings = other_readings(field, chosen, rivals, ground) if with_readings else ()
    if chosen is None:
        doubt = ground.too_slow.get(field.key, "")
        return CapturedValue(key=field.key, doubt=doubt, candidates=rivals, readings=readings)
    sure = confidence_of(chosen, rivals, sums)
    return CapturedValue(
        key=field.key,
        value=chosen.value,
        raw=chosen.raw,
        confidence=sure.value,
        doubt=sure.doubt,
        page=chosen.page,
        box=chosen.box,
        finder=chosen.finder,
        reason=chosen.reason,
        doubtful=doubtful_characters(chosen, ground) if with_readings else (),
        readings=readings,
        candidates=rivals,
    )
