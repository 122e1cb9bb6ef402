"""What checks are told of a document: its values, what came before, and what reference lists say."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from sqlmodel import Session

from zestpail.core.checks import DocumentValues
from zestpail.core.document_type import DocumentType
from zestpail.desk.documents.entries import entries_meant
from zestpail.desk.documents.stored_lists import lists_within
from zestpail.store.queries.duplicates import duplicates_of
from zestpail.store.tables import Document


def values_to_judge(
    session: Session,
    document: Document,
    doc_type: DocumentType,
    values: Mapping[str, str | None],
    rows: Mapping[str, Sequence[Mapping[str, str | None]]],
) -> DocumentValues:
    """The document as its checks are asked about it."""
    lists = lists_within(session)
    return DocumentValues(
        values, doc_type.all_names, rows, duplicates_of(session, document), lists,
        entries_meant(session, document.id or 0, lists),
    )  # fmt: skip
