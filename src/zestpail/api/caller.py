"""Who calls: the token of a program, and how often it may call."""

from __future__ import annotations

from collections.abc import Callable
from threading import Lock
from time import monotonic
from typing import Annotated

from fastapi import Depends, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response
from fastapi.security import HTTPAuthorizationCredentials, HTTPBearer
from starlette.datastructures import Headers
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Receive, Send
from starlette.types import Scope as Connection

from zestpail.api.problems import LATER, problem
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import DATABASE_GONE, Unreachable
from zestpail.desk.people.tokens import Holder, holder_of

NO_TOKEN = "A token is needed, as “Authorization: Bearer …”."  # noqa: S105 - a sentence
_BEARER = HTTPBearer(auto_error=False, description="A token made under API access.")


class Pace:
    """How often each token may call: so many calls at once, and so many more each second (a leaky bucket).

    Kept by each process of the web for itself: it keeps a program that runs wild off, and counts nothing.
    """

    def __init__(self, at_once: float, each_second: float) -> None:
        self._most, self._speed = at_once, each_second
        self._level: dict[int, tuple[float, float]] = {}
        self._lock = Lock()

    def wait(self, token_id: int, now: float) -> float:
        """Seconds until it may call again; 0 where it may now, which is then counted."""
        with self._lock:
            level, at = self._level.get(token_id, (0.0, now))
            level = max(0.0, level - (now - at) * self._speed)
            if level + 1 > self._most:
                return (level + 1 - self._most) / self._speed
            self._level[token_id] = (level + 1, now)
            return 0.0


class TokenFirst:
    """Turns away whoever sends something without a token, before anything of it is read."""

    def __init__(self, app: ASGIApp, desk: Desk) -> None:
        self._app, self._desk = app, desk

    async def __call__(self, scope: Connection, receive: Receive, send: Send) -> None:
        refusal = None
        if scope["type"] == "http" and scope["method"] not in ("GET", "HEAD"):
            refusal = await self._refusal(Headers(scope=scope).get("authorization", ""))
        await (refusal or self._app)(scope, receive, send)

    async def _refusal(self, authorization: str) -> Response | None:
        way, _, secret = authorization.partition(" ")
        try:
            holder = await run_in_threadpool(holder_of, self._desk.store, secret) if way.lower() == "bearer" else None
            if holder is not None:
                return None
        except Unreachable:
            return problem(503, DATABASE_GONE, {**LATER, "connection": "close"})
        return problem(401, NO_TOKEN, {"www-authenticate": "Bearer", "connection": "close"})


def caller_for(desk: Desk, pace: Pace) -> Callable[..., None]:
    """What finds out for each request whose token it has, and keeps the program in :data:`Caller`."""

    def known(request: Request, given: Annotated[HTTPAuthorizationCredentials | None, Depends(_BEARER)]) -> None:
        holder = holder_of(desk.store, given.credentials) if given else None
        if holder is None:
            raise HTTPException(401, NO_TOKEN, {"www-authenticate": "Bearer"})
        wait = pace.wait(holder.id, monotonic())
        if wait:
            after = str(max(1, round(wait + 0.5)))
            raise HTTPException(429, f"These are too many calls. Call again in {after} s.", {"retry-after": after})
        request.state.holder = holder

    return known


def _holder(request: Request) -> Holder:
    holder: Holder = request.state.holder
    return holder


Caller = Annotated[Holder, Depends(_holder)]
"""The program that calls."""
