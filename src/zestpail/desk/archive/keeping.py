"""How long documents are kept: what is due to be erased, what is held back, and erasing as a job that is recorded."""

from __future__ import annotations

import csv
import io
from collections.abc import Collection, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from time import sleep

from sqlmodel import Session, col, func, select
from sqlmodel.sql.expression import SelectOfScalar

from zestpail.desk.archive.erasing import erase_document, why_left
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import type_names
from zestpail.desk.documents.gone_files import delete_gone
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.jobs import defer
from zestpail.store.notices import changed
from zestpail.store.queries.access import Closed, open_lanes
from zestpail.store.queries.erasure import copies_of
from zestpail.store.retention_tables import ErasedDocument, Erasure, ErasureState, Held
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Batch, Document, Lane, Page, Person, TypeRevision

MOST_LISTED, MOST_OF_ONE = 100, 25
AT_ONCE = 25
"""Documents that are erased before what was done is written down."""
A_STEP = 500
"""Documents after which the rest is left to another step: a step that takes too long is ended."""


@dataclass(frozen=True)
class DueDocument:
    """A document as it is shown before it is erased, or why it is not."""

    id: int
    batch_id: int
    file: str
    type: str
    arrived_at: datetime
    pages: int
    samples: int
    why_left: str


@dataclass(frozen=True)
class DueLane:
    """What is due of a lane."""

    key: str
    name: str
    rule: str
    many: int
    """All that are due and can be erased."""
    documents: list[DueDocument] = field(default_factory=list)
    """The first of them, and those that are left and why."""
    left: int = 0
    """How many whose time is over are left."""


@dataclass(frozen=True)
class ErasureRow:
    id: int
    rule: str
    at: datetime
    person: str
    wanted: int
    erased: int
    documents: Sequence[ErasedDocument]
    """The first of them."""
    left: dict[str, str]
    done_at: datetime | None


def rule_of(lane: Lane, days: int) -> str:
    """The rule of a lane, as it is written into the record."""
    return f"Lane {lane.name}: documents are kept for {days:,} days after they arrived.".replace(",", " ")


def due(store: Store, closed: Closed = ()) -> list[DueLane]:
    """What would be erased of each lane that says how long documents are kept: nothing is done."""
    with store.transaction() as session:
        names = type_names(session)
        return [_due_of(session, lane, days, names)
                for lane in open_lanes(session, closed) if (days := lane.settings.kept_days)]  # fmt: skip


def _due_of(session: Session, lane: Lane, days: int, names: dict[str, str]) -> DueLane:
    over = _over(lane, days)
    held = select(Held.document_id)
    can = over.where(col(Document.state).in_(_CAN), col(Document.id).not_in(held))
    many = session.exec(select(func.count()).select_from(can.subquery())).one()
    all_over = session.exec(select(func.count()).select_from(over.subquery())).one()
    shown = session.exec(can.order_by(col(Document.id)).limit(MOST_LISTED)).all()
    left = session.exec(over.where(col(Document.id).not_in(can.with_only_columns(col(Document.id)))).limit(MOST_LISTED))
    documents = [_shown(session, document, names) for document in (*shown, *left.all())]
    return DueLane(lane.key, lane.name, rule_of(lane, days), many, documents, all_over - many)


_CAN = (DocumentState.DELIVERED, DocumentState.UNREADABLE)


def _over(lane: Lane, days: int) -> SelectOfScalar[Document]:
    """Documents of the lane whose time is over."""
    of_lane = select(Document).join(Batch, col(Batch.id) == col(Document.batch_id)).where(Batch.lane_id == lane.id)
    return of_lane.where(
        col(Document.arrived_at) < now() - timedelta(days=days), Document.state != DocumentState.DISSOLVED
    )


def shown_before(store: Store, documents: Collection[int], closed: Closed = ()) -> list[DueDocument]:
    """These documents as they are shown before they are erased. Raises Missing for one that is not open."""
    with store.transaction() as session:
        names, found = type_names(session), []
        for number in sorted(set(documents)):
            document = session.get(Document, number)
            if document is None or session.get_one(Batch, document.batch_id).lane_id in closed:
                raise Missing("There is no such document.")
            found.append(_shown(session, document, names))
        return found


def _shown(session: Session, document: Document, names: dict[str, str]) -> DueDocument:
    file, number = session.get_one(ArrivedFile, document.file_id), document.id or 0
    key = session.get_one(TypeRevision, document.revision_id).key
    pages = session.exec(select(func.count()).select_from(Page).where(Page.document_id == number)).one()
    return DueDocument(
        number, document.batch_id, file.name, names.get(key, key), document.arrived_at, pages,
        len(copies_of(session, number, [file.blob])), why_left(session, document),
    )  # fmt: skip


def hold(store: Store, document_id: int, why: str, person_id: int) -> None:
    """The document is not erased as long as this holds. Raises Missing; NotDone without a reason."""
    reason = " ".join(why.split())[:400]
    if not reason:
        raise NotDone("Say why it is held back.")
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None:
            raise Missing("There is no such document.")
        session.merge(Held(document_id=document_id, why=reason, person_id=person_id, at=now()))
        note(session, "hold_set", document=document, person_id=person_id, after={"why": reason})


def lift_hold(store: Store, document_id: int, person_id: int) -> None:
    """It is held back no more. Raises Missing."""
    with store.transaction() as session:
        held, document = session.get(Held, document_id), session.get(Document, document_id)
        if held is None or document is None:
            raise Missing("This document is not held back.")
        session.delete(held)
        note(session, "hold_lifted", document=document, person_id=person_id)


def erase_due(store: Store, lane_key: str, many: int, person_id: int) -> int:
    """Have all that is due of a lane erased; returns the number of the record.

    Raises NotDone where that are not as many any more as were shown.
    """
    with store.transaction() as session:
        lane = session.exec(select(Lane).where(Lane.key == lane_key)).first()
        days = lane.settings.kept_days if lane else None
        if lane is None or not days:
            raise Missing("There is no such lane, or it keeps documents for good.")
        can = _over(lane, days).where(col(Document.state).in_(_CAN), col(Document.id).not_in(select(Held.document_id)))
        wanted = [one.id or 0 for one in session.exec(can.order_by(col(Document.id)))]
        if len(wanted) != many:
            raise NotDone(f"{len(wanted)} documents are due now, not {many} as was shown. Nothing was erased.")
        return _ask(session, wanted, rule_of(lane, days), person_id)


def erase_chosen(store: Store, documents: Collection[int], why: str, person_id: int) -> int:
    """Have these documents erased, whatever their lanes say; returns the number of the record. Raises NotDone."""
    reason = " ".join(why.split())[:400]
    if not reason:
        raise NotDone("Say why they are erased: it stands in the record.")
    if not documents:
        raise NotDone("Choose the documents that are to be erased.")
    with store.transaction() as session:
        return _ask(session, sorted(set(documents)), reason, person_id)


def _ask(session: Session, wanted: list[int], rule: str, person_id: int) -> int:
    erasure = Erasure(rule=rule, wanted=wanted, person_id=person_id)
    session.add(erasure)
    session.flush()
    defer(session, "erase", erasure_id=erasure.id)
    return erasure.id or 0


def erase(store: Store, erasure_id: int) -> None:
    """Erase what the record names, a few at a time; what was done stays done if this breaks off.

    It is done when the files are deleted too. What is more than a step may take is left to a step of its own.
    """
    left, at_most = True, A_STEP
    while True:
        with store.transaction() as session:
            erasure = session.get_one(Erasure, erasure_id)
            done = _done(session, erasure_id) | {int(number) for number in erasure.left}
            waiting = [number for number in erasure.wanted if number not in done][:AT_ONCE]
            if not waiting and not left:
                erasure.state, erasure.done_at = ErasureState.DONE, erasure.done_at or now()
                changed(session, "archive")
                return
            if at_most <= 0 and waiting:
                defer(session, "erase", erasure_id=erasure_id)
                return
        at_most -= len(waiting)
        why = {str(number): erase_document(store, number, erasure) for number in waiting}
        with store.transaction() as session:
            erasure = session.get_one(Erasure, erasure_id, with_for_update=True)
            erasure.left = {**erasure.left, **{number: reason for number, reason in why.items() if reason}}
            changed(session, "archive")
        left = delete_gone(store)
        if left and not waiting:
            sleep(1)


def _done(session: Session, erasure_id: int) -> set[int]:
    return set(session.exec(select(ErasedDocument.document).where(ErasedDocument.erasure_id == erasure_id)))


def leave_rest(store: Store, erasure_id: int, why: str) -> None:
    """Give up what is not erased yet, with the reason."""
    with store.transaction() as session:
        erasure = session.get_one(Erasure, erasure_id, with_for_update=True)
        done = _done(session, erasure_id)
        erasure.left = {**{str(number): why for number in erasure.wanted if number not in done}, **erasure.left}
        erasure.state, erasure.done_at = ErasureState.DONE, now()
        changed(session, "archive")


def erasures(store: Store) -> list[ErasureRow]:
    """The records, the newest first."""
    with store.transaction() as session:
        wanted = select(Erasure, Person.name).join(Person, col(Person.id) == col(Erasure.person_id), isouter=True)
        newest = wanted.order_by(col(Erasure.id).desc()).limit(MOST_LISTED)
        return [_record(session, one, name or "") for one, name in session.exec(newest).all()]


def _record(session: Session, erasure: Erasure, person: str) -> ErasureRow:
    of_it = select(ErasedDocument).where(ErasedDocument.erasure_id == erasure.id)
    many = session.exec(select(func.count()).select_from(of_it.subquery())).one()
    first = session.exec(of_it.order_by(col(ErasedDocument.id)).limit(MOST_OF_ONE)).all()
    return ErasureRow(
        erasure.id or 0, erasure.rule, erasure.at, person, len(erasure.wanted), many, first, erasure.left,
        erasure.done_at,
    )  # fmt: skip


def record_as_csv(store: Store, erasure_id: int) -> str:
    """All that a record says was erased, as lines of CSV (RFC 4180). Raises Missing."""
    with store.transaction() as session:
        if session.get(Erasure, erasure_id) is None:
            raise Missing("There is no such record.")
        of_it = select(ErasedDocument).where(ErasedDocument.erasure_id == erasure_id).order_by(col(ErasedDocument.id))
        out = io.StringIO()
        lines = csv.writer(out)
        lines.writerow(["Document", "Batch", "Type", "Arrived", "Pages", "SHA-256 of its file", "Copies of it"])
        lines.writerows(
            [one.document, one.batch, one.type, one.arrived.isoformat(), one.pages, one.sha256, one.samples]
            for one in session.exec(of_it)
        )
        return out.getvalue()
