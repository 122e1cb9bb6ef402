"""A program has one file read by one revision of a type, and is told its values: no lane, no batch.

A worker reads it, as it reads everything: what comes from outside never runs where pages are served.
"""

from __future__ import annotations

import hashlib
from datetime import timedelta
from typing import NamedTuple

from sqlmodel import Session, col, delete, func, select

from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.files import DocumentRecord, extract_data
from zestpail.core.problems import Unreadable
from zestpail.core.writing.value_files import values_xml
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.news import tell_of_job
from zestpail.desk.documents.stored_lists import lists_for
from zestpail.desk.documents.whole_types import whole_type
from zestpail.desk.intake.arrivals import may_arrive
from zestpail.store import Store
from zestpail.store.call_tables import CallState, ExtractionCall
from zestpail.store.columns import now
from zestpail.store.jobs import Priority, defer
from zestpail.store.queries.types import last_revision, newest_revisions
from zestpail.store.tables import TypeRevision

MOST_BYTES = 20_000_000
ASKING = 20_413
"""What tells these locks from others of the database."""
KEPT = timedelta(hours=24)
"""For so long a program can ask what came of it."""


class Asked(NamedTuple):
    """A file, and by what it is to be read."""

    type_key: str
    revision: int | None
    """None for the newest."""
    name: str
    data: bytes
    pages: tuple[int, ...] = ()
    """Numbers from 1; none for all."""
    identity: str = ""
    """By which the program knows it; "" where it has no name for it."""


class Answer(NamedTuple):
    """What came of it: a record, a sentence that says why not, or neither yet."""

    id: int
    record: DocumentRecord | None
    problem: str

    @property
    def pending(self) -> bool:
        """Whether it is still being read."""
        return self.record is None and not self.problem


def ask(store: Store, token_id: int, asked: Asked) -> int:
    """Have it read; returns the number under which it is asked for. Raises Missing, NotDone."""
    may_arrive(asked.name, len(asked.data), store.limits)
    if len(asked.data) > MOST_BYTES:
        raise NotDone(f"This is more than {MOST_BYTES // 1_000_000} MB: send it to a lane instead.")
    with store.transaction() as session:
        found = _revision(session, asked.type_key, asked.revision)
        before = _asked_before(session, token_id, asked, found)
        if before:
            return before
        call = ExtractionCall(
            token_id=token_id, type_key=found.key, revision=found.number, name=asked.name[:200],
            pages=list(asked.pages), content=asked.data, digest=_digest(asked), identity=asked.identity or None,
        )  # fmt: skip
        session.add(call)
        session.flush()
        defer(session, "extract_directly", priority=Priority.DELIVER, call_id=call.id)
        return call.id or 0


def _asked_before(session: Session, token_id: int, asked: Asked, revision: TypeRevision) -> int:
    """The call that the program knows by the same name; 0 where there is none. Raises NotDone if it was another."""
    if not asked.identity:
        return 0
    session.execute(select(func.pg_advisory_xact_lock(ASKING, token_id)))  # two at once: one is before the other
    wanted = select(ExtractionCall).where(
        ExtractionCall.token_id == token_id, ExtractionCall.identity == asked.identity
    )
    before = session.exec(wanted).first()
    if before is None:
        return 0
    asked_then = (before.type_key, before.revision, before.pages, before.digest)
    if asked_then != (revision.key, revision.number, list(asked.pages), _digest(asked)):
        raise NotDone("Another file, type or other pages came with this key before.")
    return before.id or 0


def _digest(asked: Asked) -> str:
    return hashlib.sha256(asked.data).hexdigest()


def run(store: Store, call_id: int) -> None:
    """Read what was sent, and keep what came of it."""
    with store.transaction() as session:
        call = session.get(ExtractionCall, call_id)
        if call is None or call.state is not CallState.WAITING:
            return
        doc_type, name, data, wanted = _type(session, call.type_key, call.revision), call.name, call.content, call.pages
    try:
        source = lists_for(store, (doc_type,))
        record = extract_data(name, data, doc_type, source=source, wanted=wanted)
    except Unreadable as problem:
        end(store, call_id, problem=str(problem))
        return
    end(store, call_id, record)


def end(store: Store, call_id: int, record: DocumentRecord | None = None, problem: str = "") -> None:
    """It was read, or cannot be: the file is forgotten."""
    with store.transaction() as session:
        call = session.get_one(ExtractionCall, call_id, with_for_update=True)
        call.content, call.state = b"", CallState.FAILED if problem else CallState.DONE
        call.problem, call.result = problem, record.model_dump(mode="json") if record else {}
        tell_of_job(session, call_id, call.token_id)


def forget_old(store: Store) -> None:
    """Answers that nobody can ask for any more are deleted."""
    with store.transaction() as session:
        session.exec(delete(ExtractionCall).where(col(ExtractionCall.made_at) < now() - KEPT))


def answer(store: Store, call_id: int, token_id: int) -> Answer:
    """What came of it so far. Raises Missing for what another token asked."""
    with store.transaction() as session:
        call = session.get(ExtractionCall, call_id)
        if call is None or call.token_id != token_id:
            raise Missing("There is no such job, or its answer was forgotten after a day.")
        record = DocumentRecord.model_validate(call.result) if call.state is CallState.DONE else None
        return Answer(call_id, record, call.problem)


def types_there_are(store: Store) -> list[tuple[str, str, int]]:
    """All types that have a published revision: key, name and number of the newest."""
    with store.transaction() as session:
        found = (last_revision(session, key) for key in sorted(newest_revisions(session)))
        return [(one.key, str(one.body["name"]), one.number) for one in found if one]


def as_xml(store: Store, record: DocumentRecord) -> bytes:
    """The record as XML (``values.xsd``). Raises Missing."""
    with store.transaction() as session:
        return values_xml(record.as_values(_type(session, record.type, record.revision)))


def revision_of(store: Store, key: str, number: int | None = None) -> DocumentType:
    """A published revision of a type, the newest where none is named. Raises Missing."""
    with store.transaction() as session:
        return _type(session, key, number)


def _type(session: Session, key: str, number: int | None) -> DocumentType:
    found = _revision(session, key, number)
    return whole_type(found).model_copy(update={"revision": found.number})


def _revision(session: Session, key: str, number: int | None) -> TypeRevision:
    wanted = select(TypeRevision).where(TypeRevision.key == key, TypeRevision.number == number)
    found = last_revision(session, key) if number is None else session.exec(wanted).first()
    if found is None:
        raise Missing("There is no such document type, or no such revision of it.")
    return found
