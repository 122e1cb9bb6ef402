"""The place Quality: all types in a list, and one type with its fields, its worst misses and how far to believe it."""

from __future__ import annotations

import csv
import io
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.evaluation.comparison import compared
from zestpail.core.evaluation.measure import Measure, Tally
from zestpail.core.reading.geometry import Box
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.whole_types import whole_type
from zestpail.desk.quality.daily import Changed, DailyWork, daily_work
from zestpail.desk.quality.tested import Tested, tested
from zestpail.desk.types.drafts import draft_of, type_of_draft
from zestpail.desk.types.samples import proof_samples
from zestpail.store import Store
from zestpail.store.queries.daily_work import lanes_of_type
from zestpail.store.queries.documents import pages_of
from zestpail.store.queries.samples import pages_of_sample, samples_of
from zestpail.store.queries.types import last_revision
from zestpail.store.states import SampleRole, SampleState
from zestpail.store.tables import Page, Sample, TypeDraft, TypeRevision

UNLEARNED = "unlearned"
SURELY_READ = 0.95
"""How surely something must be read to speak against what somebody said is right."""
MOST_MISSES = 6
"""The latest misses of a field that are shown."""


@dataclass(frozen=True)
class TypeLine:
    """A type in the list."""

    key: str
    name: str
    revision: int | None
    testing: bool
    """Whether samples are kept for testing."""
    untouched: tuple[int, int]
    changed: tuple[int, int]
    """Values that were left as they were read, and all."""
    seconds: float | None


@dataclass(frozen=True)
class MissShown:
    """A value that was wrong, with the place of it and the way to its document."""

    shown: str
    wanted: str
    confidence: float
    href: str
    page_id: int | None
    box: Box | None

    @property
    def doubts_label(self) -> bool:
        """Whether it was read so surely that what it is held against may be wrong itself."""
        return self.confidence >= SURELY_READ


@dataclass(frozen=True)
class FieldLine:
    """One field: on test samples now and before, and in daily work."""

    key: str
    name: str
    now: Tally
    before: Tally
    daily: tuple[int, int]
    misses: list[MissShown]


@dataclass(frozen=True)
class Bin:
    """Values that were said to be about so sure: how many, and how many of them were right."""

    low: float
    high: float
    of: int
    right: int


@dataclass(frozen=True)
class QualityView:
    """One type: tested and in daily work."""

    key: str
    name: str
    states: list[tuple[str, str]]
    state: str
    against: str
    lanes: list[tuple[str, str]]
    lane: str
    now: Tested
    before: Tested
    daily: DailyWork
    fields: list[FieldLine]
    tables: list[tuple[str, Tally]]
    """In daily work, by the name of each table: cells that were read as they are now, that were read, and that are."""
    tested_bins: list[Bin]
    daily_bins: list[Bin]

    @property
    def mended(self) -> int:
        """Values on test samples that are right now and were not."""
        return len(compared(self.before.measure, self.now.measure).mended)

    @property
    def broken(self) -> int:
        """Values on test samples that were right and are not any more."""
        return len(compared(self.before.measure, self.now.measure).broken)


def quality_of_all(store: Store, closed: Collection[int]) -> list[TypeLine]:
    """All types that are worked on, with their figures."""
    with store.transaction() as session:
        drafts = session.exec(select(TypeDraft).where(col(TypeDraft.retired_at).is_(None))).all()
        lines = [_line(session, draft, closed) for draft in drafts]
    return sorted(lines, key=lambda line: line.name.casefold())


def tested_of(store: Store, key: str) -> tuple[int, int]:
    """How many labelled values of a type's test samples are read rightly, and how many there are. Raises Missing."""
    with store.transaction() as session:
        doc_type = type_of_draft(draft_of(session, key))
        samples = proof_samples(store, session, key)
        rows = {row.id or 0: row for row in samples_of(session, key)}
    total = tested("", doc_type, [one for one in samples if rows[one.id].role == SampleRole.TEST], rows).measure.total
    return total.right, total.there


def quality_of(
    store: Store, key: str, closed: Collection[int], state: str = "", against: str = "", lane: str = ""
) -> QualityView:
    """One type in a state (``draft`` or a revision's number) against another. Raises Missing."""
    with store.transaction() as session:
        draft = draft_of(session, key)
        last = last_revision(session, key)
        state = state or "draft"
        against = against or (UNLEARNED if last is None or state != "draft" else str(last.number))
        states = _states(session, key)
        names = dict(states) | {UNLEARNED: "without what was learned"}
        if state not in dict(states) or against not in names:
            raise Missing("There is no such revision.")
        doc_type, other = (_in_state(session, draft, one, state) for one in (state, against))
        rows = {row.id or 0: row for row in samples_of(session, key) if row.state == SampleState.READY}
        samples = [
            sample for sample in proof_samples(store, session, key) if rows[sample.id].role == SampleRole.TEST
        ]  # fmt: skip
        now, before = tested(names[state], doc_type, samples, rows), tested(names[against], other, samples, rows)
        revision = int(state) if state.isdigit() else None
        daily = daily_work(session, key, revision, lane, closed)
        fields = [_field_line(session, doc_type, rows, one.key, now, before, daily) for one in doc_type.fields]
        return QualityView(
            key, doc_type.name, states, state, against, lanes_of_type(session, key, closed), lane, now, before, daily,
            sorted(fields, key=lambda line: (line.now.f1 if line.now.there else 1.0, -len(line.misses))),
            [(one.name, daily.measure.cells[one.key]) for one in doc_type.tables if one.key in daily.measure.cells],
            _bins(now.measure), _bins(daily.measure),
        )  # fmt: skip


def as_csv(view: QualityView) -> str:
    """The figures of the fields as a table for other programs."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["field", "name", "precision", "recall", "f1", "right", "there", "found", "f1_before",
                     "daily_kept", "daily_values"])  # fmt: skip
    for line in view.fields:
        tally = line.now
        writer.writerow([
            line.key, line.name, f"{tally.precision:.4f}", f"{tally.recall:.4f}", f"{tally.f1:.4f}", tally.right,
            tally.there, tally.found, f"{line.before.f1:.4f}", *line.daily,
        ])  # fmt: skip
    for name, cells in view.tables:
        writer.writerow(["", f"cells of {name}", *[""] * 7, cells.right, cells.there])
    return out.getvalue()


def _field_line(
    session: Session, doc_type: DocumentType, rows: Mapping[int, Sample], key: str, now: Tested, before: Tested,
    daily: DailyWork,
) -> FieldLine:  # fmt: skip
    missed = [
        *_missed_in_tests(session, doc_type, rows, key, now),
        *_missed_in_work(session, doc_type, key, daily.changed),
    ]
    return FieldLine(
        key, doc_type.names[key], now.measure.fields.get(key, Tally()), before.measure.fields.get(key, Tally()),
        _kept(daily, key), missed[:MOST_MISSES],
    )  # fmt: skip


def _line(session: Session, draft: TypeDraft, closed: Collection[int]) -> TypeLine:
    doc_type, last = type_of_draft(draft), last_revision(session, draft.key)
    testing = any(row.role == SampleRole.TEST for row in samples_of(session, draft.key))
    work = daily_work(session, draft.key, None, "", closed)
    return TypeLine(
        draft.key, doc_type.name, last.number if last else None, testing,
        (work.untouched, work.documents), (len(work.measure.message) - _wrong(work), len(work.measure.message)),
        work.seconds,
    )  # fmt: skip


def _wrong(work: DailyWork) -> int:
    return sum(not right for _, right in work.measure.message)


def _in_state(session: Session, draft: TypeDraft, state: str, shown: str) -> DocumentType:
    if state == UNLEARNED:
        return _in_state(session, draft, shown, shown).model_copy(update={"learned": None})
    if state == "draft":
        return type_of_draft(draft)
    wanted = select(TypeRevision).where(TypeRevision.key == draft.key, TypeRevision.number == int(state))
    return whole_type(session.exec(wanted).one())


def _states(session: Session, key: str) -> list[tuple[str, str]]:
    numbers = session.exec(
        select(TypeRevision.number).where(TypeRevision.key == key).order_by(col(TypeRevision.number).desc())
    )
    return [("draft", "the draft"), *((str(number), f"revision {number}") for number in numbers)]


def _kept(daily: DailyWork, key: str) -> tuple[int, int]:
    tally = daily.measure.fields.get(key, Tally())
    changed = sum(one.key == key for one in daily.changed)
    return (daily.documents - changed, daily.documents) if tally.found or tally.there else (0, 0)


def _missed_in_tests(
    session: Session, doc_type: DocumentType, rows: Mapping[int, Sample], key: str, now: Tested
) -> Iterator[MissShown]:
    field, type_key = doc_type.field(key), doc_type.key
    for miss in now.measure.misses:
        if miss.key != key:
            continue
        sample = int(miss.document)
        label = rows[sample].truth.get(key, {})
        pages = pages_of_sample(session, sample)
        box = Box(*label["box"]) if label.get("box") else None
        page = pages[label["page"] or 0] if box and (label["page"] or 0) < len(pages) else None
        yield MissShown(
            field.kind.show(miss.found) if miss.found else "nothing", _show(doc_type, key, miss.wanted),
            miss.confidence, f"/types/{type_key}?sample={sample}&field={key}", page.id if page else None, box,
        )  # fmt: skip


def _missed_in_work(
    session: Session, doc_type: DocumentType, key: str, changed: Sequence[Changed]
) -> Iterator[MissShown]:
    for one in changed:
        if one.key != key:
            continue
        pages: list[Page] = pages_of(session, one.document)
        page = pages[one.page] if one.page is not None and one.box and one.page < len(pages) else None
        yield MissShown(
            _show(doc_type, key, one.was), _show(doc_type, key, one.now), one.confidence,
            f"/review/{one.document}", page.id if page else None, one.box,
        )  # fmt: skip


def _show(doc_type: DocumentType, key: str, value: str | None) -> str:
    if not value:
        return "nothing"
    try:
        return doc_type.field(key).kind.show(value)
    except (ArithmeticError, ValueError):  # a value of the time when the field was of another kind
        return value


def _bins(measure: Measure) -> list[Bin]:
    return [Bin(low, high, of, right) for low, high, of, right in measure.reliability()]
