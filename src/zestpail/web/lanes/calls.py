"""Another system that begins readings of a lane: set up, and the calls that came."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.intake.calls import fetch_again
from zestpail.desk.lanes.calling_systems import calls_view, listen_to
from zestpail.web.shell.permissions import ADMINISTRATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/lanes/{key}/calls", dependencies=ADMINISTRATORS)
Text = Annotated[str, Form()]


@router.get("")
def calls(request: Request, desk: Here, key: str) -> Response:
    own = f"{str(request.base_url).rstrip('/')}/calls/{key}"
    return place(request, "lanes/calls.html", view=calls_view(desk.store, key), own=own)


@router.post("")
def listen(
    desk: Here, me: Me, key: str, address: Text = "", state: Text = "", secret: Text = "", signed_with: Text = ""
) -> Response:
    """The system that the lane listens to, or none."""
    listen_to(desk.store, desk.web, desk.data, key, address, state, secret, signed_with, me.id)
    return RedirectResponse(f"/lanes/{key}/calls", status_code=303)


@router.post("/{call_id}/again")
def again(desk: Here, me: Me, key: str, call_id: int) -> Response:
    """What a call spoke of is asked for once more."""
    fetch_again(desk.store, key, call_id, me.id)
    return RedirectResponse(f"/lanes/{key}/calls", status_code=303)
