"""The rows of tables on the review desk."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from zestpail.core.reading.geometry import Box
from zestpail.desk.documents.messages import Missing
from zestpail.desk.review import table_edits
from zestpail.desk.review.desk import Seen
from zestpail.desk.review.table_dividers import move_divider
from zestpail.web.review.review import changed, show_cards
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me

router = APIRouter(prefix="/review", dependencies=OPERATORS)

Version = Annotated[int, Form()]
Text = Annotated[str, Form()]
Number = Annotated[int, Form()]
Length = Annotated[float, Form()]


@router.get("/{document_id}/tables/{table}")
def window(request: Request, desk: Here, me: Me, document_id: int, table: str, first: int = 1) -> Response:
    """The cards and the drawer, from another row on."""
    return show_cards(request, desk, me, document_id, window=(table, first))


@router.post("/{document_id}/rows/{row}/cells/{column}")
def cell(
    request: Request, desk: Here, me: Me, document_id: int, row: int, column: str, version: Version, how: Text,
    table: Text, first: Number = 1, text: Text = "", page_number: Number = 0,
    numbers: Annotated[list[int] | None, Form()] = None,
    x0: Length = 0, y0: Length = 0, x1: Length = 0, y1: Length = 0,
) -> Response:  # fmt: skip
    """Set a cell: by typing, by words clicked on the page, by a box drawn on it."""
    store, at = desk.store, page_number - 1
    box = Box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
    ways: dict[str, Callable[[Seen], None]] = {
        "enter": lambda seen: table_edits.enter_cell(store, seen, row, column, text),
        "words": lambda seen: table_edits.take_words_into(store, seen, row, column, at, numbers or []),
        "box": lambda seen: table_edits.take_box_into(store, seen, row, column, at, box),
        "left": lambda seen: table_edits.move_cell(store, seen, row, column, -1),
        "right": lambda seen: table_edits.move_cell(store, seen, row, column, 1),
        "fill down": lambda seen: table_edits.fill_down(store, seen, row, column),
        "accept": lambda seen: table_edits.accept_row(store, seen, row),
        "delete": lambda seen: table_edits.delete_row(store, seen, row),
        "split": lambda seen: table_edits.split_row(store, seen, row),
        "join": lambda seen: table_edits.join_rows(store, seen, row),
        "add": lambda seen: table_edits.add_row(store, seen, table, row),
    }
    if how not in ways:
        raise Missing("There is no such gesture.")
    return changed(request, desk, me, document_id, version, ways[how], window=(table, first))


@router.post("/{document_id}/tables/{table}/add")
def add(request: Request, desk: Here, me: Me, document_id: int, table: str, version: Version) -> Response:
    """A first row, where there is none."""
    return changed(
        request, desk, me, document_id, version, lambda seen: table_edits.add_row(desk.store, seen, table, None),
        window=(table, 1),
    )  # fmt: skip


@router.post("/{document_id}/tables/{table}/divider")
def divider(
    request: Request, desk: Here, me: Me, document_id: int, table: str, version: Version, page_number: Number,
    at: Number, x: Length,
) -> Response:  # fmt: skip
    """Move a column divider; all rows are read anew."""
    return changed(
        request, desk, me, document_id, version,
        lambda seen: move_divider(desk.store, seen, table, page_number - 1, at, x), window=(table, 1),
    )  # fmt: skip
