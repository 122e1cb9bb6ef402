"""Whether an earlier document of the same type has the same values."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlmodel import Session, col, select

from zestpail.core.checks import Before
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Delivery, Document, FieldValue, TypeRevision

GONE = (DocumentState.SETTLED, DocumentState.DELIVERED, DocumentState.STUCK)


MOST_USUAL = 20
"""Earlier documents of one maker by which it is told what is usual."""


def duplicates_of(session: Session, document: Document) -> Before:
    """Looks through all documents of the type, whatever their revision, that were settled or sent."""
    known = Earlier(session, document)

    def before(values: Mapping[str, str]) -> str:
        found = session.exec(known.having(values)).first()
        return _named(*found) if found else ""

    return before


class Earlier:
    """Earlier documents of the same type that were settled or sent.

    The one that was handed on from another lane, and is this one, is none that came before.
    """

    def __init__(self, session: Session, document: Document) -> None:
        self._session, self._document = session, document
        self._type = session.get_one(TypeRevision, document.revision_id).key

    def alike(self, same: Mapping[str, str], but: str) -> tuple[str, str] | None:
        """Names the first that has all these values, and what it has in the other field."""
        found = self._session.exec(self.having(same)).first()
        if found is None:
            return None
        wanted = select(FieldValue.value).where(FieldValue.document_id == found[0].id, FieldValue.key == but)
        return _named(*found), self._session.exec(wanted).first() or ""

    def same_paper(self) -> str:
        """Names another document of which the first page is a scan of the same paper; empty where none was found."""
        found = self._session.get(Document, self._document.same_paper_id or 0)
        return _named(found, self._session.get_one(ArrivedFile, found.file_id)) if found else ""

    def usual(self, by: Mapping[str, str], key: str) -> list[str]:
        """What those with these values had in a field, the last ones first."""
        ids = self.having(by).with_only_columns(col(Document.id)).order_by(None)
        wanted = (
            select(FieldValue.value)
            .where(col(FieldValue.document_id).in_(ids), FieldValue.key == key, col(FieldValue.value).is_not(None))
            .order_by(col(FieldValue.document_id).desc())
            .limit(MOST_USUAL)
        )
        return [value for value in self._session.exec(wanted) if value]

    def having(self, values: Mapping[str, str]) -> Any:
        """Those that have all these values, with their files, the first ones first."""
        handed_on = select(Delivery.document_id).where(
            col(Delivery.receipt)["handed_on"].astext == str(self._document.batch_id)
        )
        wanted = (
            select(Document, ArrivedFile)
            .join(TypeRevision, col(TypeRevision.id) == col(Document.revision_id))
            .join(ArrivedFile, col(ArrivedFile.id) == col(Document.file_id))
            .where(col(Document.id).not_in(handed_on))
            .where(TypeRevision.key == self._type, Document.id != self._document.id, col(Document.state).in_(GONE))
            .order_by(col(Document.id))
        )
        for name, value in values.items():
            same = select(FieldValue.document_id).where(FieldValue.key == name, FieldValue.value == value)
            wanted = wanted.where(col(Document.id).in_(same))
        return wanted


def _named(earlier: Document, file: ArrivedFile) -> str:
    return f"{file.name}, which came on {earlier.arrived_at:%d.%m.%Y},"
