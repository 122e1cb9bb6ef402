"""Documents whose first page looks like another's from afar."""

from __future__ import annotations

from sqlalchemy import func
from sqlmodel import Session, col, or_, select

from zestpail.core.reading.features.page_print import NEAR
from zestpail.store.states import DocumentState
from zestpail.store.tables import Delivery, Document, Page, ReadingText, TypeRevision

NOT_LOOKED_AT_YET = (DocumentState.READING, DocumentState.SORTING)
NO_PAPER_OF_ITS_OWN = (DocumentState.DISSOLVED, DocumentState.UNREADABLE)


def like_from_afar(session: Session, document: Document, page: Page, most: int) -> list[tuple[Page, str]]:
    """First pages of other documents of the type with nearly the page's print, the nearest first, with their words.

    Of two that are read at the same time the later one sees the earlier, never both each other. What was handed on
    from another lane, and is this document, is no other one.
    """
    apart = func.bit_count(col(Page.print).op("#")(page.print))
    handed_on = select(Delivery.document_id).where(col(Delivery.receipt)["handed_on"].astext == str(document.batch_id))
    key = select(TypeRevision.key).where(TypeRevision.id == document.revision_id).scalar_subquery()
    wanted = (
        select(Page, ReadingText.text)
        .join(Document, col(Document.id) == col(Page.document_id))
        .join(TypeRevision, col(TypeRevision.id) == col(Document.revision_id))
        .join(ReadingText, col(ReadingText.reading) == col(Page.reading))
        .where(Page.position == 0, col(Page.print).is_not(None), apart <= NEAR)
        .where(TypeRevision.key == key, Document.id != document.id, col(Document.id).not_in(handed_on))
        .where(col(Document.state).not_in(NO_PAPER_OF_ITS_OWN))
        .where(or_(col(Document.id) < document.id, col(Document.state).not_in(NOT_LOOKED_AT_YET)))
        .order_by(apart, col(Page.id))
        .limit(most)
    )
    return list(session.exec(wanted))
