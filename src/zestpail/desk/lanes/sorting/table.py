"""The sorting table of a lane: its types with their samples as they would be sorted, and what clashes."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import Session, col, select

from zestpail.core.classification.cues import WHERE
from zestpail.core.classification.decide import Decision
from zestpail.core.classification.faults import faults_of
from zestpail.core.classification.model import UNKNOWN
from zestpail.core.classification.sorting import SortedSample, sorted_samples
from zestpail.core.classification.taught import Taught
from zestpail.desk.documents.context import lane_of_key, type_names
from zestpail.desk.documents.journal import last_change
from zestpail.desk.documents.lane_classifier import classifier_of, is_read, samples_named, taught_from
from zestpail.desk.lanes.sorting.edits import draft_sorting
from zestpail.desk.lanes.sorting.heap import Suggested, suggested
from zestpail.desk.lanes.sorting.removed import subject_of
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.sorting_settings import LEARNING, UNKNOWN_ONES, SortedType, Sorting
from zestpail.store.states import SampleState
from zestpail.store.tables import ArrivedFile, Batch, Document, SortingSample, TypeRevision

RECENT = 60
"""Documents of earlier batches that are offered as samples."""


@dataclass(frozen=True)
class SampleCard:
    """One sample of the table."""

    id: int
    name: str
    pages: int
    picture: bool
    state: str
    problem: str
    taken_for: str
    """Name of the type that it would be given; "" while it is being read."""
    right: bool
    decision: Decision | None


@dataclass(frozen=True)
class TypeRow:
    """One type of the table."""

    key: str
    name: str
    cards: list[SampleCard]
    cues: list[str]
    description: str
    settings: SortedType

    @property
    def right(self) -> int:
        return sum(card.right for card in self.cards)

    @property
    def told(self) -> int:
        return sum(card.decision is not None for card in self.cards)


@dataclass(frozen=True)
class Clash:
    """Two samples that are taken for each other, beside each other."""

    one: SampleCard
    one_type: str
    other: SampleCard
    other_type: str
    common: tuple[str, ...]
    own: tuple[str, ...]


@dataclass(frozen=True)
class Change:
    """What the last change did to samples that were there before it."""

    message: str
    mended: list[str]
    broken: list[str]


@dataclass(frozen=True)
class Offered:
    """A document of an earlier batch that can be taken as a sample."""

    id: int
    name: str
    type: str


@dataclass(frozen=True)
class SortingView:
    key: str
    name: str
    lane_id: int
    rows: list[TypeRow]
    clashes: list[Clash]
    faults: list[str]
    last: Change | None
    waiting: int
    more_types: list[tuple[str, str]]
    types: list[tuple[str, str]]
    sorting: Sorting
    destinations: list[tuple[str, str]]
    active: bool
    heap: list[Suggested]

    @property
    def cards(self) -> list[SampleCard]:
        return [card for row in self.rows for card in row.cards]

    @property
    def right(self) -> int:
        return sum(card.right for card in self.cards)

    @property
    def told(self) -> int:
        return sum(card.decision is not None for card in self.cards)


CHOICES: dict[str, dict[str, str]] = {
    "where": {str(code): words for code, words in WHERE.items()}, "unknown": UNKNOWN_ONES, "learns": LEARNING,
    "speaks": {"for": "must say", "against": "must not say"},
}  # fmt: skip


def sorting_view(store: Store, lane_key: str) -> SortingView:
    """The table as the lane's draft has it. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        sorting, names = draft_sorting(lane), type_names(session)
        settings = lane.draft or lane.settings
        samples = samples_named(session, sorting)
        taught = taught_from(classifier_of(sorting, samples, names))
        told = _told(sorting, samples, taught)
        rows = [_row(one, names, samples, told) for one in sorting.types]
        entry = last_change(session, subject_of(lane))
        earlier = entry.before.get("settings") if entry else None
        before = LaneSettings.model_validate(earlier) if earlier else settings
        by_name = sorted(names.items(), key=lambda named: named[1])
        return SortingView(
            key=lane_key, name=lane.name, lane_id=lane.id or 0, rows=rows,
            clashes=_clashes(rows, told), faults=faults_of(taught.classifier) if sorting.types else [],
            last=_last(session, entry.message, before, samples, told) if entry else None,
            waiting=sum(sample.state == SampleState.WAITING for sample in samples.values()),
            more_types=[(key, name) for key, name in by_name if sorting.of(key) is None],
            types=[(one.key, names.get(one.key, one.key)) for one in sorting.types], sorting=sorting,
            destinations=[(one.id, f"{one.title} ({one.id})") for one in settings.destinations],
            active=lane.draft is None, heap=suggested(session, lane, taught),
        )  # fmt: skip


def _told(sorting: Sorting, samples: dict[int, SortingSample], taught: Taught) -> dict[int, SortedSample]:
    """By sample what it would be taken for."""
    ready = {one.key: [number for number in one.samples if is_read(samples.get(number))] for one in sorting.types}
    return {ready[found.type][found.number]: found for found in sorted_samples(taught)}


def _row(
    one: SortedType, names: dict[str, str], samples: dict[int, SortingSample], told: dict[int, SortedSample]
) -> TypeRow:
    cards = [_card(samples[number], names, told.get(number)) for number in one.samples if number in samples]
    return TypeRow(one.key, names.get(one.key, one.key), sorted(cards, key=_trouble),
                   [cue.sentence for cue in one.cues], one.description, one)  # fmt: skip


def _trouble(card: SampleCard) -> tuple[int, float]:
    """Those first that need somebody."""
    if card.decision is None:
        return 1, 0.0
    return (0 if not card.right else 2), card.decision.confidence


def _card(sample: SortingSample, names: dict[str, str], found: SortedSample | None) -> SampleCard:
    taken = found.decision.type if found else ""
    return SampleCard(
        id=sample.id or 0, name=sample.name, pages=len(sample.pages), state=str(sample.state),
        picture=bool(sample.pages and sample.pages[0].thumbnail), problem=sample.problem or "",
        taken_for="none of the types" if taken == UNKNOWN else names.get(taken, taken),
        right=bool(found and found.right), decision=found.decision if found else None,
    )  # fmt: skip


def _clashes(rows: list[TypeRow], told: dict[int, SortedSample]) -> list[Clash]:
    cards = {card.id: (card, row) for row in rows for card in row.cards}
    by_place: dict[tuple[str, int], int] = {(found.type, found.number): number for number, found in told.items()}
    clashes = []
    for number, found in told.items():
        if found.beside is None or found.beside not in by_place:
            continue
        (one, row), (other, others) = cards[number], cards[by_place[found.beside]]
        clashes.append(Clash(one, row.name, other, others.name, found.common, found.own))
    return clashes


def _last(
    session: Session,
    message: str,
    before: LaneSettings,
    samples: dict[int, SortingSample],
    told: dict[int, SortedSample],
) -> Change:  # fmt: skip
    """What became better and worse of samples that were there before and are there now."""
    old = before.sorting or Sorting()
    known = samples_named(session, old)
    was = _told(old, known, taught_from(classifier_of(old, known, {})))
    both = [number for number in told if number in was]
    return Change(
        message=message,
        mended=[samples[number].name for number in both if told[number].right and not was[number].right],
        broken=[samples[number].name for number in both if was[number].right and not told[number].right],
    )


def offered(store: Store, lane_key: str) -> list[Offered]:
    """The last documents of the lane that can be taken as samples, with the type that they have. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        of_lane = (
            select(Document, ArrivedFile, TypeRevision)
            .join(ArrivedFile, col(Document.file_id) == col(ArrivedFile.id))
            .join(Batch, col(Document.batch_id) == col(Batch.id))
            .join(TypeRevision, col(Document.revision_id) == col(TypeRevision.id))
            .where(Batch.lane_id == lane.id)
        )
        last = session.exec(of_lane.order_by(col(Document.id).desc()).limit(RECENT))
        return [Offered(document.id or 0, file.name, str(revision.body["name"])) for document, file, revision in last]
