"""People: who can sign in."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.batches.today import status
from zestpail.desk.people import people
from zestpail.web.shell.session import SIGNED_IN, Here, Me
from zestpail.web.shell.templating import page

router = APIRouter(prefix="/people", dependencies=SIGNED_IN)
Text = Annotated[str, Form()]


@router.get("")
def show(request: Request, desk: Here, me: Me) -> Response:
    return page(request, "people/people.html", people=people.people(desk.store), me=me, status=status(desk.store))


@router.post("")
def add(desk: Here, me: Me, login: Text = "", name: Text = "", password: Text = "") -> Response:
    people.new_person(desk.store, login, name, password, me.id)
    return _people()


@router.post("/{person_id}/name")
def rename(desk: Here, me: Me, person_id: int, name: Text = "") -> Response:
    people.rename(desk.store, person_id, name, me.id)
    return _people()


@router.post("/{person_id}/password")
def password(desk: Here, me: Me, person_id: int, password: Text = "") -> Response:
    people.set_password(desk.store, person_id, password, me.id)
    return _people()


@router.post("/{person_id}/disable")
def disable(desk: Here, me: Me, person_id: int, back: Annotated[bool, Form()] = False) -> Response:
    people.disable(desk.store, person_id, me.id, back)
    return _people()


def _people() -> Response:
    return RedirectResponse("/people", status_code=303)
