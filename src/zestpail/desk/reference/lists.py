"""Reference lists: added by a file or an address, told what their columns say, brought back, removed."""

from __future__ import annotations

from typing import cast

from slugify import slugify
from sqlmodel import Session, col, delete, func, select

from zestpail.core.document_type import DocumentType
from zestpail.core.reference.reference_list import SAYS, ReferenceList, Says
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.jobs import Priority, defer
from zestpail.store.notices import changed as tell
from zestpail.store.queries.reference import list_named
from zestpail.store.queries.types import last_revision
from zestpail.store.reference_tables import (
    AskedFrom,
    KnownList,
    ListAlias,
    ListRevision,
    ListRow,
    ListState,
)
from zestpail.store.tables import TypeDraft, TypeRevision

LONGEST_NAME = 80


def list_of(session: Session, key: str) -> KnownList:
    """The list of that key. Raises Missing."""
    known = list_named(session, key)
    if known is None:
        raise Missing("There is no such reference list.")
    return known


def add_list(store: Store, name: str, person_id: int, *, key: str = "") -> str:
    """A new list without any rows yet; returns its key. Raises NotDone."""
    called = " ".join(name.split())[:LONGEST_NAME]
    plain = key or slugify(called)
    if not plain:
        raise NotDone("Say what the list is called. Nothing was changed.")
    plain = plain if plain[0].isalpha() else f"list-{plain}"
    with store.transaction() as session:
        if list_named(session, plain):
            raise NotDone(f"There is a reference list “{called}” already. Give it a new file, or take another name.")
        session.add(KnownList(key=plain, name=called, state=ListState.READY, person_id=person_id))
        note(session, "list_begun", person_id=person_id, after={"list": plain, "name": called})
    return plain


def give_file(store: Store, key: str, name: str, data: bytes, person_id: int | None) -> None:
    """A file with the list as it is now: a worker reads it. Raises Missing, NotDone."""
    if not data:
        raise NotDone("The file is empty. Nothing was changed.")
    blob = store.blobs.put(data)
    with store.transaction() as session:
        known = list_of(session, key)
        known.waiting, known.waiting_name, known.accepted = blob, name[:200], False
        known.person_id = person_id
        read_anew(session, known)


def read_anew(session: Session, known: KnownList) -> None:
    """Have a worker take what waits, and make the rows ready to be searched."""
    known.state, known.problem = ListState.READING, ""
    session.add(known)
    session.flush()
    defer(session, "read_list", priority=Priority.OPEN, list_id=known.id)
    tell(session, "lists")


def accept(store: Store, key: str, person_id: int) -> None:
    """Take the file that waits, whatever it drops. Raises Missing, NotDone."""
    with store.transaction() as session:
        known = _held(session, key)
        known.accepted, known.person_id = True, person_id
        read_anew(session, known)


def refuse(store: Store, key: str, person_id: int) -> None:
    """Leave the list as it is. Raises Missing, NotDone."""
    with store.transaction() as session:
        known = _held(session, key)
        note(session, "list_changed", person_id=person_id, after={"list": key, "refused": known.waiting_name})
        known.waiting, known.waiting_name, known.problem, known.state = "", "", "", ListState.READY
        tell(session, "lists")


def _held(session: Session, key: str) -> KnownList:
    known = list_of(session, key)
    if known.state is not ListState.HELD:
        raise NotDone("No file of this list waits any more.")
    return known


def bring_back(store: Store, key: str, number: int, person_id: int) -> None:
    """Make the rows of an earlier revision the list's, as a new revision. Raises Missing, NotDone."""
    with store.transaction() as session:
        known = list_of(session, key)
        wanted = select(ListRevision).where(ListRevision.list_id == known.id, ListRevision.number == number)
        revision = session.exec(wanted).first()
        if revision is None:
            raise Missing("There is no such revision of this list.")
        known.waiting, known.accepted, known.person_id = revision.blob, True, person_id
        known.waiting_name = f"revision {number} again"
        read_anew(session, known)


def say_columns(store: Store, key: str, says: dict[str, str], person_id: int) -> None:
    """What the columns say; its rows are made ready to be searched by it. Raises Missing, NotDone."""
    with store.transaction() as session:
        known = list_of(session, key)
        if known.model is None:
            raise NotDone("The list has no rows yet.")
        if known.state is ListState.READING:
            raise NotDone("The list is being read at this moment. Nothing was changed; try it again in a little while.")
        before = known.model
        columns = tuple(
            column.model_copy(update={"says": cast(Says, said)})
            if (said := says.get(column.key)) is not None and said in SAYS
            else column
            for column in before.columns
        )
        _sound(columns_said := [column.says for column in columns])
        after = before.model_copy(update={"columns": columns})
        if after == before:
            return
        _same_identifier(session, known, before, after)
        known.model, known.stale = after, True
        told = {column.key: column.says for column in after.columns}
        note(session, "list_changed", person_id=person_id, after={"list": key, "columns": told, "said": columns_said})
        read_anew(session, known)


def _sound(says: list[Says]) -> None:
    if says.count("identifier") > 1:
        raise NotDone("Only one column can identify an entry. Nothing was changed.")


def _same_identifier(session: Session, known: KnownList, before: ReferenceList, after: ReferenceList) -> None:
    """Another column identifies the entries only if it tells all rows apart; then the file is taken anew."""
    if after.identifying.key == before.identifying.key:
        return
    at = col(ListRow.values)[after.identifying.key].astext
    held = (ListRow.list_id == known.id, col(ListRow.until).is_(None))
    many, apart = session.exec(select(func.count(), func.count(func.distinct(func.nullif(at, "")))).where(*held)).one()
    if many != apart:
        raise NotDone(
            f"“{after.identifying.name}” does not tell the {many:,} entries apart: it has {apart:,} different ones. "
            "Nothing was changed."
        )
    last = select(ListRevision).where(ListRevision.list_id == known.id).order_by(col(ListRevision.number).desc())
    revision = session.exec(last).first()
    if revision:
        known.waiting, known.waiting_name, known.accepted = revision.blob, revision.source, True


def rename_list(store: Store, key: str, name: str, person_id: int) -> None:
    """Call the list otherwise; its key stays. Raises Missing, NotDone."""
    called = " ".join(name.split())[:LONGEST_NAME]
    if not called:
        raise NotDone("Say what the list is called. Nothing was changed.")
    with store.transaction() as session:
        known = list_of(session, key)
        note(
            session,
            "list_changed",
            person_id=person_id,
            before={"name": known.name},
            after={"list": key, "name": called},
        )
        known.name = called
        if known.model:
            known.model = known.model.model_copy(update={"name": called})


def used_by(session: Session, key: str) -> list[str]:
    """The names of the document types whose rules or checks ask the list, as drafts or as published."""
    bodies = [draft.body for draft in session.exec(select(TypeDraft).where(col(TypeDraft.retired_at).is_(None)))]
    published = {body["key"] for body in bodies if "key" in body}
    newest = (last_revision(session, type_key) for type_key in sorted(published))
    bodies += [revision.body for revision in newest if isinstance(revision, TypeRevision)]
    return sorted({str(body["name"]) for body in bodies if key in _asked(body)})


def _asked(body: dict[str, object]) -> set[str]:
    """The lists that a type asks."""
    doc_type = DocumentType.model_validate(body)
    by_rules = {finder.asks for field in doc_type.fields for finder in field.finders}
    return {str(name) for name in by_rules | {getattr(check, "list", "") for check in doc_type.checks} if name}


def remove_list(store: Store, key: str, person_id: int) -> str:
    """Remove a list that no type asks, with all of its revisions; returns its name. Raises Missing, NotDone."""
    with store.transaction() as session:
        known = list_of(session, key)
        if users := used_by(session, key):
            raise NotDone(f"“{known.name}” is asked by {', '.join(users)}. Take it out of the rules there first.")
        for table in (ListRow, ListAlias, ListRevision):
            session.exec(delete(table).where(col(table.list_id) == known.id))
        note(session, "list_removed", person_id=person_id, before={"list": key, "name": known.name, "rows": known.rows})
        session.delete(known)
        tell(session, "lists")
        return known.name


def remember(store: Store, key: str, entry: str, says: Says, text: str, token: str, person_id: int) -> None:
    """Remember that an entry is known by this too. Raises Missing."""
    with store.transaction() as session:
        known = list_of(session, key)
        same = (ListAlias.list_id == known.id, ListAlias.key == entry, ListAlias.says == says, ListAlias.text == text)
        if session.exec(select(ListAlias).where(*same)).first() is None:
            session.add(
                ListAlias(list_id=known.id or 0, key=entry, says=says, text=text, token=token, person_id=person_id)
            )
            note(session, "entry_told", person_id=person_id, after={"list": key, "entry": entry, says: text})


def forget_alias(store: Store, key: str, alias_id: int, person_id: int) -> None:
    """An entry is not known by this any more. Raises Missing."""
    with store.transaction() as session:
        known = list_of(session, key)
        alias = session.get(ListAlias, alias_id)
        if alias is None or alias.list_id != known.id:
            raise Missing("This was removed already.")
        note(
            session, "entry_told", person_id=person_id, before={"list": key, "entry": alias.key, alias.says: alias.text}
        )
        session.delete(alias)


def ask_by(store: Store, key: str, asked: AskedFrom | None, person_id: int) -> None:
    """Ask an address for the list from now on, or none. Raises Missing."""
    with store.transaction() as session:
        known = list_of(session, key)
        known.asked, known.person_id = asked, person_id
        known.next_at = now() if asked else None
        note(session, "list_changed", person_id=person_id,
             after={"list": key, "asked": asked.model_dump(exclude={"secret"}) if asked else None})  # fmt: skip
