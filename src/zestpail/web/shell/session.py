"""Who is at the keyboard."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request
from starlette.exceptions import HTTPException

from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.people.people import SignedIn
from zestpail.desk.people.people import person as person_of_id


def desk_of(request: Request) -> Desk:
    desk: Desk = request.app.state.desk
    return desk


def person_of(request: Request) -> SignedIn | None:
    """The person of the session; asked of the store once per request."""
    if not hasattr(request.state, "person"):
        number = request.session.get("person") if "session" in request.scope else None
        request.state.person = person_of_id(desk_of(request).store, int(number)) if number else None
    found: SignedIn | None = request.state.person
    return found


def signed_in(request: Request) -> SignedIn:
    """The person, or the way to the sign-in page for somebody who has not signed in."""
    person = person_of(request)
    if person is None:
        target = request.url.path if request.method == "GET" else "/"
        raise HTTPException(303, headers={"location": f"/sign-in?next={target}"})
    return person


Here = Annotated[Desk, Depends(desk_of)]
Me = Annotated[SignedIn, Depends(signed_in)]
SIGNED_IN = [Depends(signed_in)]
"""For routers of which every page needs somebody who has signed in."""
