"""Documents with their pages, values, checks and rows."""

from __future__ import annotations

from sqlmodel import Session, col, select

from zestpail.store.tables import CheckResult, FieldValue, Page, TableRow


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


def rows_of(session: Session, document_id: int) -> list[TableRow]:
    """All rows of the document, table by table, in their order; they may be many."""
    wanted = select(TableRow).where(TableRow.document_id == document_id)
    return list(session.exec(wanted.order_by(TableRow.table, col(TableRow.position), col(TableRow.id))))
