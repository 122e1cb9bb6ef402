"""Revisions and drafts of document types."""

from __future__ import annotations

from sqlmodel import Session, col, select

from zestpail.store.tables import TypeRevision


def last_revision(session: Session, key: str) -> TypeRevision | None:
    """The newest published revision; None if there is none."""
    wanted = select(TypeRevision).where(TypeRevision.key == key).order_by(col(TypeRevision.number).desc())
    return session.exec(wanted).first()
