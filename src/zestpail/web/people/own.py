"""What everybody sets for themselves, and the very first person."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.signed_in import MAY
from zestpail.desk.people import first_start, people
from zestpail.web.people.sign_in import begin_session
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter()
Text = Annotated[str, Form()]


@router.get("/me")
def show(request: Request, me: Me) -> Response:
    return place(request, "people/own.html", me=me, may=MAY, problem="")


@router.post("/me/password")
def set_password(request: Request, desk: Here, me: Me, before: Text = "", password: Text = "") -> Response:
    """A new password; other sessions end, this one goes on."""
    try:
        people.own_password(desk.store, me.id, before, password)
    except NotDone as problem:
        return place(request, "people/own.html", 409, me=me, may=MAY, problem=str(problem))
    begin_session(request, me.id, me.session + 1)
    return RedirectResponse("/me", status_code=303)


@router.get("/first-start")
def ask_first(request: Request, desk: Here, key: str = "") -> Response:
    """Where the first administrator says how to sign in; only with the key that was printed at the start."""
    _with_key(desk, key)
    return page(request, "people/first_start.html", key=key, problem="", login="", called="")


@router.post("/first-start")
def make_first(request: Request, desk: Here, key: Text = "", login: Text = "", name: Text = "", password: Text = "",
               again: Text = "") -> Response:  # fmt: skip
    _with_key(desk, key)
    try:
        if password != again:
            raise NotDone("The two passwords are not the same.")
        people.first_administrator(desk.store, login, name, password)
    except NotDone as problem:
        told = {"problem": str(problem), "login": login, "called": name}
        return page(request, "people/first_start.html", 409, key=key, **told)
    first_start.done(desk.data)
    person = people.sign_in(desk.store, login, password)
    if person:
        begin_session(request, person.id, person.session)
    return RedirectResponse("/people", status_code=303)


def _with_key(desk: Here, key: str) -> None:
    if not first_start.is_key(desk.data, key):
        raise Missing("There is no such page. If nobody can sign in yet, start Zest Pail again and use what it prints.")
