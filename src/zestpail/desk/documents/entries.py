"""Which entries of reference lists a document speaks of."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from sqlmodel import Session, col, delete, select

from zestpail.core.reference.list_match import ListMatch
from zestpail.core.reference.reference_list import Entry
from zestpail.desk.documents.stored_lists import StoredLists
from zestpail.store.reference_tables import DocumentEntry, ListAlias


def keep_entries(session: Session, document_id: int, found: Mapping[str, ListMatch]) -> None:
    """Keep what the document was found to speak of, in place of what was found before."""
    session.exec(delete(DocumentEntry).where(col(DocumentEntry.document_id) == document_id))
    for key, match in found.items():
        session.add(DocumentEntry(document_id=document_id, list=key, entry=match.entry, found=match))
    session.flush()


def entries_kept(session: Session, document_id: int) -> list[DocumentEntry]:
    """What the document speaks of, list by list."""
    kept = select(DocumentEntry).where(DocumentEntry.document_id == document_id).order_by(col(DocumentEntry.id))
    return list(session.exec(kept))


def told_at(session: Session, document_id: int) -> list[int]:
    """What people told of entries at the document, to be known next time."""
    return [number or 0 for number in session.exec(select(ListAlias.id).where(ListAlias.document_id == document_id))]


def forget_told(session: Session, document_id: int, but: Collection[int]) -> None:
    """Forget what was told at the document, but for these."""
    session.exec(delete(ListAlias).where(col(ListAlias.document_id) == document_id, col(ListAlias.id).not_in(but)))


def entries_meant(session: Session, document_id: int, lists: StoredLists) -> dict[str, Entry]:
    """By list, the entry that the document speaks of, as the list has it now."""
    kept = ((one.list, one.entry) for one in entries_kept(session, document_id))
    return {key: entry for key, name in kept if name and (entry := lists.entry(key, name))}
