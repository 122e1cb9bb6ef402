"""What is open to a program: the lanes that its token is for."""

from __future__ import annotations

from sqlmodel import Session, col, select

from zestpail.desk.documents.messages import Missing
from zestpail.desk.people.tokens import Holder
from zestpail.store.queries.access import Closed
from zestpail.store.states import DocumentState, Scope
from zestpail.store.tables import Batch, Document, Lane

__all__ = ["AT_REST", "STANDS", "DocumentState", "closed_to", "document_for"]
STANDS = (DocumentState.SETTLED, DocumentState.STUCK, DocumentState.DELIVERED)
"""States in which the values of a document stand."""
AT_REST = (*STANDS, DocumentState.UNREADABLE)
"""States in which nothing of it is being read, and no person must look at it."""


def closed_to(session: Session, holder: Holder) -> Closed:
    """The lanes that the token is not for."""
    if not holder.lanes:
        return frozenset()
    return frozenset(session.exec(select(Lane.id).where(col(Lane.key).not_in(holder.lanes))))  # type: ignore[arg-type]


def document_for(session: Session, holder: Holder, document_id: int) -> tuple[Document, Lane]:
    """A document and its lane. Raises Missing; NotAllowed where the token is not for reading, or not for that lane."""
    holder.must_have(Scope.READ)
    document = session.get(Document, document_id)
    if document is None or document.state is DocumentState.DISSOLVED:
        raise Missing("There is no such document.")
    lane = session.get_one(Lane, session.get_one(Batch, document.batch_id).lane_id)
    holder.must_have(Scope.READ, lane.key)
    return document, lane
