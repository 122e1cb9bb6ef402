"""Column dividers that reviewers moved, kept by layout for all documents of a type."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlmodel import Session, select

from zestpail.core.document_type import DocumentType
from zestpail.core.tables import Grid
from zestpail.store.tables import MovedDividers


def with_remembered_grids(session: Session, doc_type: DocumentType) -> DocumentType:
    """The type with the dividers that reviewers moved; those that it holds itself come first."""
    if not doc_type.tables:
        return doc_type
    grids = remembered_grids(session, doc_type.key)
    tables = tuple(t.model_copy(update={"grids": (*t.grids, *grids.get(t.key, ()))}) for t in doc_type.tables)
    return doc_type.model_copy(update={"tables": tables}) if grids else doc_type


def remembered_grids(session: Session, type_key: str) -> dict[str, list[Grid]]:
    """By table, the dividers that were moved in review."""
    grids: dict[str, list[Grid]] = {}
    for one in _moved(session, type_key):
        grids.setdefault(one.table, []).append(one.grid)
    return grids


def remember(session: Session, type_key: str, table: str, grid: Grid, person_id: int) -> None:
    """Keep the dividers for their layout, in place of those that were kept for it."""
    there = next((one for one in _moved(session, type_key) if (one.table, one.header) == (table, grid.header)), None)
    moved = there or MovedDividers(type_key=type_key, table=table, header=grid.header, grid=grid)
    moved.grid, moved.person_id = grid, person_id
    session.add(moved)


def dividers_by_layout(session: Session, type_key: str) -> dict[str, dict[str, Any]]:
    """All that is remembered for a type, by table and header line, as it can be put back."""
    return {f"{one.table}\n{one.header}": one.grid.model_dump(mode="json") for one in _moved(session, type_key)}


def put_back_dividers(session: Session, type_key: str, before: Mapping[str, dict[str, Any] | None]) -> None:
    """Remember for these layouts what was remembered then; None forgets."""
    there = {f"{one.table}\n{one.header}": one for one in _moved(session, type_key)}
    for layout, grid in before.items():
        if grid is None:
            if layout in there:
                session.delete(there[layout])
        elif layout in there:
            there[layout].grid = Grid.model_validate(grid)
        else:
            table, _, header = layout.partition("\n")
            session.add(MovedDividers(type_key=type_key, table=table, header=header, grid=Grid.model_validate(grid)))


def _moved(session: Session, type_key: str) -> list[MovedDividers]:
    return list(session.exec(select(MovedDividers).where(MovedDividers.type_key == type_key)))
