"""What comes after a document's pages are known: it is sorted, where that is to be told, or its values are found."""

from __future__ import annotations

from sqlmodel import Session

from zestpail.desk.documents.context import lane_of
from zestpail.store.jobs import Priority, defer
from zestpail.store.tables import Document


def go_on_with(session: Session, document: Document) -> None:
    """Put the document to its next step."""
    sorts = lane_of(session, document).settings.sorting is not None and document.sorted is None
    defer(session, "sort" if sorts else "extract", priority=Priority.EXTRACT, document_id=document.id)
