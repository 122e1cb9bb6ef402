"""Taking a new revision of a list: what came, changed and went is told, and rows are never changed by us."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import partial
from typing import Any

import orjson
from sqlmodel import Session

from zestpail.core.problems import Unreadable, why_unread
from zestpail.core.reference.entries import gathered, plain_values
from zestpail.core.reference.proposed import keys_of, proposed_list
from zestpail.core.reference.reference_list import Entry, ListColumn, ReferenceList
from zestpail.core.reference.table_file import TableFile, table_in
from zestpail.core.reference.traces import tokens_for, tokens_of
from zestpail.desk.documents.audit import note
from zestpail.store import Store
from zestpail.store.notices import changed as tell
from zestpail.store.queries.list_rows import add_rows, count_anew, end_rows, held_digests, search_anew
from zestpail.store.reference_tables import KnownList, ListRevision, ListState

DROPS_MUCH, DROPS_FEW = 0.2, 5
"""The share of entries, and their number, up to which they may go without a person being asked."""
SHOWN_KEYS = 5
MANY = 1_000
"""Rows from which on the database counts anew what is there."""


@dataclass(frozen=True)
class _Incoming:
    """A file's rows by what identifies each, as the list has them."""

    rows: Mapping[str, tuple[int, dict[str, object], str]]
    """Position, values by column, and their digest."""
    faults: tuple[str, ...]


def read_list(store: Store, list_id: int) -> None:
    """Take the file that waits, if any, and make the rows ready to be searched as the columns say now."""
    with store.transaction() as session:
        known = session.get(KnownList, list_id)
        if known is None or known.state is not ListState.READING:
            return
        blob, name, model = known.waiting, known.waiting_name, known.model
    try:
        table = table_in(store.blobs.get(blob), name) if blob else None
        now = _joined(model or proposed_list(known.key, known.name, table), table) if table else model
        incoming = _incoming(now, table) if now and table else None
    except Unreadable as problem:
        fail_list(store, list_id, str(problem))
        return
    except Exception as problem:
        fail_list(store, list_id, why_unread(problem))
        raise
    with store.transaction() as session:
        known = session.get_one(KnownList, list_id, with_for_update=True)
        if known.waiting != blob or known.state is not ListState.READING:
            return  # another file came meanwhile
        if incoming and now and table and not _taken(session, known, now, incoming, table):
            known.state = ListState.HELD
        else:
            _index(session, known)
            known.state = ListState.READY
        tell(session, "lists")


def fail_list(store: Store, list_id: int, problem: str) -> None:
    """The file that waited is not taken; the revision before holds."""
    with store.transaction() as session:
        known = session.get_one(KnownList, list_id, with_for_update=True)
        known.state, known.problem = ListState.FAILED, problem
        known.waiting, known.accepted = "", False
        tell(session, "lists")


def _joined(model: ReferenceList, table: TableFile) -> ReferenceList:
    """The list with the columns of the file: those that are known keep what they say, others are proposed."""
    known = {column.key: column for column in model.columns}
    fresh = {column.key: column for column in proposed_list(model.key, model.name, table).columns}
    taken = {column.says for column in known.values() if column.says}
    columns = [known.get(key) or _free(fresh[key], taken) for key in keys_of(table.headings)]
    return model.model_copy(update={"columns": tuple(columns)})


def _free(column: ListColumn, taken: set[Any]) -> ListColumn:
    return column.model_copy(update={"says": ""}) if column.says in taken else column


def _incoming(model: ReferenceList, table: TableFile) -> _Incoming:
    """The rows by what identifies them."""
    keys = keys_of(table.headings)
    found = gathered(model, (dict(zip(keys, cells, strict=True)) for cells in table.rows))
    rows = {key: (at, values, _digest(values)) for at, (key, values) in enumerate(found.entries.items())}
    return _Incoming(rows, tuple(_faults(model, found.again, found.nameless)))


def _faults(model: ReferenceList, again: Mapping[str, int], nameless: int) -> Iterator[str]:
    name = model.identifying.name
    if nameless:
        yield f"{_rows(nameless)} without “{name}” {'was' if nameless == 1 else 'were'} not taken."
    if again:
        shown = ", ".join(list(again)[:SHOWN_KEYS]) + (" …" if len(again) > SHOWN_KEYS else "")
        many = sum(again.values())
        have, were = ("has", "was") if many == 1 else ("have", "were")
        yield f"{_rows(many)} {have} the “{name}” of an earlier row and {were} not taken: {shown}."


def _rows(many: int) -> str:
    return "1 row" if many == 1 else f"{many:,} rows"


def _taken(session: Session, known: KnownList, model: ReferenceList, incoming: _Incoming, table: TableFile) -> bool:
    """Make the incoming rows the list's; returns whether that was done: where too much would go, a person is asked."""
    held = held_digests(session, known.id or 0)
    gone = [key for key in held if key not in incoming.rows]
    fresh = {key: row for key, row in incoming.rows.items() if held.get(key, (0, ""))[1] != row[2]}
    why = _why_held(known, model, len(gone), len(held)) if not known.accepted else ""
    if why:
        known.problem = why
        return False
    number = known.revision + 1
    revision = ListRevision(
        list_id=known.id or 0, number=number, source=known.waiting_name, blob=known.waiting, told=table.told,
        rows=len(incoming.rows), added=sum(key not in held for key in fresh),
        changed=sum(key in held for key in fresh), gone=len(gone), faults=list(incoming.faults),
        person_id=known.person_id,
    )  # fmt: skip
    if not revision.added and not revision.changed and not revision.gone and known.model == model:
        _settled(known)  # the same again is no revision
        return True
    session.add(revision)
    known.stale = known.stale or (known.model is not None and known.model != model)
    known.model = model
    end_rows(session, [held[key][0] for key in (*gone, *fresh) if key in held], number)
    add_rows(session, (_row(known.id or 0, model, key, row, number) for key, row in fresh.items()))
    if len(fresh) >= MANY:
        count_anew(session)
    known.revision, known.rows = number, len(incoming.rows)
    _settled(known)
    note(session, "list_revised", person_id=known.person_id,
         after={"list": known.key, "revision": number, "added": revision.added, "changed": revision.changed,
                "gone": revision.gone, "source": revision.source})  # fmt: skip
    return True


def _settled(known: KnownList) -> None:
    known.waiting, known.waiting_name, known.accepted, known.problem = "", "", False, ""


def _why_held(known: KnownList, model: ReferenceList, gone: int, of: int) -> str:
    """Why a person is asked before the file is taken; "" where nothing much is lost."""
    columns = {column.key for column in model.columns}
    lost = [column.name for column in known.model.columns if column.key not in columns] if known.model else []
    if lost:
        named = ", ".join(f"“{name}”" for name in lost)
        return f"“{known.waiting_name}” has no column {named} any more. It was not taken yet."
    if gone > max(DROPS_FEW, DROPS_MUCH * of):
        return f"“{known.waiting_name}” lacks {gone:,} of the {of:,} entries that are here. It was not taken yet."
    return ""


def _row(
    list_id: int, model: ReferenceList, key: str, row: tuple[int, dict[str, object], str], number: int
) -> dict[str, Any]:
    position, values, digest = row
    names, tokens = searched(model, key, values)
    return {
        "list_id": list_id, "key": key, "position": position, "values": values, "digest": digest, "names": names,
        "tokens": tokens, "since": number,
    }  # fmt: skip


def searched(model: ReferenceList, key: str, values: Mapping[str, object]) -> tuple[str, list[str]]:
    """By what a row is searched: its names, and its tokens."""
    entry = Entry(model, key, plain_values(values))
    names = [token.removeprefix("name:") for name in entry.names for token in tokens_for("name", name)]
    return " ".join(names), sorted(tokens_of(entry))


def _index(session: Session, known: KnownList) -> None:
    """Make the rows that hold ready to be searched by what the columns say now, if that was changed."""
    if known.model and known.stale:
        search_anew(session, known.id or 0, partial(searched, known.model))
    known.stale = False


def _digest(values: Mapping[str, object]) -> str:
    return hashlib.blake2b(orjson.dumps(values, option=orjson.OPT_SORT_KEYS), digest_size=12).hexdigest()
