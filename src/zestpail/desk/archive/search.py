"""Finding a document by a word: on any of its pages, in its values, its number, or the name of its file.

Numbers and dates are found as they are printed, as they are shown, and as they are kept.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Text, cast
from sqlmodel import Session, col, func, or_, select

from zestpail.core.kinds import Amount, Date, Style
from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.queries.access import Closed, open_to_see
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Batch, Document, FieldValue, Lane, Page, ReadingText, TableRow

MOST = 50
AROUND = 5
"""Words shown on either side of a hit on a page."""
_NUMBERED = re.compile(r"(?:(batch|document|d)\s*)?#?(\d{1,9})", re.IGNORECASE)


@dataclass(frozen=True)
class Found:
    document_id: int
    batch_id: int
    file_name: str
    state: str
    in_review: bool
    values: list[tuple[str, str]]
    on_page: str
    """Where on a page the words stand, with what stands round them; empty where they are found otherwise."""


@dataclass(frozen=True)
class FoundBatch:
    id: int
    lane_name: str


def find_documents(store: Store, words: str, closed: Closed = ()) -> list[Found]:
    """Documents with the words on a page, in a value, a row, or their file's name, newest first, at most fifty."""
    wanted = " ".join(words.split())
    if not wanted:
        return []
    with store.transaction() as session:
        found = session.exec(
            select(Document, ArrivedFile)
            .join(ArrivedFile, col(Document.file_id) == col(ArrivedFile.id))
            .where(
                or_(*(col(Document.id).in_(hits) for hits in _hits(wanted))),
                open_to_see(col(Document.batch_id), closed),
            )
            .order_by(col(Document.id).desc())
            .limit(MOST)
        ).all()
        return [_found(session, document, file, wanted) for document, file in found]


def find_batch(store: Store, words: str, closed: Closed = ()) -> FoundBatch | None:
    """The batch of that number, for “batch 7” or “7”."""
    numbered = _NUMBERED.fullmatch(words.strip())
    if numbered is None or (numbered[1] or "batch").lower() != "batch":
        return None
    with store.transaction() as session:
        batch = session.get(Batch, int(numbered[2]))
        if batch is None or batch.lane_id in closed:
            return None
        return FoundBatch(batch.id or 0, session.get_one(Lane, batch.lane_id).name)


def _hits(wanted: str) -> list[Any]:
    """Selections of documents, one for each place in which the words may be."""
    values = or_(*(
        col(place).icontains(text, autoescape=True)
        for text in _spellings(wanted) for place in (FieldValue.value, FieldValue.raw)
    ))  # fmt: skip
    cells = or_(*(cast(col(TableRow.cells), Text).icontains(text, autoescape=True) for text in _spellings(wanted)))
    words = func.to_tsvector("simple", col(ReadingText.text)).op("@@")(func.phraseto_tsquery("simple", wanted))
    in_file = select(ArrivedFile.id).where(col(ArrivedFile.name).icontains(wanted, autoescape=True))
    hits = [
        select(FieldValue.document_id).where(values),
        select(TableRow.document_id).where(cells),
        select(Document.id).where(col(Document.file_id).in_(in_file)),
        select(Page.document_id).join(ReadingText, col(ReadingText.reading) == col(Page.reading)).where(words),
    ]
    numbered = _NUMBERED.fullmatch(wanted)
    if numbered and (numbered[1] or "d").lower() != "batch":
        hits.append(select(Document.id).where(Document.id == int(numbered[2])))
    return hits


def _spellings(wanted: str) -> list[str]:
    """The words, and what they are kept as if they are an amount or a date."""
    found = [wanted]
    for mark in ".,":
        for day_first in (True, False):
            style = Style(decimal_mark=mark, day_first=day_first)
            kept = (
                [kind.parse(wanted, style) for kind in (Amount(), Date())] if any(c in "./,-" for c in wanted) else []
            )
            found += [text for text in kept if text]
    return list(dict.fromkeys(found))


def _found(session: Session, document: Document, file: ArrivedFile, wanted: str) -> Found:
    doc_type = type_of(session, document)
    values = session.exec(
        select(FieldValue).where(FieldValue.document_id == document.id).order_by(col(FieldValue.position))
    )
    return Found(
        document_id=document.id or 0,
        batch_id=document.batch_id,
        file_name=file.name,
        state=WORDS[document.state],
        in_review=document.state == DocumentState.REVIEW,
        values=[(doc_type.names[v.key], doc_type.field(v.key).kind.show(v.value)) for v in values if v.value],
        on_page=_on_page(session, document, wanted),
    )


def _on_page(session: Session, document: Document, wanted: str) -> str:
    """The first place on its pages, in the words round it."""
    pages = select(Page.position, ReadingText.text).join(ReadingText, col(ReadingText.reading) == col(Page.reading))
    folded = wanted.casefold().split()
    for position, text in session.exec(pages.where(Page.document_id == document.id).order_by(col(Page.position))):
        words = text.split()
        for at in range(len(words) - len(folded) + 1):
            if [word.casefold().strip(".,:;()") for word in words[at : at + len(folded)]] == folded:
                near = " ".join(words[max(at - AROUND, 0) : at + len(folded) + AROUND])
                return f"page {position + 1}: … {near} …"
    return ""
