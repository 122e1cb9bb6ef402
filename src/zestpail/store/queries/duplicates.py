"""Whether an earlier document of the same type has the same values."""

from __future__ import annotations

from collections.abc import Mapping

from sqlmodel import Session, col, select

from zestpail.core.checks import Before
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Delivery, Document, FieldValue, TypeRevision

GONE = (DocumentState.SETTLED, DocumentState.DELIVERED, DocumentState.STUCK)


def duplicates_of(session: Session, document: Document) -> Before:
    """Looks through all documents of the type, whatever their revision, that were settled or sent.

    The one that was handed on from another lane, and is this one, is none that came before.
    """
    key = session.get_one(TypeRevision, document.revision_id).key

    handed_on = select(Delivery.document_id).where(col(Delivery.receipt)["handed_on"].astext == str(document.batch_id))

    def before(values: Mapping[str, str]) -> str:
        wanted = (
            select(Document, ArrivedFile)
            .join(TypeRevision, col(TypeRevision.id) == col(Document.revision_id))
            .join(ArrivedFile, col(ArrivedFile.id) == col(Document.file_id))
            .where(col(Document.id).not_in(handed_on))
            .where(TypeRevision.key == key, Document.id != document.id, col(Document.state).in_(GONE))
            .order_by(col(Document.id))
        )
        for name, value in values.items():
            same = select(FieldValue.document_id).where(FieldValue.key == name, FieldValue.value == value)
            wanted = wanted.where(col(Document.id).in_(same))
        found = session.exec(wanted).first()
        if found is None:
            return ""
        earlier, file = found
        return f"{file.name}, which came on {earlier.arrived_at:%d.%m.%Y},"

    return before
