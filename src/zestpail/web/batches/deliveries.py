"""Deliveries that were not made."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.batches.open_deliveries import open_view, try_all
from zestpail.desk.documents.seeing import see
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/deliveries", dependencies=OPERATORS)
Numbers = Annotated[list[int], Form(default_factory=list)]


@router.get("")
def not_made(request: Request, desk: Here, me: Me, lane: str = "", destination: str = "") -> Response:
    """What was not delivered, why, and when it is tried next."""
    view = open_view(desk.store, lane, destination if lane else "", me.closed)
    return place(request, "batches/deliveries.html", view=view, lane=lane, destination=destination)  # fmt: skip


@router.post("/again")
def again(
    desk: Here, me: Me, documents: Numbers, lane: Annotated[str, Form()] = "", destination: Annotated[str, Form()] = ""
) -> Response:
    """Those that were chosen are tried again."""
    for number in documents:
        see(desk.store, "document_id", number, me.closed)
    try_all(desk.store, documents, me.id)
    return RedirectResponse(f"/deliveries?{urlencode({'lane': lane, 'destination': destination})}", status_code=303)
