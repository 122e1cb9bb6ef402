"""API access: tokens for programs."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.batches.today import status
from zestpail.desk.people import tokens
from zestpail.web.shell.session import SIGNED_IN, Here, Me
from zestpail.web.shell.templating import page

router = APIRouter(prefix="/access", dependencies=SIGNED_IN)


@router.get("")
def show(request: Request, desk: Here) -> Response:
    return _shown(request, desk)


@router.post("")
def make(request: Request, desk: Here, me: Me, name: Annotated[str, Form()] = "") -> Response:
    """A new token, shown this once."""
    return _shown(request, desk, tokens.make_token(desk.store, name, me.id))


@router.post("/{token_id}/revoke")
def revoke(desk: Here, me: Me, token_id: int) -> Response:
    tokens.revoke(desk.store, token_id, me.id)
    return RedirectResponse("/access", status_code=303)


def _shown(request: Request, desk: Here, secret: str = "") -> Response:
    rows = tokens.tokens(desk.store)
    return page(request, "people/tokens.html", tokens=rows, secret=secret, status=status(desk.store))
