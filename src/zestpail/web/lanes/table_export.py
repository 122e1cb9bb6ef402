"""What a lane delivers of the tables that it captures, with a preview."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response
from pydantic import ValidationError

from zestpail.delivery.rows import WAYS, TableExport
from zestpail.desk.delivery.table_export import lane_name, rows_previews, set_table_export
from zestpail.desk.documents.messages import NotDone
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/lanes", dependencies=AUTHORS)


@router.get("/{key}/rows")
def show(request: Request, desk: Here, key: str) -> Response:
    """The settings and the preview of each table."""
    return place(
        request, "lanes/table_export.html", key=key, lane=lane_name(desk.store, key),
        tables=rows_previews(desk.store, key), ways=WAYS,
    )  # fmt: skip


@router.post("/{key}/rows")
def change(
    desk: Here, me: Me, key: str, table: Annotated[str, Form()], way: Annotated[str, Form()],
    repeat: Annotated[list[str] | None, Form()] = None, columns: Annotated[list[str] | None, Form()] = None,
) -> Response:  # fmt: skip
    """How rows are delivered from now on; columns that are not named are left out, which the preview says."""
    preview = next((one for one in rows_previews(desk.store, key) if one.table == table), None)
    left_out = tuple(name for name, _, _ in preview.columns if name not in (columns or ())) if preview else ()
    try:
        out = TableExport.model_validate({"table": table, "way": way, "repeat": repeat or (), "leave_out": left_out})
    except ValidationError as error:
        raise NotDone("There is no such way of delivering rows.") from error
    set_table_export(desk.store, key, out, me.id)
    return RedirectResponse(f"/lanes/{key}/rows", status_code=303)
