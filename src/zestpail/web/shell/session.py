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
        request.state.person = _person_now(request)
    found: SignedIn | None = request.state.person
    return found


def _person_now(request: Request) -> SignedIn | None:
    kept = request.session if "session" in request.scope else {}
    if not kept.get("person") or not kept.get("session"):
        return None
    return person_of_id(desk_of(request).store, int(kept["person"]), int(kept["session"]))


def still_signed_in(request: Request) -> bool:
    """Whether the session of a request that is still being answered was not ended meanwhile."""
    return _person_now(request) is not None


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
