"""People: who can sign in, what they may do, and to whom lanes are open."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.documents.signed_in import MAY, Role
from zestpail.desk.people import people
from zestpail.desk.people.lane_limits import lanes_and_people, limit_lane
from zestpail.web.shell.permissions import ADMINISTRATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/people", dependencies=ADMINISTRATORS)
Text = Annotated[str, Form()]
Roles = Annotated[list[Role], Form(default_factory=list)]
Numbers = Annotated[list[int], Form(default_factory=list)]


@router.get("")
def show(request: Request, desk: Here, me: Me) -> Response:
    everybody = people.people(desk.store)
    lanes = lanes_and_people(desk.store)
    return place(request, "people/people.html", people=everybody, lanes=lanes, me=me, may=MAY)


@router.post("")
def add(desk: Here, me: Me, roles: Roles, login: Text = "", name: Text = "", password: Text = "") -> Response:
    people.new_person(desk.store, login, name, password, me.id, roles)
    return _people()


@router.post("/{person_id}/name")
def rename(desk: Here, me: Me, person_id: int, name: Text = "") -> Response:
    people.rename(desk.store, person_id, name, me.id)
    return _people()


@router.post("/{person_id}/roles")
def give_roles(desk: Here, me: Me, person_id: int, roles: Roles) -> Response:
    people.set_roles(desk.store, person_id, roles, me.id)
    return _people()


@router.post("/{person_id}/password")
def password(desk: Here, me: Me, person_id: int, password: Text = "") -> Response:
    people.set_password(desk.store, person_id, password, me.id)
    return _people()


@router.post("/{person_id}/disable")
def disable(desk: Here, me: Me, person_id: int, back: Annotated[bool, Form()] = False) -> Response:
    people.disable(desk.store, person_id, me.id, back)
    return _people()


@router.post("/lanes/{key}")
def limit(desk: Here, me: Me, key: str, people: Numbers) -> Response:
    """To whom a lane is open."""
    limit_lane(desk.store, key, people, me.id)
    return _people()


def _people() -> Response:
    return RedirectResponse("/people", status_code=303)
