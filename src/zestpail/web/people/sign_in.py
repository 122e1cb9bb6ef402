"""Signing in and out."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.people import people
from zestpail.web.shell.session import Here
from zestpail.web.shell.templating import page

router = APIRouter()


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
    person = people.sign_in(desk.store, login, password)
    if person is None:
        problem = "That name and password do not belong together."
        return page(request, "people/sign_in.html", 401, next=_own(next), problem=problem, login=login)
    request.session.clear()
    request.session["person"] = person.id
    return RedirectResponse(_own(next), status_code=303)


@router.post("/sign-out")
def leave(request: Request) -> Response:
    request.session.clear()
    return RedirectResponse("/sign-in", status_code=303)


def _own(target: str) -> str:
    """Only a path of ours: nobody is sent to another site by an address."""
    return target if target.startswith("/") and not target.startswith(("//", "/\\")) else "/"
