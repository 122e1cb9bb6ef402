"""The archive's rows: what is due, entries written anew, and what a search finds; all of it by indexes."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from sqlalchemy import Integer, String, cast, literal, text
from sqlalchemy.dialects.postgresql import ARRAY, TSQUERY, insert
from sqlmodel import Session, col, delete, func, select

from zestpail.store.archive_tables import ArchiveDue, ArchiveEntry, ArchiveValue, SearchWord
from zestpail.store.feed_tables import Taken
from zestpail.store.tables import Document, FieldValue, Page, ReadingText

MOST_AT_ONCE = 5_000
FEW = 400
"""Documents up to which those with a word are fetched by the index, and put into order afterwards."""
MANY, UNKNOWN = 0.1, 0.006
"""Share of all documents from which on they are looked for from the newest on; and what the planner takes for the
share of a word that it knows nothing of, with some to spare."""
ENTERING = 20_411
"""What tells these locks from others of the database."""


@dataclass(frozen=True)
class Narrowed:
    """What a search is narrowed by; what is empty narrows nothing."""

    lane_id: int | None = None
    closed: Collection[int] = ()
    type_key: str = ""
    state: str = ""
    person_id: int | None = None
    party: str = ""
    """What the party's name begins with, plain."""
    since: date | None = None
    until: date | None = None
    least: Decimal | None = None
    most: Decimal | None = None
    field: str = ""
    """A field whose value begins with ``value``, plain."""
    value: str = ""
    between: tuple[date | Decimal | None, date | Decimal | None] = (None, None)
    """Between which days or numbers the field's value is."""
    states: Collection[str] = ()
    """Any of these states."""
    after: int | None = None
    """Documents with higher numbers, the lowest first."""
    untaken_by: int | None = None
    """A token whose program has not got the document as it stands."""


def take_due(session: Session, most: int) -> tuple[list[int], list[int]]:
    """What was changed since it was entered: the notes of it, and the documents that they name, each once."""
    notes = session.exec(select(ArchiveDue.id, ArchiveDue.document_id).order_by(col(ArchiveDue.id)).limit(most)).all()
    return [number for number, _ in notes if number], list(dict.fromkeys(document for _, document in notes))


def forget_due(session: Session, notes: Sequence[int]) -> None:
    """These are entered."""
    session.exec(delete(ArchiveDue).where(col(ArchiveDue.id).in_(notes)))


def lock_entry(session: Session, document_id: int) -> None:
    """Whoever enters the same document at the same time waits until this transaction ends."""
    session.execute(select(func.pg_advisory_xact_lock(ENTERING, document_id)))


def page_texts(session: Session, document_id: int) -> list[str]:
    """What was read off its pages, in their order."""
    wanted = select(ReadingText.text).join(Page, col(Page.reading) == col(ReadingText.reading))
    return list(session.exec(wanted.where(Page.document_id == document_id).order_by(col(Page.position))))


def texts_of_all(session: Session, documents: Collection[int]) -> list[tuple[int, str]]:
    """What was read off the pages of each of them, in the order of pages."""
    wanted = select(Page.document_id, ReadingText.text).join(ReadingText, col(ReadingText.reading) == col(Page.reading))
    wanted = wanted.where(col(Page.document_id).in_(documents)).order_by(col(Page.document_id), col(Page.position))
    return [(document_id or 0, text_) for document_id, text_ in session.exec(wanted)]


def values_told(session: Session, documents: Collection[int]) -> list[tuple[int, str, str]]:
    """Document, key and value of each of their values that is one, in the order of the fields."""
    wanted = select(FieldValue.document_id, FieldValue.key, FieldValue.value).where(col(FieldValue.value) != "")
    wanted = wanted.where(col(FieldValue.document_id).in_(documents)).order_by(col(FieldValue.position))
    return [(number, key, value or "") for number, key, value in session.exec(wanted)]


def write_entry(session: Session, entry: dict[str, Any], values: Iterable[dict[str, Any]]) -> None:
    """Write a document's row and its values anew."""
    vector = text("CAST(:vector AS tsvector)").bindparams(vector=entry["vector"])
    row = {**entry, "vector": vector}
    statement = insert(ArchiveEntry).values(**row)
    anew = {name: statement.excluded[name] for name in entry if name != "document_id"}
    session.execute(statement.on_conflict_do_update(index_elements=["document_id"], set_=anew))
    session.exec(delete(ArchiveValue).where(col(ArchiveValue.document_id) == entry["document_id"]))
    rows = [{"document_id": entry["document_id"], **value} for value in values]
    if rows:
        session.execute(insert(ArchiveValue).values(rows))


def forget_entry(session: Session, document_id: int) -> None:
    """The document is not found any more."""
    for table in (ArchiveEntry, ArchiveValue):
        session.exec(delete(table).where(col(table.document_id) == document_id))


def words_of_entry(session: Session, document_id: int) -> set[str]:
    """The words by which the document is found now."""
    words = select(func.unnest(func.tsvector_to_array(ArchiveEntry.vector)))
    return set(session.exec(words.where(ArchiveEntry.document_id == document_id)))


def unknown_words(session: Session, words: Collection[str]) -> set[str]:
    """Those that stood in no document until now."""
    known = session.exec(select(SearchWord.word).where(SearchWord.word == _any_of(words)))
    return set(words).difference(known)


def know_words(session: Session, words: Mapping[str, list[int]]) -> None:
    """These words, with their stubs, stand in some document.

    In one order, so that two who write them wait for each other, not both.
    """
    fresh = sorted(words)
    for at in range(0, len(fresh), MOST_AT_ONCE):
        some = [{"word": word, "stubs": words[word]} for word in fresh[at : at + MOST_AT_ONCE]]
        session.execute(insert(SearchWord).values(some).on_conflict_do_nothing())


def forget_words(session: Session, words: Collection[str]) -> None:
    """Those of the words that no document has any more are not looked for any more."""
    if not words:
        return
    query = cast(func.concat("'", SearchWord.word, "'"), TSQUERY)
    stands = select(ArchiveEntry.document_id).where(col(ArchiveEntry.vector).op("@@")(query))
    session.execute(delete(SearchWord).where(col(SearchWord.word) == _any_of(words), ~stands.exists()))


def words_inside(session: Session, part: str, most: int) -> list[str]:
    """Words that have these characters in them, the shortest first."""
    wanted = select(SearchWord.word).where(col(SearchWord.word).contains(part, autoescape=True))
    with _by_words(session):
        return list(session.exec(wanted.order_by(func.length(SearchWord.word), col(SearchWord.word)).limit(most)))


def words_by_stubs(session: Session, stubs: Sequence[int]) -> list[str]:
    """Words that have one of these stubs."""
    wanted = select(SearchWord.word).where(col(SearchWord.stubs).op("&&")(cast(list(stubs), ARRAY(Integer))))
    with _by_words(session):
        return list(session.exec(wanted.limit(MOST_AT_ONCE)))


def found(session: Session, query: str, narrowed: Narrowed, before: int | None, most: int) -> list[ArchiveEntry]:
    """The entries that a query of the index and all conditions hold for, the newest first unless others are asked."""
    columns = [column for name, column in ArchiveEntry.__table__.columns.items() if name != "vector"]  # type: ignore[attr-defined]
    wanted = select(*columns).where(*_conditions(narrowed))
    if query:
        rare = _rare(session, query)
        asked = col(ArchiveEntry.vector).op("@@")(cast(literal(query), TSQUERY))
        wanted = wanted.where(asked if rare is None else col(ArchiveEntry.document_id) == _any_number(rare))
    if before is not None:
        wanted = wanted.where(col(ArchiveEntry.document_id) < before)
    number = col(ArchiveEntry.document_id)
    if narrowed.after is not None:
        wanted = wanted.where(number > narrowed.after)
    order = number.desc() if narrowed.after is None else number.asc()
    rows = session.execute(wanted.order_by(order).limit(most))
    return [ArchiveEntry(**row._mapping, vector="") for row in rows]


def how_many(session: Session, query: str, narrowed: Narrowed, most: int) -> int:
    """How many entries there are in all; one more than ``most`` stands for more than those."""
    wanted = select(ArchiveEntry.document_id).where(*_conditions(narrowed))
    if query:
        wanted = wanted.where(col(ArchiveEntry.vector).op("@@")(cast(literal(query), TSQUERY)))
    return session.exec(select(func.count()).select_from(wanted.limit(most + 1).subquery())).one()


def _rare(session: Session, query: str) -> list[int] | None:
    """All documents that the query finds, if they are few; None where they are many.

    The planner knows how many documents have a common word, and takes a rare one for a common one: it would go through
    all documents from the newest on until enough are found. So the few are fetched first, by the index of words.
    """
    if _share(session, query) > MANY + UNKNOWN * query.count("|"):
        return None
    wanted = select(ArchiveEntry.document_id).where(col(ArchiveEntry.vector).op("@@")(cast(literal(query), TSQUERY)))
    with _by_words(session):
        few = list(session.exec(wanted.limit(FEW + 1)))
    return few if len(few) <= FEW else None


def _share(session: Session, query: str) -> float:
    """Which share of all documents the planner thinks that the query finds; 0 where it knows nothing yet."""
    explained = "EXPLAIN (FORMAT JSON) SELECT FROM archive_entry WHERE vector @@ CAST(:query AS tsquery)"
    plan = session.execute(text(explained), {"query": query}).scalar_one()
    all_ = session.execute(text("SELECT reltuples FROM pg_class WHERE oid = 'archive_entry'::regclass")).scalar_one()
    return float(plan[0]["Plan"]["Plan Rows"] / all_) if all_ > 0 else 0.0


@contextmanager
def _by_words(session: Session) -> Iterator[None]:
    """Within the block an index of words is used wherever there is one, whatever the planner thinks of it."""
    session.execute(text("SET LOCAL enable_seqscan = off; SET LOCAL enable_indexscan = off"))
    yield
    session.execute(text("SET LOCAL enable_seqscan = on; SET LOCAL enable_indexscan = on"))


def _any_number(numbers: Collection[int]) -> Any:
    return func.any(cast(sorted(numbers), ARRAY(Integer)))


def _conditions(narrowed: Narrowed) -> list[Any]:
    entry: list[Any] = []
    for column, value in (
        (ArchiveEntry.lane_id, narrowed.lane_id), (ArchiveEntry.type_key, narrowed.type_key),
        (ArchiveEntry.state, narrowed.state), (ArchiveEntry.person_id, narrowed.person_id),
    ):  # fmt: skip
        if value:
            entry.append(col(column) == value)
    if narrowed.states:
        entry.append(col(ArchiveEntry.state).in_(narrowed.states))
    if narrowed.untaken_by is not None:
        has = select(Taken.document_id).join(Document, col(Document.id) == col(Taken.document_id))
        has = has.where(Taken.token_id == narrowed.untaken_by, col(Taken.at) >= col(Document.settled_at))
        entry.append(col(ArchiveEntry.document_id).not_in(has))
    if narrowed.closed:
        entry.append(col(ArchiveEntry.lane_id).not_in(narrowed.closed))
    if narrowed.party:
        entry.append(_begins(ArchiveEntry.party_plain, narrowed.party))
    if narrowed.since:
        entry.append(col(ArchiveEntry.day) >= narrowed.since)
    if narrowed.until:
        entry.append(col(ArchiveEntry.day) <= narrowed.until)
    if narrowed.least is not None:
        entry.append(col(ArchiveEntry.amount) >= narrowed.least)
    if narrowed.most is not None:
        entry.append(col(ArchiveEntry.amount) <= narrowed.most)
    return [*entry, *_of_field(narrowed)] if narrowed.field else entry


def _of_field(narrowed: Narrowed) -> Iterator[Any]:
    """What the field that is named must be: begin so, or lie between these."""
    column: Any
    conditions: list[Any] = [_begins(ArchiveValue.plain, narrowed.value)] if narrowed.value else []
    for bound, at_least in zip(narrowed.between, (True, False), strict=True):
        if bound is not None:
            column = col(ArchiveValue.day) if isinstance(bound, date) else col(ArchiveValue.amount)
            conditions.append(column >= bound if at_least else column <= bound)
    for condition in conditions:
        has = select(ArchiveValue.document_id).where(ArchiveValue.key == narrowed.field, condition)
        yield col(ArchiveEntry.document_id).in_(has)


def _any_of(words: Collection[str]) -> Any:
    """Any of them, as one parameter: there may be more of them than a statement takes."""
    return func.any(cast(sorted(words), ARRAY(String)))


def _begins(column: Any, text_: str) -> Any:
    """That it begins so, as a range, which any index of the column answers."""
    return (col(column) >= text_) & (col(column) < cast(literal(text_ + "\U0010ffff"), String))
