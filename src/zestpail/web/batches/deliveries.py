"""Deliveries that were not made."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.batches.open_deliveries import open_view, try_all
from zestpail.desk.batches.today import status
from zestpail.web.shell.session import SIGNED_IN, Here, Me
from zestpail.web.shell.templating import page

router = APIRouter(prefix="/deliveries", dependencies=SIGNED_IN)
Numbers = Annotated[list[int], Form(default_factory=list)]


@router.get("")
def not_made(request: Request, desk: Here, lane: str = "", destination: str = "") -> Response:
    """What was not delivered, why, and when it is tried next."""
    view = open_view(desk.store, lane, destination if lane else "")
    return page(request, "batches/deliveries.html", view=view, lane=lane, destination=destination,
                status=status(desk.store))  # fmt: skip


@router.post("/again")
def again(
    desk: Here, me: Me, documents: Numbers, lane: Annotated[str, Form()] = "", destination: Annotated[str, Form()] = ""
) -> Response:
    """Those that were chosen are tried again."""
    try_all(desk.store, documents, me.id)
    return RedirectResponse(f"/deliveries?{urlencode({'lane': lane, 'destination': destination})}", status_code=303)
