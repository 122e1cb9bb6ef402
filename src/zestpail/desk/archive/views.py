"""Searches that were given a name, with columns of their own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import col, or_, select

from zestpail.desk.archive.search import Wanted
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.store import Store
from zestpail.store.retention_tables import ArchiveView

MOST_COLUMNS = 12


@dataclass(frozen=True)
class ViewRow:
    id: int
    name: str
    mine: bool
    for_all: bool


@dataclass(frozen=True)
class SavedView:
    id: int
    name: str
    wanted: dict[str, str]
    columns: list[str]


def views_for(store: Store, person_id: int) -> list[ViewRow]:
    """The person's own views and those that are for all, by name."""
    with store.transaction() as session:
        wanted = select(ArchiveView).where(or_(ArchiveView.person_id == person_id, col(ArchiveView.for_all).is_(True)))
        found = session.exec(wanted.order_by(col(ArchiveView.name), col(ArchiveView.id)))
        return [ViewRow(one.id or 0, one.name, one.person_id == person_id, one.for_all) for one in found]


def saved_view(store: Store, view_id: int, person_id: int) -> SavedView:
    """A view. Raises Missing for one that is not there, or another person's own."""
    with store.transaction() as session:
        one = session.get(ArchiveView, view_id)
        if one is None or not (one.for_all or one.person_id == person_id):
            raise Missing("There is no such view.")
        return SavedView(view_id, one.name, one.wanted, one.columns)


def save_view(store: Store, name: str, wanted: Wanted, columns: Sequence[str], person_id: int, *, for_all: bool) -> int:
    """Keep a search under a name, in place of one's own of that name; returns its number. Raises NotDone."""
    called = " ".join(name.split())[:80]
    if not called:
        raise NotDone("Give the view a name.")
    looked_for = {
        key: str(value)
        for key, value in wanted.model_dump(exclude_defaults=True, mode="json").items()
        if key not in ("before", "after")
    }
    with store.transaction() as session:
        mine = select(ArchiveView).where(ArchiveView.person_id == person_id, ArchiveView.name == called)
        view = session.exec(mine).first() or ArchiveView(name=called, person_id=person_id)
        view.wanted, view.columns, view.for_all = looked_for, list(columns)[:MOST_COLUMNS], for_all
        session.add(view)
        session.flush()
        note(session, "view_kept", person_id=person_id, after={"message": called})
        return view.id or 0


def remove_view(store: Store, view_id: int, person_id: int) -> None:
    """One's own view is there no more. Raises Missing."""
    with store.transaction() as session:
        view = session.get(ArchiveView, view_id)
        if view is None or view.person_id != person_id:
            raise Missing("There is no such view of yours.")
        session.delete(view)
        note(session, "view_removed", person_id=person_id, after={"message": view.name})
