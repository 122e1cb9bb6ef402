"""API access: tokens for programs."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.lanes.letter import lane_list
from zestpail.desk.people import tokens
from zestpail.desk.people.tokens import SCOPE_WORDS, TokenTerms
from zestpail.web.shell.permissions import ADMINISTRATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/access", dependencies=ADMINISTRATORS)
DAYS = {365: "in a year", 90: "in 90 days", 30: "in 30 days", 0: "never"}


@router.get("")
def show(request: Request, desk: Here) -> Response:
    return _shown(request, desk)


@router.post("")
def make(request: Request, desk: Here, me: Me, terms: Annotated[TokenTerms, Form()]) -> Response:
    """A new token, shown this once."""
    return _shown(request, desk, tokens.make_token(desk.store, terms, me.id))


@router.post("/{token_id}/revoke")
def revoke(desk: Here, me: Me, token_id: int) -> Response:
    tokens.revoke(desk.store, token_id, me.id)
    return RedirectResponse("/access", status_code=303)


def _shown(request: Request, desk: Here, secret: str = "") -> Response:
    rows, (lanes, _) = tokens.tokens(desk.store), lane_list(desk.store)
    names = {key: name for key, name, _ in lanes}
    return place(request, "people/tokens.html", tokens=rows, secret=secret, lanes=names, scopes=SCOPE_WORDS, days=DAYS)
