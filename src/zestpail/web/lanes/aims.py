"""What a lane's review should achieve: the thresholds follow from it."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.quality.aims import aims_of, set_aim
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/lanes/{key}/aim", dependencies=AUTHORS)


@router.get("")
def show(
    request: Request, desk: Here, key: str, wrong: Annotated[float | None, Query(ge=0, le=1000)] = None
) -> Response:
    """Which thresholds each aim asks for, and what share will need a person."""
    return place(request, "lanes/aim.html", view=aims_of(desk.store, key, wrong))


@router.post("")
def choose(desk: Here, me: Me, key: str, wrong: Annotated[float, Form(ge=0, le=1000)]) -> Response:
    set_aim(desk.store, key, wrong, me.id)
    return RedirectResponse(f"/lanes/{key}", status_code=303)
