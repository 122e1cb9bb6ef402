"""Documents with their pages, values, checks and rows."""

from __future__ import annotations

from sqlmodel import Session, col, select

from zestpail.store.tables import (
    CheckResult,
    FieldValue,
    Page,
)


def pages_of(session: Session, document_id: int) -> list[Page]:
    """The document's pages in order."""
    return list(session.exec(select(Page).where(Page.document_id == document_id).order_by(col(Page.position))))


def values_of(session: Session, document_id: int) -> list[FieldValue]:
    """The document's values in the order of its fields."""
    wanted = select(FieldValue).where(FieldValue.document_id == document_id).order_by(col(FieldValue.position))
    return list(session.exec(wanted))


def checks_of(session: Session, document_id: int) -> list[CheckResult]:
    """What the checks say of the document."""
    wanted = select(CheckResult).where(CheckResult.document_id == document_id).order_by(col(CheckResult.id))
    return list(session.exec(wanted))
