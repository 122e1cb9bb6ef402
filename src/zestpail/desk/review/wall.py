"""The wall: one field of many documents as snippets; the wrong ones strike the eye, the rest is confirmed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, select

from zestpail.core.reading.geometry import Box
from zestpail.desk.review.batch_sheet import DOUBTFUL, FAILS, Sheet
from zestpail.desk.review.view import snippet_box
from zestpail.store import Store
from zestpail.store.tables import FieldValue, Page

MOST = 400
"""Snippets at once; what is confirmed makes room for the next ones."""


@dataclass(frozen=True)
class Brick:
    """One document's value of the field."""

    document: int
    version: int
    file: str
    shown: str
    sure: float
    page_id: int | None
    snippet: Box | None
    fails: bool


@dataclass(frozen=True)
class Wall:
    """One field, and the fields that could be looked at instead, each with how many values of it are doubtful."""

    field: str
    name: str
    bricks: list[Brick]
    many: int
    fields: list[tuple[str, str, int]]


def wall_of(store: Store, sheet: Sheet, field: str) -> Wall:
    """The doubtful values of a field, the least sure first; without one, of the field that is doubtful most often."""
    open_rows = [row for row in sheet.rows if row.open]
    doubtful: Counter[str] = Counter()
    for row in open_rows:
        doubtful.update(key for key, cell in row.cells.items() if cell.state in (DOUBTFUL, FAILS))
    names = {column.key: column.name for column in sheet.columns}
    key = field if field in names else next((key for key, _ in doubtful.most_common(1)), next(iter(names), ""))
    asked = [row for row in open_rows if (cell := row.cells.get(key)) and cell.state in (DOUBTFUL, FAILS)]
    asked.sort(key=lambda row: row.cells[key].sure)
    with store.transaction() as session:
        places = _places(session, key, [row.id for row in asked[:MOST]])
    bricks = [
        Brick(
            row.id, row.version, row.file, row.cells[key].shown, row.cells[key].sure / 100,
            *places.get(row.id, (None, None)), row.cells[key].state == FAILS,
        )
        for row in asked[:MOST]
    ]  # fmt: skip
    fields = [(one, name, doubtful[one]) for one, name in names.items()]
    return Wall(key, names.get(key, key), bricks, len(asked), fields)


def _places(session: Session, key: str, ids: Sequence[int]) -> dict[int, tuple[int | None, Box | None]]:
    """Where the field's value stands, by document."""
    wanted = (
        select(FieldValue.document_id, FieldValue.box, Page.id)
        .join(Page, (col(Page.document_id) == FieldValue.document_id) & (col(Page.position) == FieldValue.page))
        .where(FieldValue.key == key, col(FieldValue.document_id).in_(ids))
    )
    return {document: (page, snippet_box(Box(*box) if box else None)) for document, box, page in session.exec(wanted)}
