"""Lanes and the document types they read with."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Any

from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType, load_type
from zestpail.core.reading.read import Way
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.whole_types import keep_learned, rules_of, whole_type
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.tables import ArrivedFile, Batch, Document, Lane, TypeRevision


def set_up_lane(
    store: Store, key: str, name: str, lane_settings: LaneSettings, kinds: Iterable[DocumentType] = ()
) -> None:
    """Make the lane and publish the types it reads with, if they are not there: ``kinds``, or its starter."""
    with store.transaction() as session:
        for kind in tuple(kinds) or (load_type(lane_settings.type),):
            known = select(TypeRevision).where(TypeRevision.key == kind.key, TypeRevision.number == kind.revision)
            if session.exec(known).first() is None:
                learned = keep_learned(session, kind.learned)
                session.add(TypeRevision(key=kind.key, number=kind.revision, body=rules_of(kind), learned=learned))
        if session.exec(select(Lane).where(Lane.key == key)).first() is None:
            session.add(Lane(key=key, name=name, settings=lane_settings))


def lane_of_key(session: Session, key: str) -> Lane:
    """Raises Missing."""
    lane = session.exec(select(Lane).where(Lane.key == key)).first()
    if lane is None:
        raise Missing("There is no such lane.")
    return lane


def lane_names(store: Store) -> dict[str, str]:
    """The names of all lanes by key, in their order."""
    with store.transaction() as session:
        return {lane.key: lane.name for lane in session.exec(select(Lane).order_by(col(Lane.id)))}


def revision_for(session: Session, lane_settings: LaneSettings) -> TypeRevision:
    """The published revision that the lane reads with."""
    wanted = select(TypeRevision).where(
        TypeRevision.key == lane_settings.type, TypeRevision.number == lane_settings.revision
    )
    return session.exec(wanted).one()


def revision_named(session: Session, lane_settings: LaneSettings, type_key: str) -> TypeRevision | None:
    """The one for documents of that type, the lane's own where no type is named; None if the lane knows no such."""
    used = lane_settings.used(type_key)
    if used is None:
        return None
    wanted = select(TypeRevision).where(TypeRevision.key == used.key, TypeRevision.number == used.revision)
    return session.exec(wanted).first()


def type_names(session: Session) -> dict[str, str]:
    """The names of all published types by key, as their newest revisions have them."""
    found = session.exec(select(TypeRevision).order_by(col(TypeRevision.number)))
    return {revision.key: str(revision.body["name"]) for revision in found}


_types: dict[datetime, tuple[dict[str, Any], DocumentType]] = {}
"""Types as they were last made of revisions, by when these were published: making one takes milliseconds."""
MOST_TYPES = 200


def type_of(session: Session, document: Document) -> DocumentType:
    """The revision of the type that the document is read with."""
    revision = session.get_one(TypeRevision, document.revision_id)
    known = _types.get(revision.published_at)
    if known is None or known[0] != revision.body:
        if len(_types) >= MOST_TYPES:
            _types.clear()
        known = _types[revision.published_at] = (revision.body, whole_type(revision))
    return known[1]


def lane_of(session: Session, document: Document) -> Lane:
    return session.get_one(Lane, session.get_one(Batch, document.batch_id).lane_id)


def settings_of(session: Session, document: Document) -> LaneSettings:
    """The lane's active settings as they hold for the document's type."""
    settings = lane_of(session, document).settings
    if settings.sorting is None:
        return settings
    return settings.of_type(session.get_one(TypeRevision, document.revision_id).key)


def lane_of_file(session: Session, file: ArrivedFile) -> Lane:
    return session.get_one(Lane, session.get_one(Batch, file.batch_id).lane_id)


def amend(lane: Lane, **settings: Any) -> None:
    """Change the active settings, and the draft too, which would bring back what was before."""
    lane.settings = LaneSettings.model_validate(dict(lane.settings) | settings)
    if lane.draft:
        draft = LaneSettings.model_validate(dict(lane.draft) | settings)
        lane.draft = draft if draft != lane.settings else None


def set_reading(store: Store, key: str, way: Way, person_id: int) -> None:
    """How the lane reads pages that arrive from now on. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        before = lane.settings
        amend(lane, reading=way)
        note(session, "lane_changed", person_id=person_id,
             before={"lane": key, "reading": before.reading}, after={"lane": key, "reading": way})  # fmt: skip
