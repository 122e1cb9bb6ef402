"""Finding a document by a word: in its values, its number, or the name of its file."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import col, or_, select

from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.tables import ArrivedFile, Document, DocumentState, FieldValue

MOST = 50


@dataclass(frozen=True)
class Found:
    document_id: int
    batch_id: int
    file_name: str
    state: str
    in_review: bool
    values: list[tuple[str, str]]


def find_documents(store: Store, words: str) -> list[Found]:
    """Documents with the words in a value or in their file's name, newest first, at most fifty."""
    wanted = words.strip()
    if not wanted:
        return []
    places = (FieldValue.value, FieldValue.raw, ArrivedFile.name)
    with_words = (
        select(Document.id)
        .join(ArrivedFile, col(Document.file_id) == col(ArrivedFile.id))
        .join(FieldValue, col(FieldValue.document_id) == col(Document.id), isouter=True)
        .where(or_(*(col(place).icontains(wanted, autoescape=True) for place in places)))
    )
    with store.transaction() as session:
        found = session.exec(
            select(Document, ArrivedFile)
            .join(ArrivedFile, col(Document.file_id) == col(ArrivedFile.id))
            .where(col(Document.id).in_(with_words))
            .order_by(col(Document.id).desc())
            .limit(MOST)
        ).all()
        rows = []
        for document, file in found:
            names = type_of(session, document).names
            values = session.exec(select(FieldValue).where(FieldValue.document_id == document.id)).all()
            rows.append(
                Found(
                    document_id=document.id or 0,
                    batch_id=document.batch_id,
                    file_name=file.name,
                    state=WORDS[document.state],
                    in_review=document.state == DocumentState.REVIEW,
                    values=[(names[v.key], v.value or "") for v in sorted(values, key=lambda v: v.position) if v.value],
                )
            )
        return rows
