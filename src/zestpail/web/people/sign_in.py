"""Signing in and out."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.people import people
from zestpail.desk.people.guessing import TooOften
from zestpail.web.shell.session import Here, person_of
from zestpail.web.shell.templating import page

router = APIRouter()
WRONG = "That name and password do not belong together."


@router.get("/sign-in")
def ask(request: Request, next: str = "/") -> Response:
    return page(request, "people/sign_in.html", next=_own(next), problem=None, login="")


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
    request.session.clear()
    request.session["person"], request.session["session"] = person.id, person.session
    return RedirectResponse(_own(next), status_code=303)


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
