"""What was changed is entered into the archive anew: its words, its values, and what it is narrowed by."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any

from sqlmodel import Session

from zestpail.core.document_type import DocumentType
from zestpail.core.reading.misread_words import stubs
from zestpail.core.reading.search_words import placed, plain, vector
from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.messages import Unkeepable
from zestpail.store import Store
from zestpail.store.queries.archive import (
    forget_due,
    forget_entry,
    forget_words,
    know_words,
    lock_entry,
    page_texts,
    take_due,
    unknown_words,
    words_of_entry,
    write_entry,
)
from zestpail.store.queries.documents import rows_of, values_of
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Batch, Document, FieldValue

LEAST_LETTERS = 3
"""Characters of a word that is kept to find others like it."""
LONGEST_VALUE = 200


def enter_due(store: Store, most: int = 200) -> int:
    """Enter what was changed, so many notes of it at a time; returns how many documents there were."""
    with store.transaction() as session:
        notes, documents = take_due(session, most)
    for document_id in documents:
        with suppress(Unkeepable), store.transaction() as session:  # one odd document keeps none of the others back
            _enter(session, document_id)
    if notes:
        with store.transaction() as session:
            forget_due(session, notes)
    return len(documents)


def _enter(session: Session, document_id: int) -> None:
    lock_entry(session, document_id)
    before = words_of_entry(session, document_id)
    document = session.get(Document, document_id)
    if document is None or document.state == DocumentState.DISSOLVED:
        forget_entry(session, document_id)
        forget_words(session, before)
        return
    doc_type, values = type_of(session, document), values_of(session, document_id)
    batch, file = session.get_one(Batch, document.batch_id), session.get_one(ArrivedFile, document.file_id)
    texts = [file.name, *page_texts(session, document_id), *_said(doc_type, values)]
    texts += [" ".join(str(cell["value"]) for cell in row.cells.values() if cell["value"])
              for row in rows_of(session, document_id)]  # fmt: skip
    write_entry(
        session,
        {
            "document_id": document_id, "batch_id": batch.id, "lane_id": batch.lane_id, "type_key": doc_type.key,
            "state": document.state.value, "person_id": document.settled_by_id, "arrived_at": document.arrived_at,
            **_narrowing(doc_type, values), "vector": vector(texts),
        },
        _compared(doc_type, values),
    )  # fmt: skip
    words = {word for text in texts for word, _ in placed(text) if len(word) >= LEAST_LETTERS}
    know_words(session, {word: stubs(word) for word in unknown_words(session, words)})
    forget_words(session, before - words)


def _said(doc_type: DocumentType, values: list[FieldValue]) -> Iterator[str]:
    """Each value as it is kept, as it is shown, and as it was printed."""
    for value in values:
        if value.value and value.key in doc_type.names:
            yield from dict.fromkeys((value.value, doc_type.field(value.key).kind.show(value.value), value.raw))


def _narrowing(doc_type: DocumentType, values: list[FieldValue]) -> dict[str, Any]:
    """The party, the day and the amount by which the document is narrowed down."""
    worth = {value.key: value.value for value in values if value.value}
    names = [worth[rule.key] for rule in doc_type.fields if rule.kind.a_name and rule.key in worth]
    days = [day for rule in doc_type.fields if (day := _day(worth.get(rule.key)))]
    amounts = [_amount(worth[rule.key]) for rule in doc_type.fields if rule.kind.money and rule.key in worth]
    party = names[0][:LONGEST_VALUE] if names else ""
    return {
        "party": party, "party_plain": plain(party), "day": days[0] if days else None,
        "amount": amounts[-1] if amounts else None,
    }  # fmt: skip


def _compared(doc_type: DocumentType, values: list[FieldValue]) -> Iterator[dict[str, Any]]:
    for value in values:
        if value.value and value.key in doc_type.names:
            number = _amount(value.value) if doc_type.field(value.key).kind.numeric else None
            text = plain(value.value)[:LONGEST_VALUE]
            yield {"key": value.key, "plain": text, "day": _day(value.value), "amount": number}


def _day(text: str | None) -> date | None:
    with suppress(ValueError):
        return date.fromisoformat(text) if text and len(text) == len("2026-01-31") else None
    return None


def _amount(text: str) -> Decimal | None:
    with suppress(InvalidOperation):
        number = Decimal(text)
        return number if number.is_finite() and abs(number) < 10**13 else None
    return None
