"""Today, the status line, and files dropped on a lane."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import JSONResponse, RedirectResponse, Response

from zestpail.core.reading.read import Way
from zestpail.desk.batches.today import status, today
from zestpail.desk.documents.context import set_reading
from zestpail.desk.intake.arrivals import arrive, may_arrive
from zestpail.web.shell.session import SIGNED_IN, Here, Me
from zestpail.web.shell.templating import page

router = APIRouter(dependencies=SIGNED_IN)


@router.get("/")
def show(request: Request, desk: Here) -> Response:
    return page(request, "today/today.html", today=today(desk.store, desk.scanner), status=status(desk.store))


@router.get("/today/lanes")
def lanes(request: Request, desk: Here) -> Response:
    """The part of the page that changes."""
    return page(request, "today/lanes.html", today=today(desk.store, desk.scanner))


@router.get("/status")
def status_line(request: Request, desk: Here) -> Response:
    return page(request, "shell/status.html", status=status(desk.store))


@router.post("/lanes/{key}/files")
def drop(
    request: Request,
    desk: Here,
    me: Me,
    key: str,
    files: Annotated[list[UploadFile], File()],
    batch: Annotated[int | None, Form()] = None,
) -> Response:
    """Files for a lane; the first begins a batch, unless one is named. Answered when they are safely kept."""
    for file in files:
        may_arrive(file.filename or "", file.size or 0)
        batch = arrive(desk.store, key, file.filename or "", file.file.read(), me.id, batch)
    if request.headers.get("accept", "").startswith("application/json"):
        return JSONResponse({"batch": batch})
    return RedirectResponse("/", status_code=303)


@router.post("/lanes/{key}/reading")
def reading(desk: Here, me: Me, key: str, way: Annotated[Way, Form()]) -> Response:
    """How the lane reads from now on."""
    set_reading(desk.store, key, way, me.id)
    return RedirectResponse("/", status_code=303)
