"""Tables at the bench: settings, dividers, taking one out; drawing one and showing a row go with the other gestures."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from zestpail.desk.types.bench import tables
from zestpail.desk.types.bench.edits import At
from zestpail.desk.types.bench.tables import TableForm
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.types.bench import Done, changed

router = APIRouter(prefix="/types", dependencies=AUTHORS)


class TableGesture(TableForm):
    """The settings of a table, and the draft and the sample that were seen."""

    version: int
    sample: int


@router.post("/{key}/tables/{table}/settings")
def settings(
    request: Request, desk: Here, me: Me, key: str, table: str, form: Annotated[TableGesture, Form()]
) -> Response:
    """All settings of a table."""
    at = At(key, form.version, me.id)
    return changed(request, desk, key, form.sample, table, lambda: tables.set_table(desk.store, at, table, form))


@router.post("/{key}/tables/{table}/divider")
def divider(
    request: Request, desk: Here, me: Me, key: str, table: str, version: Annotated[int, Form()],
    sample: Annotated[int, Form()], page_number: Annotated[int, Form()], at: Annotated[int, Form()],
    x: Annotated[float, Form()],
) -> Response:  # fmt: skip
    """Move a column divider for the layout of this sample."""
    here = At(key, version, me.id)
    return changed(
        request, desk, key, sample, table,
        lambda: tables.divide(desk.store, here, sample, table, page_number - 1, at, x),
    )  # fmt: skip


@router.post("/{key}/tables/{table}/divider/add")
def add_divider(
    request: Request, desk: Here, me: Me, key: str, table: str, version: Annotated[int, Form()],
    sample: Annotated[int, Form()], page_number: Annotated[int, Form()], x: Annotated[float, Form()],
) -> Response:  # fmt: skip
    """A divider more, right of which a new column begins."""
    here = At(key, version, me.id)
    return changed(
        request, desk, key, sample, table,
        lambda: Done(message=tables.add_divider(desk.store, here, sample, table, page_number - 1, x)),
    )  # fmt: skip


@router.post("/{key}/tables/{table}/divider/take")
def take_divider(
    request: Request, desk: Here, me: Me, key: str, table: str, version: Annotated[int, Form()],
    sample: Annotated[int, Form()], page_number: Annotated[int, Form()], at: Annotated[int, Form()],
) -> Response:  # fmt: skip
    """A divider less: two columns are one on this layout."""
    here = At(key, version, me.id)
    return changed(
        request, desk, key, sample, table,
        lambda: tables.join_columns(desk.store, here, sample, table, page_number - 1, at),
    )  # fmt: skip


@router.post("/{key}/tables/{table}/header")
def header(
    request: Request, desk: Here, me: Me, key: str, table: str, version: Annotated[int, Form()],
    sample: Annotated[int, Form()], headed: Annotated[bool, Form()],
) -> Response:  # fmt: skip
    """Whether the first line is the header or a row."""
    here, choose = At(key, version, me.id), tables.row_is_header if headed else tables.header_is_row
    return changed(request, desk, key, sample, table, lambda: Done(message=choose(desk.store, here, sample, table)))


@router.post("/{key}/tables/{table}/take-over")
def take_over(
    request: Request, desk: Here, me: Me, key: str, table: str, version: Annotated[int, Form()],
    sample: Annotated[int, Form()], number: Annotated[int, Form()],
) -> Response:  # fmt: skip
    """Take dividers that were moved in review into the type."""
    here = At(key, version, me.id)
    return changed(
        request, desk, key, sample, table, lambda: tables.take_over_dividers(desk.store, here, table, number)
    )


@router.post("/{key}/tables/{table}/remove")
def remove(
    request: Request, desk: Here, me: Me, key: str, table: str, version: Annotated[int, Form()],
    sample: Annotated[int, Form()],
) -> Response:  # fmt: skip
    at = At(key, version, me.id)
    return changed(request, desk, key, sample, "", lambda: tables.remove_table(desk.store, at, table))
