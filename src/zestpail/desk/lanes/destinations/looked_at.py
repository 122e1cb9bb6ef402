"""The document by which a destination is looked at: one that went through the lane, or one that it was tried with."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.delivery import Outgoing
from zestpail.desk.delivery.drawing import DrawnDocument
from zestpail.desk.delivery.outgoing import outgoing
from zestpail.desk.documents.context import revision_named, type_of
from zestpail.desk.lanes.destinations.tried import outgoing_of_trial
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.documents import values_of
from zestpail.store.tables import Batch, Document, Lane, LaneTrial

OFFERED = 40
"""Documents of the lane that can be looked at."""


def offered(session: Session, lane: Lane) -> list[tuple[int, str]]:
    """Number and name of each document that can be looked at: what went through the lane, newest first.

    Documents with few values come after the others: an e-mail's own text says little beside what is attached to it.
    Those of the lane's last trial follow, with numbers below 0. What is shown of it has the fields of its own type.
    """
    tried = [(-at, f"{name}, tried") for at, (name, _) in enumerate(_tried(session, lane), 1)]
    wanted = select(Document).join(Batch, col(Document.batch_id) == col(Batch.id)).where(Batch.lane_id == lane.id)
    told = list[tuple[int, tuple[int, str]]]()
    for document in session.exec(wanted.order_by(col(Document.id).desc()).limit(OFFERED)):
        values = [one.value for one in values_of(session, document.id or 0) if one.value]
        if values:
            doc_type = type_of(session, document)
            other = f", {doc_type.name}" if doc_type.key != lane.settings.type else ""
            told.append((len(values), (document.id or 0, f"{values[0]}, document {document.id}{other}")))
    most = max((filled for filled, _ in told), default=0)
    return [one for _, one in sorted(told, key=lambda at: 2 * at[0] < most)] + tried


def looked_at(
    session: Session, lane: Lane, settings: LaneSettings, number: int | None, drawn: DrawnDocument | None = None
) -> Outgoing | None:
    """The document of that number as destinations see it; None where there is none."""
    if number is None:
        return None
    if number > 0:
        document = session.get(Document, number)
        return outgoing(session, document, lane, settings, lane.counter + 1, drawn) if document else None
    tried = _tried(session, lane)
    if -number > len(tried):
        return None
    _, told = tried[-number - 1]
    revision = revision_named(session, settings, told["type_key"])
    if revision is None:
        return None
    doc_type = DocumentType.model_validate(revision.body)
    made = outgoing_of_trial(
        lane.name, settings, doc_type, told["own"], told["said"], told["table_rows"], lane.counter + 1
    )  # fmt: skip
    return replace(made, reference=f"T{-number}")


def _tried(session: Session, lane: Lane) -> list[tuple[str, dict[str, Any]]]:
    trials = session.exec(select(LaneTrial).where(LaneTrial.lane_id == lane.id).order_by(col(LaneTrial.id)))
    return [(one.name, told) for one in trials for told in one.result.get("documents", []) if "table_rows" in told]
