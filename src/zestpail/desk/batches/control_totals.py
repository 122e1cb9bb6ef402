"""The control total of a batch: said by a person, held against what is captured at any moment."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import ValidationError
from sqlmodel import Session, col, select

from zestpail.core.checks.control_total import ControlTotal, held_against
from zestpail.core.document_type import DocumentType
from zestpail.core.kinds import Amount
from zestpail.core.kinds.style import Style
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import revision_for
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.store import Store
from zestpail.store.queries.documents import values_of
from zestpail.store.states import DocumentState
from zestpail.store.tables import Batch, Document, Lane


@dataclass(frozen=True)
class ControlView:
    """A batch's control total as it stands; no sentence where none was said."""

    control: ControlTotal
    fields: list[tuple[str, str]]
    """The fields that can be added up."""
    held: bool
    message: str


def control_of(session: Session, batch: Batch) -> ControlView:
    """The control total, and how the batch stands to it."""
    doc_type = DocumentType.model_validate(revision_for(session, session.get_one(Lane, batch.lane_id).settings).body)
    control = batch.control or ControlTotal()
    out = (DocumentState.UNREADABLE, DocumentState.DISSOLVED)
    wanted = select(Document).where(Document.batch_id == batch.id, col(Document.state).not_in(out))
    documents = [
        {value.key: value.value for value in values_of(session, document.id or 0)}
        for document in session.exec(wanted.order_by(col(Document.id)))
    ]
    held, message = held_against(control, documents, doc_type.names) if batch.control else (True, "")
    fields = [(rule.key, rule.name) for rule in doc_type.fields if rule.kind.sheet in ("money", "number")]
    return ControlView(control, fields, held, message)


def set_control(store: Store, batch_id: int, documents: str, field: str, total: str, person_id: int) -> None:
    """Say what the batch must come to; nothing said takes it back. Raises NotDone for what is no number."""
    amount = Amount().parse(total, Style()) if total.strip() else None
    if total.strip() and (amount is None or not field):
        raise NotDone("Say which field is added up." if amount else f"“{total.strip()}” is not an amount.")
    if documents.strip() and not documents.strip().isdigit():
        raise NotDone(f"“{documents.strip()}” is not a number of documents.")
    try:
        control = ControlTotal.model_validate(
            {"documents": documents.strip() or None, "field": field if amount else "", "total": amount}
        )
    except ValidationError as error:
        raise NotDone("That is no control total.") from error
    with store.transaction() as session:
        batch = session.get(Batch, batch_id, with_for_update=True)
        if batch is None:
            raise Missing("There is no such batch.")
        before, batch.control = batch.control, None if control == ControlTotal() else control
        details = [one.model_dump(mode="json") if one else {} for one in (before, batch.control)]
        note(session, "control_total_set", batch_id=batch_id, person_id=person_id, before=details[0], after=details[1])
