"""Reference lists as the engine asks them: the revisions that hold now, and what people told besides."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from contextlib import AbstractContextManager, nullcontext
from typing import cast

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.reference.entries import lines_in, plain_values
from zestpail.core.reference.held import NO_LISTS
from zestpail.core.reference.likeness import name_of
from zestpail.core.reference.reference_list import Entry, ListSource, ReferenceList, Says
from zestpail.core.reference.traces import bare
from zestpail.store import Store
from zestpail.store.queries.reference import (
    LEAST_ALIKE,
    Stored,
    aliases_of,
    entries_having,
    entries_named_like,
    entries_of,
    entries_with,
    list_named,
)
from zestpail.store.reference_tables import KnownList

MOST_TEXTS = 8
"""Texts of a paper that are searched by likeness; what is called exactly so is found among any number."""


class StoredLists:
    """The lists of a store; each question is a transaction of its own, or a part of the one that goes on."""

    def __init__(self, transaction: Callable[[], AbstractContextManager[Session]]) -> None:
        self._transaction = transaction
        self._known: dict[str, KnownList | None] = {}

    def model(self, key: str) -> ReferenceList | None:
        known = self._list(key)
        return known.model if known else None

    def revision(self, key: str) -> int:
        known = self._list(key)
        return known.revision if known else 0

    def entry(self, key: str, identifier: str) -> Entry | None:
        """The entry that the identifier names, as it holds now."""
        known = self._list(key)
        with self._transaction() as session:
            found = entries_of(session, known.id or 0, [identifier]) if known else []
            return next(iter(_entries(session, known, found)), None)

    def having(self, key: str, column: str, value: str) -> Sequence[Entry]:
        """The entries that have this in the column, written in any way."""
        known = self._list(key)
        if known is None:
            return ()
        with self._transaction() as session:
            return _entries(session, known, entries_having(session, known.id or 0, column, bare(value)))

    def traced(self, key: str, tokens: Collection[str]) -> Sequence[Entry]:
        """The entries that have one of these tokens."""
        known = self._list(key)
        if known is None:
            return ()
        with self._transaction() as session:
            return _entries(session, known, entries_with(session, known.id or 0, tokens))

    def named_like(self, key: str, texts: Sequence[str], most: int, least: float = LEAST_ALIKE) -> Sequence[Entry]:
        """The entries whose names are most like one of the texts, at most so many; none less like than ``least``."""
        known = self._list(key)
        wanted = list(dict.fromkeys(core for text in texts if (core := name_of(text).core)))[:MOST_TEXTS]
        if known is None or not wanted:
            return ()
        with self._transaction() as session:
            keys = entries_named_like(session, known.id or 0, wanted, most, least)
            rows = dict(entries_of(session, known.id or 0, keys))
            return _entries(session, known, [(key, rows[key]) for key in keys if key in rows])

    def _list(self, key: str) -> KnownList | None:
        if key not in self._known:
            with self._transaction() as session:
                known = list_named(session, key)
                self._known[key] = known if known and known.revision and known.model else None
        return self._known[key]


def lists_for(store: Store, doc_types: Sequence[DocumentType]) -> ListSource:
    """The lists that the types ask, as they stand now: the same object as long as nothing of them changes."""
    rules = (rule for doc_type in doc_types for rule in doc_type.fields)
    keys = {finder.asks for rule in rules for finder in rule.finders if finder.asks}
    if not keys:
        return NO_LISTS
    with store.transaction() as session:
        known = [list_named(session, key) for key in sorted(keys)]
        standing = tuple((one.key, one.revision, one.model) for one in known if one)
    if (store.url, standing) not in _steady:
        while len(_steady) >= MOST_STEADY:
            _steady.pop(next(iter(_steady)))
        _steady[store.url, standing] = StoredLists(store.transaction)
    return _steady[store.url, standing]


_steady: dict[tuple[str, tuple[tuple[str, int, ReferenceList | None], ...]], StoredLists] = {}
MOST_STEADY = 8


def list_choices(session: Session) -> tuple[list[tuple[str, str]], list[tuple[str, str]]]:
    """The lists that there are with their names, and all their columns: each once, with the lists that have it."""
    known = [one for one in session.exec(select(KnownList).order_by(col(KnownList.name))) if one.model]
    columns: dict[str, list[str]] = {}
    for one in known:
        for column in one.model.columns if one.model else ():
            columns.setdefault(column.key, [column.name]).append(one.name)
    told = [(key, f"{name} ({', '.join(of)})") for key, (name, *of) in columns.items()]
    return [(one.key, one.name) for one in known], told


def lists_within(session: Session) -> StoredLists:
    """The lists, asked within a transaction."""
    return StoredLists(lambda: nullcontext(session))


def _entries(session: Session, known: KnownList | None, found: Sequence[Stored]) -> list[Entry]:
    if known is None or known.model is None or not found:
        return []
    model = known.model
    told = aliases_of(session, known.id or 0, [key for key, _ in found])
    return [
        Entry(
            model, key, plain_values(values),
            tuple((cast(Says, alias.says), alias.text) for alias in told.get(key, ())), lines_in(values),
        )
        for key, values in found
    ]  # fmt: skip
