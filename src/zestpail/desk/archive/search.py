"""Finding a document again: by words of its pages, values and file, narrowed by what is known of it.

Words and numbers are found as they are written, whatever their case, accents and separators; where hardly anything is
found, words that are like those are taken for meant: a misread one, or one half remembered.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import NamedTuple

from pydantic import BaseModel, field_validator
from sqlmodel import Session, col, select

from zestpail.core.reading.misread_words import likest, stubs
from zestpail.core.reading.search_words import plain
from zestpail.desk.archive.asked import Term, query_of, terms_of
from zestpail.desk.archive.entering import enter_due
from zestpail.desk.archive.hits import around, first_hit, may_stand, without_separators
from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.archive_tables import ArchiveEntry
from zestpail.store.queries.access import Closed, lane_id_of
from zestpail.store.queries.archive import (
    Narrowed,
    found,
    how_many,
    texts_of_all,
    values_told,
    words_by_stubs,
    words_inside,
)
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Batch, Document, Lane, Person

MOST = 25
FEW = 3
"""Documents under which words that are like those asked for are searched too."""
MOST_AMOUNT = Decimal(10**13)
MOST_ALIKE = 8
LEAST_JOINED = 5
"""Letters of a word from which on it is looked for at the ends of others."""
MOST_COUNTED = 10_000
MOST_INSIDE = 40
DUE_AT_ONCE = 20
"""Documents that are entered before a search, if they were just changed."""
_NUMBERED = re.compile(r"(?:(batch|document|d)\s*)?#?(\d{1,9})", re.IGNORECASE)


def _bound(text: str) -> date | Decimal | None:
    """What was typed as the end of a range; None where nothing was. Raises ValueError for what is no day or number."""
    typed = text.strip()
    if not typed:
        return None
    with suppress(ValueError):
        return date.fromisoformat(typed)
    with suppress(InvalidOperation):
        number = Decimal(typed.replace(" ", "").replace(",", ""))
        if number.is_finite() and abs(number) < MOST_AMOUNT:
            return number
    raise ValueError("a day such as 2026-01-31, or a number")


class Wanted(BaseModel):
    """What somebody looks for; what is empty narrows nothing."""

    words: str = ""
    lane: str = ""
    type: str = ""
    state: str = ""
    person: str = ""
    party: str = ""
    since: date | None = None
    until: date | None = None
    least: Decimal | None = None
    most: Decimal | None = None
    field: str = ""
    value: str = ""
    lowest: str = ""
    """The least and the greatest value of the field: days (2026-01-31) or numbers."""
    highest: str = ""
    before: int | None = None
    """Documents with lower numbers than this: the next page."""
    after: int | None = None
    """Documents with higher numbers than this, the lowest first."""

    @field_validator("lowest", "highest")
    @classmethod
    def _is_bound(cls, text: str) -> str:
        _bound(text)
        return text

    @property
    def narrowed(self) -> bool:
        """Whether anything is asked but for words."""
        return bool(self.model_dump(exclude={"words", "before", "after"}, exclude_defaults=True))


@dataclass(frozen=True)
class Found:
    document_id: int
    batch_id: int
    file_name: str
    state: str
    in_review: bool
    values: list[tuple[str, str]]
    on_page: str
    """Where on a page the words stand, with what stands round them; empty where they are found otherwise."""
    page: int = 1
    """The page that this is, or the first."""


@dataclass(frozen=True)
class FoundBatch:
    id: int
    lane_name: str


@dataclass(frozen=True)
class Results:
    """What was found, the newest first, and what else was taken for meant."""

    documents: list[Found]
    alike: dict[str, list[str]] = field(default_factory=dict)
    """By word asked for, others that were searched too."""
    next: int | None = None
    """Where the next page begins; None where this is the last."""


class FoundEntries(NamedTuple):
    """A page of what was found, and what the words of the search were taken for."""

    entries: list[ArchiveEntry]
    next: int | None
    terms: list[Term]
    others: dict[str, list[str]]
    """By term, words of the archive that are meant too."""
    alike: dict[str, list[str]]
    """Those of them that were looked for because hardly anything has the word itself."""


def search(store: Store, wanted: Wanted, closed: Closed = ()) -> Results:
    """The documents that have all that is wanted, a page of them."""
    enter_due(store, DUE_AT_ONCE)
    with store.transaction() as session:
        there = found_entries(session, wanted, closed, MOST)
        first = _numbered(session, wanted, closed) if wanted.before is None else []
        ids = list(dict.fromkeys([*first, *(one.document_id for one in there.entries)]))
        documents = _shown(session, ids, there.terms, there.others)
        return Results(documents, there.alike, there.next)


def told_many(store: Store, wanted: Wanted, closed: Closed = ()) -> str:
    """How many documents have all that is wanted, as it is said."""
    with store.transaction() as session:
        there, narrowed = found_entries(session, wanted, closed, MOST), _narrowed(session, wanted, closed)
        query = query_of(there.terms, there.others)
        many = how_many(session, query, narrowed, MOST_COUNTED) if narrowed and there.entries else 0
    said = f"{min(many, MOST_COUNTED):,}".replace(",", " ")
    return said if many <= MOST_COUNTED else f"more than {said}"


def found_entries(
    session: Session, wanted: Wanted, closed: Closed, most: int, *, states: Sequence[str] = (),
    untaken_by: int | None = None,
) -> FoundEntries:  # fmt: skip
    """The entries that have all that is wanted, at most so many; of several states if they are named.

    With the number of a token, those that its program has not got as they stand.
    """
    terms = terms_of(wanted.words)
    narrowed = _narrowed(session, wanted, closed)
    if narrowed is None or (wanted.words.strip() and not terms):
        return FoundEntries([], None, terms, {}, {})
    narrowed = replace(narrowed, states=states, untaken_by=untaken_by)
    others = {term.whole: words_inside(session, term.whole, MOST_INSIDE) for term in terms if term.inside}
    entries = found(session, query_of(terms, others), narrowed, wanted.before, most + 1)
    alike: dict[str, list[str]] = {}
    if terms and len(entries) < FEW and wanted.before is None:
        alike = _alike(session, terms)
        if alike:
            more = found(session, query_of(terms, {**others, **alike}), narrowed, None, most + 1)
            alike = alike if len(more) > len(entries) else {}
            entries = more
    following = entries[most - 1].document_id if len(entries) > most else None
    return FoundEntries(entries[:most], following, terms, {**others, **alike}, alike)


def find_documents(store: Store, words: str, closed: Closed = ()) -> list[Found]:
    """Documents with the words on a page, in a value, a row, or their file's name, newest first."""
    return search(store, Wanted(words=words), closed).documents if words.strip() else []


def find_batch(store: Store, words: str, closed: Closed = ()) -> FoundBatch | None:
    """The batch of that number, for “batch 7” or “7”."""
    numbered = _NUMBERED.fullmatch(words.strip())
    if numbered is None or (numbered[1] or "batch").lower() != "batch":
        return None
    with store.transaction() as session:
        batch = session.get(Batch, int(numbered[2]))
        if batch is None or batch.lane_id in closed:
            return None
        return FoundBatch(batch.id or 0, session.get_one(Lane, batch.lane_id).name)


def _narrowed(session: Session, wanted: Wanted, closed: Closed) -> Narrowed | None:
    """What is wanted as the index knows it; None where there is no such lane or person, so that nothing is found."""
    lane = lane_id_of(session, wanted.lane) if wanted.lane else None
    person = session.exec(select(Person.id).where(Person.login == wanted.person)).first() if wanted.person else None
    if (wanted.lane and lane is None) or (wanted.person and person is None) or lane in closed:
        return None
    return Narrowed(
        lane, closed, wanted.type, wanted.state, person, plain(wanted.party.strip()), wanted.since, wanted.until,
        wanted.least, wanted.most, wanted.field, plain(wanted.value.strip()), after=wanted.after,
        between=(_bound(wanted.lowest), _bound(wanted.highest)),
    )  # fmt: skip


def _alike(session: Session, terms: Sequence[Term]) -> dict[str, list[str]]:
    """Words of the archive that may be meant, by the word that was asked for."""
    found = {}
    for term in terms:
        if term.can_be_misread:
            misread = words_by_stubs(session, stubs(term.whole))
            found[term.whole] = [*_joined(session, term.whole), *likest(term.whole, misread, MOST_ALIKE)]
    return {whole: words for whole, words in found.items() if words}


def _joined(session: Session, word: str) -> list[str]:
    """Numbers within which it stands, and words at whose beginning or end: they were read as one with others."""
    if word.isdigit():
        return words_inside(session, word, MOST_ALIKE)
    if len(word) < LEAST_JOINED:
        return []
    within = words_inside(session, word, MOST_INSIDE)
    return [one for one in within if one != word and (one.startswith(word) or one.endswith(word))][:MOST_ALIKE]


def _numbered(session: Session, wanted: Wanted, closed: Closed) -> list[int]:
    """The document of that number, for “document 7”, “D7” or “7”."""
    numbered = _NUMBERED.fullmatch(wanted.words.strip())
    if numbered is None or (numbered[1] or "d").lower() == "batch" or wanted.narrowed:
        return []
    entry = session.get(ArchiveEntry, int(numbered[2]))
    return [entry.document_id] if entry and entry.lane_id not in closed else []


def _shown(
    session: Session, ids: Sequence[int], terms: Sequence[Term], others: Mapping[str, Sequence[str]]
) -> list[Found]:
    """The documents as they are listed, in that order."""
    files = select(Document, ArrivedFile.name).join(ArrivedFile, col(ArrivedFile.id) == col(Document.file_id))
    documents = {one.id: (one, name) for one, name in session.exec(files.where(col(Document.id).in_(ids)))}
    of_revision = {one.revision_id: one for one, _ in documents.values()}
    types = {revision: type_of(session, one) for revision, one in of_revision.items()}
    values: dict[int, list[tuple[str, str]]] = defaultdict(list)
    for document_id, key, value in values_told(session, ids):
        values[document_id].append((key, value))
    texts: dict[int, list[str]] = defaultdict(list)
    for document_id, text in texts_of_all(session, ids) if terms else ():
        texts[document_id].append(text)
    found = []
    for number in ids:
        document, name = documents[number]
        doc_type = types[document.revision_id]
        page, on_page = _on_page(texts[number], terms, others)
        found.append(Found(
            number, document.batch_id, name, WORDS[document.state], document.state == DocumentState.REVIEW,
            [(doc_type.names[key], doc_type.field(key).kind.show(value))
             for key, value in values[number] if key in doc_type.names],
            on_page, page,
        ))  # fmt: skip
    return found


def _on_page(texts: Sequence[str], terms: Sequence[Term], others: Mapping[str, Sequence[str]]) -> tuple[int, str]:
    """The page that has the most of what is wanted, and the first place there in the words round it."""
    best, told = 0, (1, "")
    for number, text in enumerate(texts, start=1):
        joined, words = without_separators(text), text.split()
        there = [term for term in terms if may_stand(joined, term, others)]
        at = [first for term in there if (first := first_hit(words, term, others)) is not None]
        if len(at) > best:
            best, told = len(at), (number, f"page {number}: … {around(words, min(at))} …")
        if best == len(terms):
            break
    return told
