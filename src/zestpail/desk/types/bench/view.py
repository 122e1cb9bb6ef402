"""What the bench shows: a sample in the middle, landmarks and fields in its margins, the proof under it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlmodel import Session

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.document_type.sentences import pieces
from zestpail.core.evaluation.proof import Outcome, Proof, Proven, Turn, prove, tables_on, turns
from zestpail.core.evaluation.proof import Sample as Proving
from zestpail.core.extraction.near_misses import why_not_found
from zestpail.core.finders import Piece, SearchContext
from zestpail.core.landmarks.match import LandmarkMatch
from zestpail.core.reading.geometry import Box
from zestpail.core.tables import Grid
from zestpail.desk.documents.journal import last_change
from zestpail.desk.documents.page_images import PageView
from zestpail.desk.documents.remembered_dividers import remembered_grids
from zestpail.desk.documents.stored_lists import list_choices, lists_for
from zestpail.desk.documents.whole_types import put_together
from zestpail.desk.types.bench.checks import CheckChoice, CheckLine, check_choices, check_lines
from zestpail.desk.types.bench.computed_fields import ComputedForm, form_of_way
from zestpail.desk.types.bench.fields import Offered, offers
from zestpail.desk.types.bench.proof import (
    Cell,
    Provable,
    line_of,
    shown_value,
    strip,
)
from zestpail.desk.types.bench.proposing import Proposals, proposals_on
from zestpail.desk.types.bench.rule_settings import RuleSettings, settings_of
from zestpail.desk.types.bench.table_view import TableCard, table_card
from zestpail.desk.types.drafts import draft_of, subject_of, type_of_draft
from zestpail.desk.types.samples import proof_samples
from zestpail.store import Store
from zestpail.store.queries.samples import pages_of_sample, samples_of
from zestpail.store.states import PageState, SampleRole, SampleState
from zestpail.store.tables import Sample, TypeDraft
from zestpail.store.trail_tables import JournalEntry

MOST_PINS = 5
NEARLY = 0.97
"""A second place that scores at least this share of the first is told: it is a tie."""


@dataclass(frozen=True)
class Pin:
    """A candidate on the page, with its score parts."""

    number: int
    shown: str
    score: float
    parts: str
    reason: str
    page: int
    box: Box


@dataclass(frozen=True)
class FieldCard:
    key: str
    name: str
    shown: str
    outcome: Outcome
    wanted: str
    confidence: float
    page: int | None
    box: Box | None
    sentence: list[Piece]
    pins: list[Pin]
    settings: RuleSettings
    computed: ComputedForm | None
    searched: str
    """Where nothing was found, how near it came."""


@dataclass(frozen=True)
class LandmarkCard:
    key: str
    sentence: str
    page: int | None
    box: Box | None
    seen: str
    near: str
    """The nearest miss where it was not found, or what fits nearly as well where it was."""
    answered: bool
    agreed: bool
    """Whether what is found is what a person said of this sample."""


@dataclass(frozen=True)
class SampleRow:
    id: int
    name: str
    state: str
    problem: str | None
    role: str


@dataclass(frozen=True)
class BenchView:
    key: str
    name: str
    version: int
    based_on: int | None
    samples: list[SampleRow]
    sample: SampleRow | None
    number: int
    pages: list[PageView]
    fields: list[FieldCard]
    landmarks: list[LandmarkCard]
    active: str
    strip: list[Cell]
    edit: dict[Turn, int]
    last_step: str
    right: int
    labelled: int
    tested: tuple[int, int]
    """The same of the samples that are kept for testing alone."""
    checks: list[CheckLine]
    check_choices: list[CheckChoice]
    tables: list[TableCard]
    open: bool = False
    """Whether nobody has said yet what is right for the field at hand on the sample at hand."""
    next_open: tuple[int, str] | None = None
    """The sample and field that come next of which nobody has."""
    proposals: Proposals | None = None
    """What may be a field on the sample; None where nobody asks."""
    offers: list[Offered] = field(default_factory=list)
    lists: list[tuple[str, str]] = field(default_factory=list)
    """The reference lists that there are."""
    list_columns: list[tuple[str, str]] = field(default_factory=list)
    """Their columns."""

    @property
    def new_computed(self) -> ComputedForm:
        """What a field that is worked out begins with."""
        return ComputedForm()

    @property
    def columns(self) -> list[tuple[str, str]]:
        """All columns of all tables, for checks over rows."""
        return [
            (f"{table.key}.{key}", f"{table.name}: {name}")
            for table in self.tables
            for key, name in zip(table.form.column, table.form.called, strict=True)
        ]

    @property
    def name_at_hand(self) -> str:
        """What the field or table at hand is called."""
        lines: list[FieldCard | TableCard] = [*self.fields, *self.tables]
        return next((one.name for one in lines if one.key == self.active), "")

    @property
    def reading(self) -> int:
        return sum(sample.state == SampleState.WAITING for sample in self.samples)


def bench_view(
    store: Store, key: str, sample_id: int | None, active: str | None, *, proposing: bool = False
) -> BenchView:
    """The bench with that sample and that field at hand, the first ones if they are not there. Raises Missing.

    Fields are proposed where that is asked for, and where there is none yet.
    """
    with store.transaction() as session:
        draft = draft_of(session, key)
        doc_type, step = type_of_draft(draft), last_change(session, subject_of(key))
        type_before = _before(session, draft, step) if step else doc_type
        rows = list(samples_of(session, key))
        ready = [row for row in rows if row.state == SampleState.READY]
        chosen = next((row for row in ready if row.id == sample_id), ready[0] if ready else None)
        pages = {
            row.id or 0: [p for p in pages_of_sample(session, row.id or 0) if p.state == PageState.READ]
            for row in ready
        }
        samples = proof_samples(store, session, key)
        remembered = remembered_grids(session, key)
        known, columns = list_choices(session)
    lists = lists_for(store, (doc_type, type_before))
    proof, before = prove(doc_type, samples, lists), prove(type_before, samples, lists)
    provable: dict[str, Provable] = {rule.key: rule for rule in doc_type.fields}
    provable |= {table.key: line_of(table) for table in doc_type.tables}
    at_hand = active if active in provable else next(iter(provable), "")
    page_ids = {sample: [page.id or 0 for page in saved] for sample, saved in pages.items()}
    right, labelled = counted_right(proof)
    document = next((s.document for s in samples if chosen and s.id == chosen.id), None)
    context = SearchContext(document, (), doc_type.landmarks) if document else None
    return BenchView(
        key=key,
        name=doc_type.name,
        version=draft.version,
        based_on=draft.based_on,
        samples=[sample_row(row) for row in rows],
        sample=sample_row(chosen) if chosen else None,
        number=ready.index(chosen) + 1 if chosen else 0,
        pages=[
            PageView(p.id or 0, number, p.width, p.height, None)
            for number, p in enumerate(pages.get(chosen.id or 0, []) if chosen else [], start=1)
        ],
        fields=[_card(doc_type, rule, proof[chosen.id or 0][rule.key], chosen, context) for rule in doc_type.fields]
        if chosen and context
        else [],
        landmarks=_landmarks(doc_type, context, chosen.truth) if context and chosen else [],
        active=at_hand,
        strip=strip(provable[at_hand], rows, proof, before, page_ids) if at_hand else [],
        edit=turns(before, proof, at_hand),
        last_step=step.message if step else "",
        right=right,
        labelled=labelled,
        tested=counted_right({row.id or 0: proof[row.id or 0] for row in ready if row.role == SampleRole.TEST}),
        checks=check_lines(doc_type),
        check_choices=check_choices(),
        tables=_tables(doc_type, chosen.id or 0, samples, proof, remembered) if chosen and document else [],
        open=bool(chosen and at_hand in provable and proof[chosen.id or 0][at_hand].outcome == "open"),
        next_open=next_open(
            proof, [row.id or 0 for row in ready], list(provable), chosen.id or 0 if chosen else 0, at_hand
        ),
        proposals=proposals_on(doc_type, chosen, document)
        if chosen and document and (proposing or not provable)
        else None,
        offers=offers(store, key, at_hand, chosen.id or 0) if chosen and at_hand else [],
        lists=known,
        list_columns=columns,
    )


def next_open(
    proof: Proof, samples: Sequence[int], keys: Sequence[str], sample: int, key: str
) -> tuple[int, str] | None:
    """After a field on a sample, the next one of which nobody has said what is right; from the first on at the end."""
    places = [(one, other) for one in samples for other in keys]
    at = places.index((sample, key)) + 1 if (sample, key) in places else 0
    open_ones = (place for place in (*places[at:], *places[:at]) if proof[place[0]][place[1]].outcome == "open")
    return next(open_ones, None)


def _before(session: Session, draft: TypeDraft, step: JournalEntry) -> DocumentType:
    return put_together(session, step.before["body"], step.before.get("learned", draft.learned))


def _tables(
    doc_type: DocumentType, chosen: int, samples: Sequence[Proving], proof: Proof, remembered: Mapping[str, list[Grid]]
) -> list[TableCard]:
    if not doc_type.tables:
        return []
    found = {sample.id: {table.key: table for table in tables_on(doc_type, sample.document)} for sample in samples}
    return [
        table_card(
            table, found[chosen][table.key], proof[chosen][table.key],
            [tables[table.key] for tables in found.values()], remembered.get(table.key, ()),
        )
        for table in doc_type.tables
    ]  # fmt: skip


def counted_right(proof: Proof) -> tuple[int, int]:
    """How many labelled values are right, and how many are labelled."""
    outcomes = [one.outcome for fields in proof.values() for one in fields.values() if one.outcome != "open"]
    return sum(outcome in ("right", "absent") for outcome in outcomes), len(outcomes)


def _card(doc_type: DocumentType, rule: FieldRule, proven: Proven, sample: Sample, context: SearchContext) -> FieldCard:
    found = proven.found
    wanted = sample.truth.get(rule.key)
    return FieldCard(
        key=rule.key,
        name=rule.name,
        shown=rule.kind.show(found.value) if found.value else "",
        outcome=proven.outcome,
        wanted=shown_value(rule, wanted["value"]) if wanted else "",
        confidence=found.confidence,
        page=found.page,
        box=found.box,
        sentence=pieces(rule, rule.key in doc_type.required(), doc_type.names),
        pins=[
            Pin(
                number=at,
                shown=rule.kind.show(candidate.value),
                score=candidate.score,
                parts=" × ".join(f"{name} {score:.2f}" for name, score in candidate.parts.items()),
                reason=candidate.reason,
                page=candidate.page,
                box=candidate.box,
            )
            for at, candidate in enumerate(found.candidates[:MOST_PINS], start=1)
        ],
        settings=settings_of(doc_type, rule),
        computed=form_of_way(rule),
        searched="" if found.value else why_not_found(rule, context),
    )


def _landmarks(doc_type: DocumentType, context: SearchContext, truth: Mapping[str, Any]) -> list[LandmarkCard]:
    cards = []
    for landmark in doc_type.landmarks:
        seen, places = context.landmark(landmark.key), context.landmark_matches(landmark.key)
        others = [place for place in places if place != seen]
        rival = others[0] if others and (not seen or others[0].score > NEARLY * seen.score) else None
        message = truth.get(landmark.key)
        there = Box(*message["box"]) if message and message["box"] else None
        cards.append(
            LandmarkCard(
                key=landmark.key,
                sentence=landmark.sentence,
                page=seen.page if seen else None,
                box=seen.box if seen else None,
                seen=_match_shown(seen) if seen else "not on this sample",
                near=f"{'fits nearly as well' if seen else 'nearest'}: {_match_shown(rival)}" if rival else "",
                answered=message is not None,
                agreed=(seen is None) if there is None else bool(seen and seen.box.grown(2).covers_centre_of(there)),
            )
        )
    return cards


def _match_shown(seen: LandmarkMatch) -> str:
    return f"“{seen.text}”, {seen.score:.2f}" if seen.text else f"{seen.score:.2f}"


def sample_row(row: Sample) -> SampleRow:
    return SampleRow(row.id or 0, row.name, row.state, row.problem, row.role)
