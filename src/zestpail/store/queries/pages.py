"""Pages of piles and samples."""

from __future__ import annotations

from sqlmodel import Session, col, select

from zestpail.store.tables import Page


def pages_of_stack(session: Session, file_id: int) -> list[Page]:
    """All pages of a file's pile as they lie now."""
    return list(session.exec(select(Page).where(Page.stack_id == file_id).order_by(col(Page.place), col(Page.id))))
