"""What every request and answer has to satisfy."""

from __future__ import annotations

from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

HEADERS = {
    "content-security-policy": (
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; "
        "connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
    ),
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}
_SAFE = {"GET", "HEAD", "OPTIONS"}
OTHER_DOORS = ("/api/", "/calls/")
"""Where programs show themselves in other ways."""
MOST_OF_A_SIGN_IN = 20_000
"""Bytes."""


class Guard:
    """Refuses changes asked for by other sites, and puts the security headers on every answer.

    Forgery is told by ``Sec-Fetch-Site``, which browsers send and pages cannot set, and by ``Origin`` where a
    browser does not send it (OWASP, Cross-Site Request Forgery Prevention, Fetch Metadata).
    """

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        if scope["method"] not in _SAFE and _from_elsewhere(Headers(scope=scope)):
            refusal = PlainTextResponse("This was asked for by another site, so it was not done.", status_code=403)
            await refusal(scope, receive, send)
            return
        early = None if scope["method"] in _SAFE else _before_reading(scope)
        if early:
            await early(scope, receive, send)
            return

        async def guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers.setdefault(name, value)
                if "cache-control" not in headers:
                    headers["cache-control"] = "no-cache" if scope["path"].startswith("/static/") else "no-store"
            await send(message)

        await self._app(scope, receive, guarded)


def _before_reading(scope: Scope) -> Response | None:
    """What is answered before anything of a body is read: to somebody who has not signed in, or sends too much."""
    path, head = scope["path"], Headers(scope=scope)
    if path.startswith(OTHER_DOORS):
        return None
    announced = head.get("content-length", "")
    if path in ("/sign-in", "/first-start"):
        small = announced.isdecimal() and int(announced) <= MOST_OF_A_SIGN_IN
        return None if small else PlainTextResponse("This is no name and password.", status_code=413)
    if not scope.get("session", {}).get("person"):
        return Response(status_code=303, headers={"location": "/sign-in?next=/", "connection": "close"})
    return None


def _from_elsewhere(headers: Headers) -> bool:
    site = headers.get("sec-fetch-site")
    if site:
        return site not in ("same-origin", "none")
    origin = headers.get("origin")
    return origin is not None and urlsplit(origin).netloc != headers.get("host")
