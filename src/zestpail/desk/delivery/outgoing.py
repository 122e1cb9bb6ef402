"""A settled document as destinations see it."""

from __future__ import annotations

from sqlmodel import Session

from zestpail.delivery import Outgoing
from zestpail.desk.delivery.drawing import DrawnDocument
from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.table_rows import plain
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.documents import rows_of, values_of
from zestpail.store.tables import Document, Lane


def outgoing(
    session: Session, document: Document, lane: Lane, settings: LaneSettings, counter: int,
    drawn: DrawnDocument | None = None,
) -> Outgoing:  # fmt: skip
    """The document with its values as they stand, by these settings of its lane; without files if nothing is drawn."""
    doc_type, document_id = type_of(session, document), document.id or 0
    return Outgoing(
        reference=f"D{document_id}",
        counter=counter,
        pdf=drawn.pdf if drawn else "",
        files=drawn.files if drawn else {},
        doc_type=doc_type,
        own_type=doc_type.key == settings.type,
        values={value.key: value.value for value in values_of(session, document_id)},
        rows=plain(doc_type, rows_of(session, document_id)),
        given=document.origin.given,
        mail=document.origin.mail,
        lane=lane.name,
        naming=settings.naming,
        batch=f"B{document.batch_id}",
    )
