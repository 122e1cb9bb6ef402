"""Who is at the keyboard."""

from __future__ import annotations

import time
from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import Depends, Request
from starlette.exceptions import HTTPException

from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.people.people import person as person_of_id

TOLD_EVERY = 60
"""Seconds after which what is done by hand is written into the cookie again."""


@dataclass(frozen=True)
class SessionLimits:
    """Seconds after which somebody has to sign in again: without doing anything, and in any case."""

    idle: float = 4 * 3600
    longest: float = 12 * 3600


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
    if not kept.get("person") or not kept.get("session") or not _in_time(request, kept):
        return None
    return person_of_id(desk_of(request).store, int(kept["person"]), int(kept["session"]))


def _in_time(request: Request, kept: dict[str, Any]) -> bool:
    """Whether the session is neither too old nor too long without anything done by hand."""
    limits: SessionLimits = request.app.state.sessions
    at = time.time()
    if at - kept.get("began", 0) > limits.longest or at - kept.get("seen", 0) > limits.idle:
        return False
    by_hand = request.method not in ("GET", "HEAD") or request.headers.get("sec-fetch-mode") == "navigate"
    if by_hand and at - kept["seen"] > TOLD_EVERY:
        kept["seen"] = int(at)
    return True


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


async def _desk_here(request: Request) -> Desk:
    """As :func:`desk_of`, but not in a thread of its own, which would cost more than it does."""
    return desk_of(request)


Here = Annotated[Desk, Depends(_desk_here)]
Me = Annotated[SignedIn, Depends(signed_in)]
SIGNED_IN = [Depends(signed_in)]
"""For routers of which every page needs somebody who has signed in."""
