"""What checks are told of a document: its values, what came before, and what reference lists say."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from sqlmodel import Session

from zestpail.core.checks import DocumentValues
from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.lookups import orders_named
from zestpail.core.reference.list_match import kept as list_match
from zestpail.desk.documents.entries import entries_kept, entries_meant
from zestpail.desk.documents.stored_lists import StoredLists, lists_within
from zestpail.store.queries.duplicates import Earlier, duplicates_of
from zestpail.store.tables import Document


def _follow(
    session: Session, document_id: int, doc_type: DocumentType, values: Mapping[str, str | None],
    rows: Mapping[str, Sequence[Mapping[str, str | None]]], lists: StoredLists,
) -> None:  # fmt: skip
    """An order is named by a value: another value names another order, unless a person said which it is."""
    kept = {one.list: one for one in entries_kept(session, document_id)}
    orders = orders_named(lists, doc_type, values, rows, [one.entry for one in kept.values() if one.entry])
    for key, matched in orders.items():
        one, named = kept.get(key), matched.entry.key if matched.entry else None
        if one and one.person_id is None and named != one.entry:
            one.entry, one.found = named, list_match(key, matched)
            session.add(one)
    session.flush()


def values_to_judge(
    session: Session,
    document: Document,
    doc_type: DocumentType,
    values: Mapping[str, str | None],
    rows: Mapping[str, Sequence[Mapping[str, str | None]]],
) -> DocumentValues:
    """The document as its checks are asked about it."""
    lists = lists_within(session)
    _follow(session, document.id or 0, doc_type, values, rows, lists)
    return DocumentValues(
        values, doc_type.all_names, rows, duplicates_of(session, document), Earlier(session, document), lists,
        entries_meant(session, document.id or 0, lists),
    )  # fmt: skip
