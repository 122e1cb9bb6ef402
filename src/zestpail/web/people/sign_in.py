"""Signing in and out."""

from __future__ import annotations

import time
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.people import people
from zestpail.desk.people.guessing import TooOften
from zestpail.web.shell.session import Here, person_of
from zestpail.web.shell.templating import page

router = APIRouter()
NOBODY = "Nobody can sign in yet. Where Zest Pail was started, the address is printed at which you begin."
WRONG = "That name and password do not belong together."


@router.get("/sign-in")
def ask(request: Request, desk: Here, next: str = "/") -> Response:
    problem = None if people.anybody(desk.store) else NOBODY
    return page(request, "people/sign_in.html", next=_own(next), problem=problem, login="")


@router.post("/sign-in")
def enter(
    request: Request,
    desk: Here,
    login: Annotated[str, Form()] = "",
    password: Annotated[str, Form()] = "",
    next: Annotated[str, Form()] = "/",
) -> Response:
    address = request.client.host if request.client else ""
    try:
        person, status, problem = people.sign_in(desk.store, login, password, address), 401, WRONG
    except TooOften as wait:
        person, status, problem = None, 429, str(wait)
    if person is None:
        return page(request, "people/sign_in.html", status, next=_own(next), problem=problem, login=login)
    begin_session(request, person.id, person.session)
    return RedirectResponse(_own(next), status_code=303)


def begin_session(request: Request, person_id: int, number: int) -> None:
    """From now on the requests of this browser are that person's."""
    request.session.clear()
    at = int(time.time())
    request.session.update({"person": person_id, "session": number, "began": at, "seen": at})


@router.post("/sign-out")
def leave(request: Request, desk: Here) -> Response:
    """Everywhere: whoever signs out at one machine may have left another one open."""
    person = person_of(request)
    if person:
        people.sign_out(desk.store, person.id)
    request.session.clear()
    return RedirectResponse("/sign-in", status_code=303)


def _own(target: str) -> str:
    """Only a path of ours: nobody is sent to another site by an address."""
    return target if target.startswith("/") and not target.startswith(("//", "/\\")) else "/"
