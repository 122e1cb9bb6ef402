"""Changing cells of the batch sheet, many at once: a step for each document that can be undone; who is first wins."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence

from pydantic import BaseModel, Field

from zestpail.desk.documents.messages import NotDone
from zestpail.desk.review import desk as review
from zestpail.desk.review.batch_sheet import SheetRow, rows_now
from zestpail.desk.review.desk import Seen, changing, in_passing, set_accepted, set_typed
from zestpail.store import Store

MOST_CHANGES = 400
"""Cells that are changed in one request."""


class CellChange(BaseModel):
    """What a person wants of a cell: another text, or that it stands as it is (None)."""

    document: int
    version: int
    key: str = Field(max_length=80)
    text: str | None = Field(default=None, max_length=10_000)


class Refusal(BaseModel):
    """Why a cell was not changed."""

    document: int
    key: str
    problem: str


class Changed(BaseModel):
    """The rows as they stand after changes, and what was not changed."""

    rows: list[SheetRow]
    refused: list[Refusal]


def change_cells(store: Store, changes: Sequence[CellChange], person_id: int) -> Changed:
    """Make the changes, document by document: each is one step that can be undone, and whoever came first has won."""
    if len(changes) > MOST_CHANGES:
        raise NotDone(f"At most {MOST_CHANGES} cells are changed at once.")
    by_document: dict[tuple[int, int], list[CellChange]] = defaultdict(list)
    for change in changes:
        by_document[change.document, change.version].append(change)
    refused: list[Refusal] = []
    with store.together():
        for (document, version), several in by_document.items():
            try:
                refused += _change(store, Seen(document, version, person_id), several)
            except NotDone as problem:
                refused += [Refusal(document=document, key=one.key, problem=str(problem)) for one in several]
    return Changed(rows=rows_now(store, [document for document, _ in by_document], person_id), refused=refused)


def undo_rows(store: Store, versions: Mapping[int, int], person_id: int) -> Changed:
    """Undo the last change of each of these documents."""
    refused: list[Refusal] = []
    for document, version in versions.items():
        try:
            with in_passing(store, document, person_id):
                review.undo_last(store, Seen(document, version, person_id))
        except NotDone as problem:
            refused.append(Refusal(document=document, key="", problem=str(problem)))
    return Changed(rows=rows_now(store, list(versions), person_id), refused=refused)


def settle_rows(store: Store, versions: Mapping[int, int], person_id: int) -> Changed:
    """Settle these documents, those of which nothing is doubtful any more."""
    refused: list[Refusal] = []
    for document, version in versions.items():
        try:
            review.done(store, Seen(document, version, person_id))
        except NotDone as problem:
            refused.append(Refusal(document=document, key="", problem=str(problem)))
    return Changed(rows=rows_now(store, list(versions), person_id), refused=refused)


def _change(store: Store, seen: Seen, several: Sequence[CellChange]) -> list[Refusal]:
    refused: list[Refusal] = []
    with in_passing(store, seen.document_id, seen.person_id):
        named = several[0].key if len(several) == 1 else ""
        message = "set in the sheet" if named else f"{len(several)} cells set in the sheet"
        with changing(store, seen, message, named) as change:
            for one in several:
                try:
                    if one.text is None:
                        set_accepted(change, seen, one.key)
                    else:
                        set_typed(change, seen, one.key, one.text)
                except NotDone as problem:
                    refused.append(Refusal(document=one.document, key=one.key, problem=str(problem)))
    return refused
