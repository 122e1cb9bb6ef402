"""API access: addresses that are called with news, and the calls that were made."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.documents.news import KIND_WORDS
from zestpail.desk.lanes.letter import lane_list
from zestpail.desk.programs import hooks
from zestpail.desk.programs.hooks import HookTerms
from zestpail.web.shell.permissions import ADMINISTRATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/access/calls", dependencies=ADMINISTRATORS)


@router.get("")
def show(request: Request, desk: Here) -> Response:
    return _shown(request, desk)


@router.post("")
def add(request: Request, desk: Here, me: Me, terms: Annotated[HookTerms, Form()]) -> Response:
    """Another address that is called; its secret is shown this once."""
    return _shown(request, desk, hooks.add_hook(desk.store, desk.data, desk.web, terms, me.id))


@router.post("/addresses/{hook_id}/end")
def end(desk: Here, me: Me, hook_id: int) -> Response:
    hooks.end_hook(desk.store, hook_id, me.id)
    return RedirectResponse("/access/calls", status_code=303)


@router.post("/{call_id}/again")
def again(desk: Here, me: Me, call_id: int) -> Response:
    """Make a call once more."""
    hooks.call_again(desk.store, call_id, me.id)
    return RedirectResponse("/access/calls", status_code=303)


def _shown(request: Request, desk: Here, secret: str = "") -> Response:
    lanes, _ = lane_list(desk.store)
    return place(
        request, "people/hooks.html", hooks=hooks.hooks_there_are(desk.store), calls=hooks.calls_made(desk.store),
        secret=secret, kinds=KIND_WORDS, lanes={key: name for key, name, _ in lanes},
    )  # fmt: skip
