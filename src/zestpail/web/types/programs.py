"""For programs: how one has files read by a document type, with a token made on the spot."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from zestpail.desk.people.tokens import Scope, TokenTerms, make_token
from zestpail.desk.types.for_programs import for_programs
from zestpail.web.shell.permissions import ADMINISTRATORS, AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/types/{key}/programs")


@router.get("", dependencies=AUTHORS)
def show(request: Request, desk: Here, key: str) -> Response:
    return _shown(request, desk, key)


@router.post("/token", dependencies=ADMINISTRATORS)
def token(request: Request, desk: Here, me: Me, key: str, name: Annotated[str, Form()] = "") -> Response:
    """A token that may have files read by document types, set into the code, this once."""
    secret = make_token(desk.store, TokenTerms(name=name, scopes=[Scope.EXTRACT]), me.id)
    return _shown(request, desk, key, secret)


def _shown(request: Request, desk: Here, key: str, secret: str = "") -> Response:
    view = for_programs(desk.store, key, str(request.base_url), secret)
    return place(request, "types/programs.html", view=view, secret=secret)
