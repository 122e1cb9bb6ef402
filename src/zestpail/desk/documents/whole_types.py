"""Document types as they are kept: the rules in their row, and beside them what samples taught, once for all rows."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import object_session
from sqlmodel import Session

from zestpail.core.document_type import DocumentType
from zestpail.core.document_type.learned import Learned
from zestpail.desk.documents.messages import NotDone
from zestpail.store.learning_tables import LearnedBody
from zestpail.store.tables import TypeDraft, TypeRevision

_known: dict[str, Learned] = {}
"""What was learned, by digest: it never changes."""
MOST_KNOWN = 60


def whole_type(row: TypeDraft | TypeRevision) -> DocumentType:
    """The type of a draft or revision with what its samples taught; the row must belong to a session."""
    return put_together(object_session(row), row.body, row.learned)


def put_together(session: Any, body: dict[str, Any], learned: str) -> DocumentType:
    """The type of kept rules, and of what was learned under that digest."""
    doc_type = DocumentType.model_validate(body)
    return doc_type.model_copy(update={"learned": learned_of(session, learned)}) if learned else doc_type


def learned_of(session: Session, digest: str) -> Learned:
    """What was learned under that digest."""
    if digest not in _known:
        if len(_known) >= MOST_KNOWN:
            _known.clear()
        _known[digest] = Learned.model_validate(session.get_one(LearnedBody, digest).body)
    return _known[digest]


def rules_of(doc_type: DocumentType) -> dict[str, Any]:
    """The type as its row keeps it, without what was learned. Raises NotDone for characters that cannot be kept."""
    _kept_whole(doc_type.model_dump_json(exclude={"learned"}))
    return doc_type.model_dump(mode="json", exclude={"learned"})


def keep_learned(session: Session, learned: Learned | None) -> str:
    """Keep what was learned, if it is not yet; returns the digest, "" for nothing. Raises NotDone as rules_of does."""
    if learned is None:
        return ""
    if session.get(LearnedBody, learned.digest) is None:
        _kept_whole(learned.model_dump_json())
        session.add(LearnedBody(digest=learned.digest, body=learned.model_dump(mode="json")))
        session.flush()
    return learned.digest


def _kept_whole(text: str) -> None:
    if "\\u0000" in text:
        raise NotDone("There is a character in it that cannot be kept (NUL); take it out.")
