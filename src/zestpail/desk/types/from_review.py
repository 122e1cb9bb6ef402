"""Documents that somebody reviewed, as samples: offered one by one, or taken by the lane's own rule."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.learning.memory import memory_of
from zestpail.core.reading.document import DocumentReading
from zestpail.desk.documents.context import lane_of
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.types.drafts import draft_of, type_of_draft
from zestpail.desk.types.samples import add_from_batch
from zestpail.store import Store
from zestpail.store.queries.daily_work import settled_documents
from zestpail.store.queries.documents import pages_of
from zestpail.store.states import PageState
from zestpail.store.tables import ArrivedFile, Document, Lane, Sample, TypeDraft, TypeRevision

MOST = 60
"""The newest reviewed documents that are offered."""


@dataclass(frozen=True)
class Offered:
    """A reviewed document that is no sample yet."""

    document: int
    name: str
    lane: str
    settled_at: datetime | None
    known: bool
    """Whether its layout is known from samples."""


def offered(store: Store, key: str, closed: Collection[int]) -> list[Offered]:
    """What was reviewed and may become a sample, newest first. Raises Missing."""
    with store.transaction() as session:
        doc_type = type_of_draft(draft_of(session, key))
        taken = set(session.exec(select(Sample.document_id).where(Sample.type_key == key)).all())
        found = [
            one for one in settled_documents(session, key, None, "", closed, MOST)
            if one.settled_by_id is not None and one.id not in taken
        ]  # fmt: skip
        return [
            Offered(
                one.id or 0, session.get_one(ArrivedFile, one.file_id).name, lane_of(session, one).name,
                one.settled_at, _known(store, session, doc_type, one),
            )
            for one in found
        ]  # fmt: skip


def take(store: Store, key: str, ids: Collection[int], person_id: int) -> int:
    """Make samples of reviewed documents, with their values as labels; returns how many. Raises NotDone for none."""
    count = 0
    problem = "Choose at least one document."
    for number in ids:
        try:
            add_from_batch(store, key, number, person_id)
            count += 1
        except NotDone as told:  # it is a sample already: the others are taken all the same
            problem = str(told)
    if not count:
        raise NotDone(problem)
    return count


def take_by_rule(store: Store, document_id: int) -> None:
    """Make a sample of a reviewed document where its lane says so; does nothing where it is one already."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None or document.settled_by_id is None:
            return
        lane: Lane = lane_of(session, document)
        key = session.get_one(TypeRevision, document.revision_id).key
        draft = session.exec(select(TypeDraft).where(TypeDraft.key == key)).first()
        wanted = lane.settings.learns
        taken = session.exec(select(Sample.id).where(col(Sample.document_id) == document_id)).first()
        if wanted == "never" or draft is None or taken is not None:
            return
        if wanted == "new_layouts" and _known(store, session, type_of_draft(draft), document):
            return
        person_id = document.settled_by_id
    try:
        add_from_batch(store, key, document_id, person_id)
    except NotDone:  # its very file is a sample, dropped by hand
        return


def _known(store: Store, session: Session, doc_type: DocumentType, document: Document) -> bool:
    """Whether the document's layout is known from what was learned."""
    pages = [page for page in pages_of(session, document.id or 0) if page.state == PageState.READ]
    reading = DocumentReading(tuple(reading_of(store, page) for page in pages))
    return bool(pages) and bool(memory_of(doc_type.learned).layouts.recognised(reading))
