"""Revisions and drafts of document types."""

from __future__ import annotations

from sqlmodel import Session, col, func, select

from zestpail.store.tables import TypeRevision


def last_revision(session: Session, key: str) -> TypeRevision | None:
    """The newest published revision; None if there is none."""
    wanted = select(TypeRevision).where(TypeRevision.key == key).order_by(col(TypeRevision.number).desc())
    return session.exec(wanted).first()


def newest_revisions(session: Session) -> dict[str, int]:
    """By type, the number of its newest published revision."""
    wanted = select(TypeRevision.key, func.max(TypeRevision.number)).group_by(TypeRevision.key)
    return {key: int(number) for key, number in session.exec(wanted)}
