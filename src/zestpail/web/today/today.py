"""Today, the status line, and files dropped on a lane."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import JSONResponse, RedirectResponse, Response

from zestpail.core.reading.read import Way
from zestpail.desk.batches.today import today
from zestpail.desk.documents.context import set_reading
from zestpail.desk.intake.arrivals import arrive, may_arrive
from zestpail.web.shell.permissions import AUTHORS, OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter(dependencies=OPERATORS)


first = APIRouter()


@first.get("/")
def begin(request: Request, desk: Here, me: Me) -> Response:
    """Where everybody begins: with today's work, or with what else one may do."""
    if not me.operator:
        return RedirectResponse("/types" if me.author else "/people", status_code=303)
    return place(request, "today/today.html", today=today(desk.store, desk.scanner, me.closed))


@router.get("/today/lanes")
def lanes(request: Request, desk: Here, me: Me) -> Response:
    """The part of the page that changes."""
    return page(request, "today/lanes.html", today=today(desk.store, desk.scanner, me.closed))


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
        may_arrive(file.filename or "", file.size or 0, desk.store.limits)
        batch = arrive(desk.store, key, file.filename or "", file.file.read(), me.id, batch)
    if request.headers.get("accept", "").startswith("application/json"):
        return JSONResponse({"batch": batch})
    return RedirectResponse("/", status_code=303)


@router.post("/lanes/{key}/reading", dependencies=AUTHORS)
def reading(desk: Here, me: Me, key: str, way: Annotated[Way, Form()]) -> Response:
    """How the lane reads from now on."""
    set_reading(desk.store, key, way, me.id)
    return RedirectResponse("/", status_code=303)
