"""Reference lists as they are looked at: all of them, one with its columns and rows, and what a revision changed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from pydantic import BaseModel
from sqlmodel import col, select

from zestpail.core.reference.entries import texts_in
from zestpail.core.reference.reference_list import ListColumn
from zestpail.desk.reference.lists import list_of, used_by
from zestpail.store import Store
from zestpail.store.queries.list_rows import differences, documents_by_revision, documents_of_revision, rows_of
from zestpail.store.reference_tables import AskedFrom, KnownList, ListAlias, ListRevision, ListRow, ListState
from zestpail.store.tables import Person

ROWS, MOST_DIFFERENCES = 50, 400
STATE_WORDS = {
    ListState.READING: "is being read", ListState.READY: "ready", ListState.HELD: "a new file waits for your word",
    ListState.FAILED: "the last file was not taken",
}  # fmt: skip


class Wanted(BaseModel):
    """Which rows of a list are looked at."""

    find: str = ""
    start: int = 0
    revision: int = 0
    """0 for the newest."""


@dataclass(frozen=True)
class ListLine:
    """A list among all."""

    key: str
    name: str
    rows: int
    revision: int
    state: str
    words: str
    problem: str
    asked: AskedFrom | None
    users: list[str]


@dataclass(frozen=True)
class RevisionLine:
    """A revision, with who brought it."""

    revision: ListRevision
    person: str
    documents: int = 0
    """How many were looked up in it."""


@dataclass(frozen=True)
class Use:
    """A document that was looked up in a revision."""

    document_id: int
    file: str
    at: datetime
    entry: str
    """What was taken, as a person knows it; empty where nothing fitted."""
    by_person: bool


@dataclass(frozen=True)
class Changed:
    """A row as it was, or None, and as it is, or None; ``cells`` are the columns in which they differ."""

    before: Mapping[str, str] | None
    after: Mapping[str, str] | None
    key: str
    cells: frozenset[str]


@dataclass(frozen=True)
class ListView:
    """One list."""

    line: ListLine
    columns: tuple[ListColumn, ...]
    identifying: str
    rows: list[list[tuple[str, ...]]]
    """By row and column what stands there: one text, or that of each line."""
    many: int
    wanted: Wanted
    revisions: list[RevisionLine]
    aliases: list[ListAlias]
    waiting: str
    next_at: datetime | None


def all_lists(store: Store) -> list[ListLine]:
    """All lists by name."""
    with store.transaction() as session:
        found = session.exec(select(KnownList).order_by(col(KnownList.name))).all()
        return [_line(known, used_by(session, known.key)) for known in found]


def list_view(store: Store, key: str, wanted: Wanted) -> ListView:
    """One list with some of its rows. Raises Missing."""
    with store.transaction() as session:
        known = list_of(session, key)
        shown = wanted.revision or known.revision
        rows, many = rows_of(session, known.id or 0, shown, wanted.find.strip(), max(wanted.start, 0), ROWS)
        newest = select(ListRevision, Person.name).join(Person, isouter=True).where(ListRevision.list_id == known.id)
        revisions = session.exec(newest.order_by(col(ListRevision.number).desc()).limit(50)).all()
        used = documents_by_revision(session, key)
        told = select(ListAlias).where(ListAlias.list_id == known.id).order_by(col(ListAlias.id).desc()).limit(100)
        columns = known.model.columns if known.model else ()
        return ListView(
            _line(known, used_by(session, key)),
            columns,
            known.model.identifying.key if known.model else "",
            [[_lines(row, column) for column in columns] for row in rows],
            many,
            wanted,
            [RevisionLine(revision, person or "", used.get(revision.number, 0)) for revision, person in revisions],
            list(session.exec(told)),
            known.waiting_name if known.state is ListState.HELD else "",
            known.next_at,
        )


def changed_by(store: Store, key: str, number: int) -> tuple[ListView, list[Changed]]:
    """What a revision changed. Raises Missing."""
    view = list_view(store, key, Wanted(revision=number))
    with store.transaction() as session:
        known = list_of(session, key)
        pairs = differences(session, known.id or 0, number, MOST_DIFFERENCES)
        return view, [_changed(before, after, view.columns) for before, after in pairs]


def uses_of(store: Store, key: str, number: int) -> list[Use]:
    """The documents that were last looked up in a revision."""
    with store.transaction() as session:
        found = documents_of_revision(session, key, number, MOST_DIFFERENCES)
        return [
            Use(
                document.id or 0,
                file,
                document.arrived_at,
                one.found.label or one.entry or "",
                one.person_id is not None,
            )
            for one, document, file in found
        ]


def _changed(before: ListRow | None, after: ListRow | None, columns: Sequence[ListColumn]) -> Changed:
    was, now = (_texts(row, columns) if row else {} for row in (before, after))
    differing = {name for name in now if was.get(name) != now[name]} if before and after else set()
    row = after or before
    return Changed(was or None, now or None, row.key if row else "", frozenset(differing))


def _lines(row: ListRow, column: ListColumn) -> tuple[str, ...]:
    """What stands there, each text on one line, so that the lines of an entry stand beside each other."""
    return tuple(" / ".join(text.splitlines()) for text in texts_in(row.values, column.key))


def _texts(row: ListRow, columns: Sequence[ListColumn]) -> dict[str, str]:
    return {column.key: " / ".join(texts_in(row.values, column.key)) for column in columns}


def _line(known: KnownList, users: list[str]) -> ListLine:
    return ListLine(
        known.key, known.name, known.rows, known.revision, known.state.value, STATE_WORDS[known.state],
        known.problem, known.asked, users,
    )  # fmt: skip
