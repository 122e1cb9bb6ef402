"""What a document is: told by its look, and where that is in doubt asked of a person before anything is found on it."""

from __future__ import annotations

from sqlmodel import Session

from zestpail.core.classification.cues import Told
from zestpail.core.classification.model import UNKNOWN
from zestpail.core.classification.pile import Sorted, decided
from zestpail.desk.documents.context import lane_of, revision_named
from zestpail.desk.documents.lane_classifier import taught_by
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.transitions import to_sorting
from zestpail.store import Store
from zestpail.store.jobs import Priority, defer
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.documents import pages_of
from zestpail.store.states import DocumentState, PageState
from zestpail.store.tables import ArrivedFile, Document


def sort_document(store: Store, document_id: int) -> None:
    """Tell what a document is whose pages were cut or joined by hand, and go on with it."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id)
        lane_settings, pages = lane_of(session, document).settings, pages_of(session, document_id)
        if document.state != DocumentState.READING or any(page.state == PageState.WAITING for page in pages):
            return
        taught = taught_by(session, lane_settings.sorting) if lane_settings.sorting else None
        told = told_of(session.get_one(ArrivedFile, document.file_id))
    decision = decided([reading_of(store, page) for page in pages], taught, told) if taught else None
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state != DocumentState.READING:
            return
        if decision and [page.id for page in pages_of(session, document_id)] == [page.id for page in pages]:
            take_for(session, document, Sorted(decision=decision), lane_settings)
        if document.state == DocumentState.READING:
            defer(session, "extract", priority=Priority.EXTRACT, document_id=document_id)


def told_of(file: ArrivedFile) -> Told:
    """What is known of a file beside its pages."""
    sender, subject = (file.given.get(name, "") for name in ("mail_sender", "mail_subject"))
    return Told(file_name=file.name, sender=sender, subject=subject)


def ask_person(store: Store, document_id: int) -> None:
    """Have a person say what it is, since telling it broke off."""
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state == DocumentState.READING:
            to_sorting(session, document, "telling what it is broke off several times")


def take_for(session: Session, document: Document, found: Sorted, lane_settings: LaneSettings) -> None:
    """Take the document for what it was found to be, or have a person say it."""
    document.sorted = found
    decision, sorting = found.decision, lane_settings.sorting
    other = sorting is not None and sorting.unknown == "as_type" and decision.type == UNKNOWN
    wanted = type_taken(lane_settings, found)
    revision = revision_named(session, lane_settings, wanted) if wanted else None
    if revision:
        document.revision_id = revision.id or 0
    if (found.needs_person and not (other and not found.doubtful_cut)) or revision is None:
        session.flush()
        to_sorting(session, document, why_asked(found))


def type_taken(lane_settings: LaneSettings, found: Sorted) -> str:
    """The type that a document is read with: its likeliest one, or the one of those that are of none."""
    sorting = lane_settings.sorting
    if sorting and sorting.unknown == "as_type" and found.decision.type == UNKNOWN:
        return sorting.unknown_type
    return found.decision.likeliest


def why_asked(found: Sorted) -> str:
    """What a person is asked for, in a few words."""
    if found.decision.state == "unknown":
        return "it is like none of the types"
    if found.decision.state == "check":
        return f"its type is {found.decision.confidence:.0%} sure"
    return "where it begins or ends is in doubt"
