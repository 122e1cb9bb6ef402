"""Which of our values goes into which column over there: tied and untied in a lane's draft."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError
from rapidfuzz import fuzz

from zestpail.core.document_type import DocumentType
from zestpail.delivery import AnyDestination, MappedDestination
from zestpail.delivery.columns import Column, ColumnKind, Columns
from zestpail.delivery.mapping import FieldSource, LookupSource, TableTie, Tie, Ties
from zestpail.desk.documents.context import lane_of_key, revision_for
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.lanes.destinations.edits import change_one
from zestpail.desk.lanes.letter import draft_of
from zestpail.store import Store

ALIKE = 85.0
"""Of 100: how alike two names must be to be tied by themselves."""


def tie(
    store: Store, lane_key: str, destination_id: str, place: str, value: dict[str, Any] | None, person_id: int
) -> None:
    """What goes into a column, named as ``column`` or ``list/column``; None for nothing.

    A column of a table is named as ``table/column``. Raises NotDone, Missing.
    """
    message = "tied a column" if value else "untied a column"
    change_one(store, lane_key, destination_id, lambda one: _tied(one, place, value), message, person_id)


def add_column(
    store: Store, lane_key: str, destination_id: str, name: str, kind: ColumnKind, person_id: int
) -> None:  # fmt: skip
    """A column that is not there yet. Raises NotDone, Missing."""
    called = " ".join(name.split())[:80]
    if not called:
        raise NotDone("Say what the column is called. Nothing was changed.")

    def changed(one: AnyDestination) -> AnyDestination:
        if not isinstance(one, MappedDestination) or not one.columns_can_be_named:
            raise Missing("The other side says itself which columns it has.")
        try:
            column = one.new_column(called, kind)
        except ValueError as problem:
            raise NotDone(f"{problem} Nothing was changed.") from problem
        if one.columns.of(column.key):
            raise NotDone(f"There is a column {called} already. Nothing was changed.")
        columns = Columns(plain=(*one.columns.plain, column), lists=one.columns.lists)
        return one.model_copy(update={"columns": columns})

    change_one(store, lane_key, destination_id, changed, f"added the column {called}", person_id)


def tie_alike(store: Store, lane_key: str, destination_id: str, person_id: int) -> None:
    """Tie each column that nothing goes into to the field whose name is the most like its own. Raises NotDone."""
    with store.transaction() as session:
        settings = draft_of(lane_of_key(session, lane_key))
        fields = {one.key: one.name for one in DocumentType.model_validate(revision_for(session, settings).body).fields}

    def changed(one: AnyDestination) -> AnyDestination:
        if not isinstance(one, MappedDestination):
            raise Missing("It has no columns.")
        tied = {tie.column for tie in one.ties.ties}
        ties = [_alike(column, fields) for column in one.columns.plain if column.key not in tied]
        fresh = tuple(tie for tie in ties if tie)
        if not fresh:
            raise NotDone("No other column has a name like that of a field. Nothing was changed.")
        return one.model_copy(update={"ties": one.ties.model_copy(update={"ties": (*one.ties.ties, *fresh)})})

    change_one(store, lane_key, destination_id, changed, "tied what has the same name", person_id)


def _alike(column: Column, fields: Mapping[str, str]) -> Tie | None:
    """The tie of a column to the field that is called nearly the same."""
    wanted = (column.name.casefold(), column.key.replace("_", " ").casefold())

    def likeness(key: str) -> float:
        own = (fields[key].casefold(), key.replace("_", " "))
        return max(fuzz.ratio(one, other) for one in wanted for other in own)

    best = max(fields, key=likeness, default="")
    return Tie(column=column.key, value=FieldSource(key=best)) if best and likeness(best) >= ALIKE else None


def _tied(one: AnyDestination, place: str, value: dict[str, Any] | None) -> AnyDestination:
    if not isinstance(one, MappedDestination):
        raise Missing("It has no columns.")
    plain = one.columns.of(place) is not None or "/" not in place
    list_key, column = ("", place) if plain else tuple(place.split("/", 1))
    table, key = _of_table(value, one.each_row_of)
    try:
        told = {**value, "key": key} if value and "key" in value else value
        made = Tie.model_validate({"column": column, "value": told}) if told else None
    except ValidationError as error:
        raise NotDone(f"Not possible: {error.errors()[0]['msg'].lower()}. Nothing was changed.") from error
    _may_be(one.columns, list_key, column, made, table)
    return one.model_copy(update={"ties": _with(one.ties, list_key, column, made, table)})


def _of_table(value: dict[str, Any] | None, own_rows: str) -> tuple[str, str]:
    """The table that a value is a column of, and its key there; a list with a row of each keeps the whole name."""
    named = str((value or {}).get("key", ""))
    table, _, key = named.rpartition("/")
    return ("", named) if table and table == own_rows else (table, key)


def _may_be(columns: Columns, list_key: str, column: str, made: Tie | None, table: str) -> None:
    """Raises NotDone, Missing."""
    there = columns.list_of(list_key) if list_key else None
    known: tuple[Column, ...] = there.columns if there else () if list_key else columns.plain
    if made and list_key and not table and isinstance(made.value, FieldSource | LookupSource):
        raise NotDone("Into a row over there go columns of a table. Nothing was changed.")
    if made and not list_key and table:
        raise NotDone("A column of a table goes into a row over there. Nothing was changed.")
    if made and all(other.key != column for other in known):
        raise Missing("There is no such column over there.")


def _with(ties: Ties, list_key: str, column: str, made: Tie | None, table: str) -> Ties:
    def replaced(before: tuple[Tie, ...]) -> tuple[Tie, ...]:
        return (*(one for one in before if one.column != column), *((made,) if made else ()))

    if not list_key:
        return ties.model_copy(update={"ties": replaced(ties.ties)})
    own = next((one for one in ties.tables if one.list_key == list_key), None)
    rows = table or (own.table if own else "")
    if made and not rows:
        raise NotDone("Into a row over there go columns of a table. Nothing was changed.")
    kept = own.ties if own and own.table == rows else ()
    fresh = TableTie(list_key=list_key, table=rows, ties=replaced(kept))
    others = tuple(one for one in ties.tables if one.list_key != list_key)
    return ties.model_copy(update={"tables": (*others, *((fresh,) if fresh.ties else ()))})
