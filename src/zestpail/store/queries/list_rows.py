"""The rows of reference lists: taken in by the hundred thousand, looked at a page at a time."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

import orjson
from sqlalchemy import Integer, Text, cast, text
from sqlmodel import Session, col, func, or_, select, update

from zestpail.store.reference_tables import DocumentEntry, ListRow
from zestpail.store.tables import ArrivedFile, Document

_COLUMNS = ("list_id", "key", "position", "values", "digest", "names", "tokens", "since")
MOST_AT_ONCE = 20_000


def held_digests(session: Session, list_id: int) -> dict[str, tuple[int, str]]:
    """By what identifies each entry that holds now: its row, and the digest of its values."""
    held = select(ListRow.key, ListRow.id, ListRow.digest).where(
        ListRow.list_id == list_id, col(ListRow.until).is_(None)
    )
    return {key: (number or 0, digest) for key, number, digest in session.exec(held)}


def end_rows(session: Session, ids: Sequence[int], revision: int) -> None:
    """These rows hold until the revision."""
    for at in range(0, len(ids), MOST_AT_ONCE):
        some = ids[at : at + MOST_AT_ONCE]
        session.execute(update(ListRow).where(col(ListRow.id).in_(some)).values(until=revision))


def add_rows(session: Session, rows: Iterable[Mapping[str, Any]]) -> None:
    """Add rows, as fast as the database takes them."""
    session.flush()
    connection = session.connection().connection.driver_connection
    names = ", ".join(f'"{name}"' for name in _COLUMNS)
    with connection.cursor() as cursor, cursor.copy(f"COPY list_row ({names}) FROM STDIN") as copy:  # type: ignore[union-attr]
        for row in rows:
            copy.write_row([_plain(row[name]) for name in _COLUMNS])


def search_anew(
    session: Session, list_id: int, by: Callable[[str, Mapping[str, Any]], tuple[str, Sequence[str]]]
) -> None:
    """Have the rows that hold be searched by the names and tokens that ``by`` makes of their keys and values."""
    held = select(ListRow.id, ListRow.key, ListRow.values).where(
        ListRow.list_id == list_id, col(ListRow.until).is_(None)
    )
    session.execute(text("CREATE TEMPORARY TABLE searched_by (id int, names text, tokens text[]) ON COMMIT DROP"))
    connection = session.connection().connection.driver_connection
    for some in session.exec(held).partitions(MOST_AT_ONCE):
        with connection.cursor() as cursor, cursor.copy("COPY searched_by FROM STDIN") as copy:  # type: ignore[union-attr]
            for number, key, values in some:
                names, tokens = by(key, values)
                copy.write_row([number, names, list(tokens)])
    session.execute(text(
        "UPDATE list_row SET names = searched_by.names, tokens = searched_by.tokens FROM searched_by "
        "WHERE list_row.id = searched_by.id"
    ))  # fmt: skip
    session.expire_all()


def count_anew(session: Session) -> None:
    """Have the database count what is there, after many rows came: it chooses by that how to search."""
    session.execute(text("ANALYZE list_row"))


def _plain(value: Any) -> Any:
    return orjson.dumps(value).decode() if isinstance(value, dict) else value


def rows_of(
    session: Session, list_id: int, revision: int, wanted: str, first: int, most: int
) -> tuple[list[ListRow], int]:
    """The rows that held in a revision and have the text in any column, from ``first`` on, and how many there are."""
    held = (
        ListRow.list_id == list_id,
        ListRow.since <= revision,
        or_(col(ListRow.until).is_(None), col(ListRow.until) > revision),
    )
    if wanted:
        plain = wanted.replace("\\", r"\\").replace("%", r"\%").replace("_", r"\_")
        held = (*held, cast(col(ListRow.values), Text).ilike(f"%{plain}%"))  # type: ignore[assignment]
    many = session.exec(select(func.count()).select_from(ListRow).where(*held)).one()
    rows = session.exec(select(ListRow).where(*held).order_by(col(ListRow.position)).offset(first).limit(most))
    return list(rows), many


def differences(
    session: Session, list_id: int, revision: int, most: int
) -> list[tuple[ListRow | None, ListRow | None]]:
    """What a revision changed: each row as it was and as it is; None where it was not there, or is not any more."""
    came = session.exec(
        select(ListRow)
        .where(ListRow.list_id == list_id, ListRow.since == revision)
        .order_by(col(ListRow.position))
        .limit(most)
    ).all()
    went = session.exec(
        select(ListRow)
        .where(ListRow.list_id == list_id, ListRow.until == revision)
        .order_by(col(ListRow.position))
        .limit(most)
    ).all()
    before = {row.key: row for row in went}
    changed = [(before.pop(row.key, None), row) for row in came]
    gone: list[tuple[ListRow | None, ListRow | None]] = [(row, None) for row in before.values()]
    return [*gone, *sorted(changed, key=lambda pair: pair[0] is None)][:most]


def documents_by_revision(session: Session, key: str) -> dict[int, int]:
    """How many documents were looked up in each revision of the list."""
    revision = cast(col(DocumentEntry.found)["revision"].astext, Integer)
    wanted = select(revision, func.count()).where(DocumentEntry.list == key).group_by(revision)
    return {number: many for number, many in session.exec(wanted) if number}


def documents_of_revision(
    session: Session, key: str, number: int, most: int
) -> list[tuple[DocumentEntry, Document, str]]:
    """What was looked up in a revision of the list, with the documents and their files, the newest first."""
    wanted = (
        select(DocumentEntry, Document, ArrivedFile.name)
        .join(Document, col(Document.id) == col(DocumentEntry.document_id))
        .join(ArrivedFile, col(ArrivedFile.id) == col(Document.file_id))
        .where(DocumentEntry.list == key, col(DocumentEntry.found)["revision"].astext == str(number))
        .order_by(col(Document.id).desc())
        .limit(most)
    )
    return list(session.exec(wanted))
