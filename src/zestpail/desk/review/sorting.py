"""Doubts about what a document is or where it begins: what a person is shown of them, and what is decided."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace

from sqlmodel import Session, col, delete, select

from zestpail.core.classification.bag import bag_of_page, joined
from zestpail.core.classification.decide import Decision
from zestpail.core.classification.model import UNKNOWN
from zestpail.core.classification.nearest import nearest_samples
from zestpail.core.classification.page_sketch import folded_words, sketch_of
from zestpail.core.classification.pile import Sorted
from zestpail.core.classification.reasons import Reason
from zestpail.desk.documents.context import lane_of, revision_named, type_names
from zestpail.desk.documents.holding import holder_name
from zestpail.desk.documents.lane_classifier import taught_by
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.sorting_samples import keep_as_sample, sample_pages, with_sample
from zestpail.desk.documents.transitions import WORDS, sort_again, sorted_out, take_back
from zestpail.desk.pipeline.sort import why_asked
from zestpail.store import Store
from zestpail.store.jobs import Priority, defer
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.documents import pages_of
from zestpail.store.queries.pages import pages_of_stack
from zestpail.store.queries.review_queue import FOR_PERSON
from zestpail.store.states import DocumentState, FileState
from zestpail.store.tables import ArrivedFile, CheckResult, Document, FieldValue, Page, TableRow

MOST_KEYS = 9


@dataclass(frozen=True)
class LikelyType:
    """A type that a document may be of, with the figure key that says so."""

    number: int
    key: str
    name: str
    confidence: float | None
    """How likely it is, in [0, 1]; None where it is not among the likely ones."""
    sample: int | None
    """The sample of that type that is most like it."""


@dataclass(frozen=True)
class StretchPage:
    """One page of the stretch of the ribbon that is shown."""

    id: int
    number: int
    """Its place in the pile, from 1."""
    thumbnail: str
    here: bool
    """Whether it belongs to the document in doubt."""
    begins: bool
    doubtful: bool
    """Whether it is in doubt that a document begins there."""
    document: str
    """What the other document that it belongs to is."""
    marks: list[tuple[float, float, float, float, str]] = field(default_factory=list)
    """The words that weighed: left, top, width and height in % of the page, and whether they speak for or against."""


@dataclass(frozen=True)
class QuestionView:
    """What is shown of a document in doubt."""

    document_id: int
    version: int
    batch_id: int
    file_name: str
    lane_name: str
    lane_key: str
    why: str
    decision: Decision | None
    reasons: list[Reason]
    likely: list[LikelyType]
    pages: list[StretchPage]
    can_join: bool
    learns: str
    holder: str | None
    waiting: int


def is_in_doubt(store: Store, document_id: int) -> bool:
    """Whether it is to be said what the document is. Raises Missing."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None:
            raise Missing("There is no such document.")
        return document.state == DocumentState.SORTING


def question_view(store: Store, document_id: int, person_id: int) -> QuestionView:
    """The document as that person sees it. Raises Missing."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id)
        lane = lane_of(session, document)
        settings, pages = lane.settings, pages_of(session, document_id)
        decision = document.sorted.decision if document.sorted else None
        stretch = _stretch(session, document, pages)
        if decision:
            stretch = [_marked(store, session, page, decision.reasons) for page in stretch]
        waiting = select(Document.id).where(col(Document.state).in_(FOR_PERSON))
        return QuestionView(
            document_id=document_id, version=document.version, batch_id=document.batch_id,
            file_name=session.get_one(ArrivedFile, document.file_id).name, lane_name=lane.name, lane_key=lane.key,
            why=why_asked(document.sorted) if document.sorted else "telling what it is broke off",
            decision=decision, reasons=list(decision.reasons) if decision else [],
            likely=_likely(store, session, settings, pages, decision), pages=stretch,
            can_join=bool(stretch) and not stretch[0].here,
            learns=settings.sorting.learns if settings.sorting else "never",
            holder=holder_name(session, document, person_id), waiting=len(session.exec(waiting).all()),
        )  # fmt: skip


def _likely(
    store: Store, session: Session, settings: LaneSettings, pages: list[Page], decision: Decision | None
) -> list[LikelyType]:
    """The likely types first, then the others that the lane knows."""
    names = type_names(session)
    chances = {other.type: other.confidence for other in decision.alternatives} if decision else {}
    if decision and decision.type != UNKNOWN:
        chances = {decision.type: decision.confidence, **chances}
    sorting = settings.sorting
    known = [one.key for one in sorting.types] if sorting else []
    others = [settings.type, *(one.key for one in settings.other_types)]
    ordered = dict.fromkeys([*sorted(chances, key=lambda key: -chances[key]), *known, *others])
    near = _near(store, session, settings, pages)
    return [
        LikelyType(number, key, names.get(key, key), chances.get(key), near.get(key))
        for number, key in enumerate(ordered, 1)
    ]


def _near(store: Store, session: Session, settings: LaneSettings, pages: list[Page]) -> dict[str, int]:
    """By type the number of the sample that the document is most like."""
    if settings.sorting is None:
        return {}
    sketches = [sketch for page in pages if not (sketch := sketch_of(reading_of(store, page))).empty]
    taught = taught_by(session, settings.sorting)
    if not sketches or not taught.rows:
        return {}
    places = nearest_samples(taught, joined([bag_of_page(sketch) for sketch in sketches]))
    numbers = {one.key: [int(sample.name.split()[0]) for sample in one.samples] for one in taught.classifier.types}
    return {key: numbers[key][place] for key, place in places.items()}


def _stretch(session: Session, document: Document, pages: list[Page]) -> list[StretchPage]:
    """The document's pages with the last page before them and the first one behind."""
    if not pages:
        return []
    lying = [page for page in pages_of_stack(session, pages[0].stack_id or 0) if page.document_id]
    own = [at for at, page in enumerate(lying) if page.document_id == document.id]
    if not own:
        return []
    doubtful = {pages[at].id for at in (document.sorted.doubtful if document.sorted else ()) if at < len(pages)}
    names = type_names(session)
    shown = []
    for at in range(max(own[0] - 1, 0), min(own[-1] + 2, len(lying))):
        page, here = lying[at], lying[at].document_id == document.id
        other = "" if here else _standing(session, page, names)
        begins = at == 0 or lying[at - 1].document_id != page.document_id
        shown.append(
            StretchPage(page.id or 0, page.place + 1, page.thumbnail or "", here, begins, page.id in doubtful, other)
        )
    return shown


def _marked(store: Store, session: Session, page: StretchPage, reasons: Sequence[Reason]) -> StretchPage:
    """The page with the words that weighed, if it is one of the document in doubt."""
    return replace(page, marks=list(_marks(store, session, page.id, reasons))) if page.here else page


def _marks(
    store: Store, session: Session, page_id: int, reasons: Sequence[Reason]
) -> Iterator[tuple[float, float, float, float, str]]:
    reading = reading_of(store, session.get_one(Page, page_id))
    speaks = {word: str(reason.speaks) for reason in reversed(reasons) for word in reason.words}
    for word in reading.words:
        told = next((speaks[part] for part in folded_words(word.text) if part in speaks), "")
        if told:
            across, down = 100 / reading.width, 100 / reading.height
            x, y = round(word.box.x0 * across, 2), round(word.box.y0 * down, 2)
            yield x, y, round(word.box.width * across, 2), round(word.box.height * down, 2), told


def _standing(session: Session, page: Page, names: dict[str, str]) -> str:
    other = session.get_one(Document, page.document_id)
    told = other.sorted.decision.likeliest if other.sorted else ""
    return f"{names.get(told, 'another document')}, {WORDS[other.state]}"


def decide_type(store: Store, document_id: int, type_key: str, keep: bool, person_id: int) -> str:
    """Somebody says what the document is; with ``keep`` it becomes a sample of the lane. Returns the type's name.

    Raises Missing, and NotDone where that is settled already or the lane does not read with that type.
    """
    with store.transaction() as session:
        document = session.get(Document, document_id, with_for_update=True)
        if document is None:
            raise Missing("There is no such document.")
        _mine(session, document, person_id)
        lane = lane_of(session, document)
        session.refresh(lane, with_for_update=True)
        revision = revision_named(session, lane.settings, type_key)
        if revision is None:
            raise NotDone("This lane does not read with that type. Nothing was changed.")
        name = str(revision.body["name"])
        document.revision_id = revision.id or 0
        found = document.sorted.decision if document.sorted else None
        decision = Decision(
            type=type_key, confidence=1.0, state="sure", alternatives=found.alternatives if found else ()
        )
        document.sorted = Sorted(decision=decision)
        sorted_out(session, document, person_id, name)
        sorting = lane.settings.sorting
        if sorting and sorting.of(type_key) and (sorting.learns == "always" or (keep and sorting.learns != "never")):
            pages = sample_pages(store, pages_of(session, document_id))
            if pages:
                file = session.get_one(ArrivedFile, document.file_id)
                sample = keep_as_sample(
                    session, lane.id or 0, type_key, f"{file.name}, document {document_id}", pages, person_id
                )
                with_sample(lane, type_key, sample.id or 0)
        if session.get_one(ArrivedFile, document.file_id).state != FileState.SPLIT:
            defer(session, "extract", priority=Priority.EXTRACT, document_id=document_id)
        return name


def ask_again(store: Store, document_id: int, person_id: int) -> None:
    """What was said of it is taken back, as long as nobody settled a value of it and it is not delivered.

    Raises Missing, NotDone.
    """
    with store.transaction() as session:
        document = session.get(Document, document_id, with_for_update=True)
        if document is None:
            raise Missing("There is no such document.")
        by_hand = select(FieldValue.id).where(
            FieldValue.document_id == document_id, col(FieldValue.settled_by_id).is_not(None)
        )
        if session.exec(by_hand).first() is not None:
            raise NotDone("Values of it were settled by hand already. Split or join its pages on the ribbon instead.")
        if document.state == DocumentState.SETTLED:
            take_back(session, document, person_id)
        sort_again(session, document, person_id)
        for table in (FieldValue, CheckResult, TableRow):
            session.exec(delete(table).where(col(table.document_id) == document_id))


def page_ids(store: Store, document_id: int) -> list[int]:
    """The numbers of the document's pages."""
    with store.transaction() as session:
        return [page.id or 0 for page in pages_of(session, document_id)]


def _mine(session: Session, document: Document, person_id: int) -> None:
    """Raises NotDone where it is settled what the document is, or somebody else has it in hand."""
    if document.state != DocumentState.SORTING:
        raise NotDone(f"This document is {WORDS[document.state]}: somebody said already what it is.")
    holder = holder_name(session, document, person_id)
    if holder:
        raise NotDone(f"{holder} has this document in hand.")
