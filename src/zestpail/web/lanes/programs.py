"""For programs: how one sends files to a lane and fetches what became of them, with a token made on the spot."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from zestpail.desk.lanes.for_programs import lane_for_programs
from zestpail.desk.people.tokens import Scope, TokenTerms, make_token
from zestpail.web.shell.permissions import ADMINISTRATORS, AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/lanes/{key}/programs")


@router.get("", dependencies=AUTHORS)
def show(request: Request, desk: Here, key: str) -> Response:
    return _shown(request, desk, key)


@router.post("/token", dependencies=ADMINISTRATORS)
def token(request: Request, desk: Here, me: Me, key: str, name: Annotated[str, Form()] = "") -> Response:
    """A token that may send to this lane and read what became of it, set into the code, this once."""
    terms = TokenTerms(name=name, scopes=[Scope.SEND, Scope.READ], lanes=[key])
    return _shown(request, desk, key, make_token(desk.store, terms, me.id))


def _shown(request: Request, desk: Here, key: str, secret: str = "") -> Response:
    view = lane_for_programs(desk.store, key, str(request.base_url), secret)
    return place(request, "lanes/programs.html", view=view, secret=secret)
