"""What the review desk shows of a document: its cards, its pages, and where it stands in the queue."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from sqlmodel import Session, col, func, select

from zestpail.core.checks import NotScannedAgain
from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.choose import RunnerUp
from zestpail.core.finders import EmbeddedData, FromList
from zestpail.core.reading.geometry import Box
from zestpail.desk.documents.context import lane_of, type_of
from zestpail.desk.documents.holding import holder_name
from zestpail.desk.documents.journal import last_change
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.page_images import PageView
from zestpail.desk.documents.transitions import WORDS
from zestpail.desk.review.changes import subject_of
from zestpail.desk.review.desk import BY_PERSON
from zestpail.desk.review.entries import EntryView, about_entry, entry_views
from zestpail.desk.review.table_view import TableView, rows_told, table_views
from zestpail.store import Store
from zestpail.store.queries.documents import checks_of, pages_of, rows_of, values_of
from zestpail.store.queries.review_queue import FOR_PERSON
from zestpail.store.states import DocumentState, ValueState
from zestpail.store.tables import ArrivedFile, CheckResult, Document, FieldValue, Person

CardState = Literal["settled", "doubtful", "fails"]
SNIPPET_MARGIN = 5.0
"""Points of paper shown around a value."""


@dataclass(frozen=True)
class Choice:
    """Something to pick by its figure key: another reading, or what a failed check offers."""

    number: int
    shown: str
    why: str
    pieces: list[tuple[str, bool]] = field(default_factory=list)
    """The text in pieces, each with whether it differs from the present value."""


@dataclass(frozen=True)
class FailedCheck:
    check: str
    message: str
    offers: list[Choice]
    can_keep: bool
    other: int | None = None
    """The document that it speaks of."""


@dataclass(frozen=True)
class Card:
    """One field's card."""

    key: str
    name: str
    kind: str
    needed: bool
    value: str
    shown: str
    pieces: list[tuple[str, bool]]
    """The text as read, in pieces, each with whether it was read unsurely."""
    state: CardState
    confidence: float
    page: int | None
    box: Box | None
    snippet: Box | None
    source: str
    against_data: str
    """What the paper says and the data of the electronic invoice do not; empty where they agree or a person decided."""
    readings: list[Choice]
    second_best: str
    """What the second-best combination has here, and why it lost; empty where it has the same."""
    failed: list[FailedCheck]
    side: Literal["left", "right"]
    """The margin nearer to the value."""


@dataclass(frozen=True)
class ReviewView:
    """Everything that the desk shows."""

    document_id: int
    version: int
    type_name: str
    lane_name: str
    batch_id: int
    file_name: str
    arrived_at: datetime
    state: str
    open_to_change: bool
    holder: str | None
    held_at: datetime | None
    cards: list[Card]
    entries: list[EntryView]
    """What reference lists say of it."""
    page_checks: list[FailedCheck]
    pages: list[PageView]
    waiting: int
    undo: str
    """What undoing would take back; empty where there is nothing."""
    settled_by: str | None
    tables: list[TableView]
    table_checks: list[FailedCheck]

    @property
    def open_rows(self) -> int:
        return sum(len(table.open_rows) for table in self.tables)

    @property
    def doubtful(self) -> int:
        return self._in_state("doubtful") + self.open_rows

    @property
    def failing(self) -> int:
        of_cards = sum(len(card.failed) for card in self.cards) + sum(bool(entry.check) for entry in self.entries)
        return of_cards + len(self.page_checks) + len(self.table_checks)

    @property
    def settled(self) -> int:
        return self._in_state("settled")

    def _in_state(self, state: CardState) -> int:
        states = [card.state for card in self.cards] + [entry.state for entry in self.entries]
        return states.count(state)


def pages_shown(store: Store, document_id: int) -> list[PageView]:
    """The document's pages, as they are shown."""
    with store.transaction() as session:
        return _pages_shown(session, document_id)


def _pages_shown(session: Session, document_id: int) -> list[PageView]:
    return [
        PageView(p.id or 0, p.position + 1, p.width or 595, p.height or 842, p.problem)
        for p in pages_of(session, document_id)
    ]


def review_view(store: Store, document_id: int, person_id: int, window: tuple[str, int] = ("", 1)) -> ReviewView:
    """The document as that person sees it, its tables from the row on that ``window`` names. Raises Missing."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None:
            raise Missing("There is no such document.")
        doc_type, lane = type_of(session, document), lane_of(session, document)
        holder = holder_name(session, document, person_id)
        failed = [c for c in checks_of(session, document_id) if not c.passed and c.waived_by_id is None]
        pages = _pages_shown(session, document_id)
        values = values_of(session, document_id)
        rows = rows_of(session, document_id)
        worth, widths = {value.key: value.value for value in values}, [page.width for page in pages]
        return ReviewView(
            document_id=document_id,
            version=document.version,
            type_name=doc_type.name,
            lane_name=lane.name,
            batch_id=document.batch_id,
            file_name=session.get_one(ArrivedFile, document.file_id).name,
            arrived_at=document.arrived_at,
            state=WORDS[document.state],
            open_to_change=document.state == DocumentState.REVIEW and holder is None,
            holder=holder,
            held_at=document.held_at if holder else None,
            cards=[_card(doc_type, row, failed, pages, document.second_best) for row in values],
            entries=entry_views(session, document_id, failed, pages[0].width if pages else 595),
            page_checks=[
                _failed(c, doc_type, document.same_paper_id)
                for c in failed
                if not c.fields and not _of_table(c, doc_type)
            ],
            table_checks=[_failed(c, doc_type) for c in failed if not c.fields and _of_table(c, doc_type)],
            pages=pages,
            waiting=_waiting(session),
            undo=change.message if (change := last_change(session, subject_of(document_id))) else "",
            settled_by=_name(session, document.settled_by_id),
            tables=table_views(
                doc_type,
                rows,
                document.tables,
                worth,
                widths,
                window,
                rows_told(session, document_id, doc_type, {one.check for one in failed}, rows),
            ),
        )


def _of_table(result: CheckResult, doc_type: DocumentType) -> bool:
    check = doc_type.check(result.check)
    return bool(check and check.columns)


def _card(
    doc_type: DocumentType,
    row: FieldValue,
    failed: list[CheckResult],
    pages: list[PageView],
    second_best: RunnerUp | None,
) -> Card:
    rule = doc_type.field(row.key)
    about = [c for c in failed if c.fields and c.fields[-1] == row.key and not about_entry(c.check)]
    involved = any(row.key in c.fields for c in about)
    state: CardState = "fails" if involved else "doubtful" if row.state == ValueState.DOUBTFUL else "settled"
    box = Box(*row.box) if row.box else None
    shown = rule.kind.show(row.value) if row.value else ""
    readings = [
        Choice(at, text := rule.kind.show(r["value"]), r["why"], differing(shown, text))
        for at, r in enumerate(row.readings[:5], start=1)
    ]
    return Card(
        key=row.key,
        name=rule.name,
        kind=rule.kind.words,
        needed=row.key in doc_type.required(),
        value=row.value or "",
        shown=shown,
        pieces=_marked(row.raw, set(row.doubtful)),
        state=state,
        confidence=row.confidence,
        page=row.page,
        box=box,
        snippet=snippet_box(box),
        source=_source(row, all(isinstance(one, FromList) for one in rule.finders)),
        against_data=row.doubt if row.finder == EmbeddedData.code() and row.state == ValueState.DOUBTFUL else "",
        readings=[] if about and any(c.offers for c in about) else readings,
        second_best=_second_best(doc_type, row, second_best),
        failed=[_failed(c, doc_type) for c in about],
        side="left" if box and row.page is not None and box.cx < 0.45 * pages[row.page].width else "right",
    )


def _second_best(doc_type: DocumentType, row: FieldValue, second: RunnerUp | None) -> str:
    other = second.instead.get(row.key) if second else None
    if not other or second is None or other == row.value:
        return ""
    return f"Second best: {doc_type.field(row.key).kind.show(other)}, but {second.why}"


def snippet_box(box: Box | None) -> Box | None:
    """The value with some paper around it, never thinner than a line of text is wide."""
    if box is None:
        return None
    wide = max(box.width + 4 * SNIPPET_MARGIN, 5 * box.height)
    return Box(box.cx - wide / 2, box.y0 - SNIPPET_MARGIN, box.cx + wide / 2, box.y1 + SNIPPET_MARGIN)


def _source(row: FieldValue, from_list: bool) -> str:
    if row.settled_by_id and row.finder == BY_PERSON:
        return f"set by a person; {row.reason}" if row.reason else "set by a person"
    if not row.value and from_list:
        return "no entry says it"
    if not row.value:
        return "not found" if row.state == ValueState.DOUBTFUL else "none on the page"
    if row.state == ValueState.DOUBTFUL:
        return f"{row.confidence:.0%} sure: {row.doubt}. Found {row.reason}"
    return row.reason


def _failed(result: CheckResult, doc_type: DocumentType, same_paper: int | None = None) -> FailedCheck:
    other = same_paper if result.check == NotScannedAgain.code() else None
    check = doc_type.check(result.check)
    offers = [
        Choice(at, doc_type.field(offer["field"]).kind.show(offer["value"]), offer["text"])
        for at, offer in enumerate(result.offers, start=1)
    ]
    return FailedCheck(result.check, result.message, offers, check is None or check.can_be_waived, other)


def _marked(raw: str, doubtful: set[int]) -> list[tuple[str, bool]]:
    return _runs([(character, at in doubtful) for at, character in enumerate(raw)])


def differing(present: str, other: str) -> list[tuple[str, bool]]:
    """The other text in pieces, marked where a text of the same length differs from the present one."""
    if len(present) != len(other):
        return [(other, False)]
    return _runs([(b, a != b) for a, b in zip(present, other, strict=True)])


def _runs(characters: list[tuple[str, bool]]) -> list[tuple[str, bool]]:
    runs: list[tuple[str, bool]] = []
    for character, mark in characters:
        if runs and runs[-1][1] == mark:
            runs[-1] = (runs[-1][0] + character, mark)
        else:
            runs.append((character, mark))
    return runs


def _waiting(session: Session) -> int:
    wanted = select(func.count()).select_from(Document).where(col(Document.state).in_(FOR_PERSON))
    return session.exec(wanted).one()


def _name(session: Session, person_id: int | None) -> str | None:
    return session.get_one(Person, person_id).name if person_id else None
