"""The web application, put together."""

from __future__ import annotations

import gc
import threading
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import Response
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.middleware.sessions import SessionMiddleware

from zestpail.desk.documents import notices
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import (
    BUSY,
    DATABASE_GONE,
    Busy,
    Missing,
    NotAllowed,
    NotDone,
    Unkeepable,
    Unreachable,
)
from zestpail.web.archive import keeping, room, search
from zestpail.web.batches import batch, deliveries, ribbon
from zestpail.web.lanes import aims, calls, destinations, letter, sorting, table_export
from zestpail.web.lanes import programs as lane_programs
from zestpail.web.people import hooks, own, people, sign_in, tokens
from zestpail.web.quality import quality
from zestpail.web.reference import lists
from zestpail.web.review import batch_sheet, entries, review, table_rows
from zestpail.web.review import sorting as review_sorting
from zestpail.web.shell import live, page_images, static_files
from zestpail.web.shell.security import HEADERS, Guard
from zestpail.web.shell.session import SessionLimits
from zestpail.web.shell.templating import problem_page
from zestpail.web.today import chunked_upload, scanning, today
from zestpail.web.types import (
    bench,
    landmarks,
    learning,
    programs,
    rules,
    starters,
    tables,
    types,
)

RARELY = (20_000, 20, 20)
"""How often rubbish is looked for: as often as Python does by itself takes a sixth of the time of an answer."""
BESIDE_A_FILE = 5_000_000
"""Bytes of a request that may go with one file of the largest that are taken; several come in pieces."""


def create_app(
    desk: Desk,
    secret: str,
    stopping: Callable[[], bool] = lambda: False,
    *,
    https: bool = False,
    sessions: SessionLimits = SessionLimits(),  # noqa: B008 - frozen
) -> FastAPI:
    """The application for this desk; ``secret`` signs the session cookies.

    Open event streams end when ``stopping`` says so: a server waits for its connections before it stops.
    """

    @asynccontextmanager
    async def running(app: FastAPI) -> AsyncIterator[None]:
        app.state.hub = live.Hub(stopping)
        stop = threading.Event()
        threading.Thread(target=app.state.hub.watch, args=(desk, stop), daemon=True).start()
        threading.Thread(target=notices.warm_reader, daemon=True).start()
        gc.freeze()  # what is loaded by now stays: looking through it costs every third long answer 150 ms
        gc.set_threshold(*RARELY)
        yield
        stop.set()

    app = FastAPI(
        title="Zest Pail", lifespan=running, docs_url=None, redoc_url=None, openapi_url=None,
        max_body_size=desk.store.limits.max_bytes + BESIDE_A_FILE,
    )  # fmt: skip
    app.state.desk, app.state.sessions = desk, sessions
    app.add_middleware(Guard)
    app.add_middleware(
        SessionMiddleware, secret_key=secret, max_age=int(sessions.longest), same_site="lax", session_cookie="pail",
        https_only=https,
    )  # fmt: skip
    app.mount(static_files.PLACE, static_files.Unchanging(directory=static_files.FILES))
    app.mount("/static", StaticFiles(directory=static_files.FILES), name="static")
    setting_up = (
        people,
        tokens,
        hooks,
        table_export,
        sorting,
        destinations,
        calls,
        aims,
        lane_programs,
        letter,
        starters,
        types,
        quality,
        bench,
        learning,
        tables,
        landmarks,
        programs,
        rules,
        lists,
    )
    working = (
        review,
        review_sorting,
        table_rows,
        entries,
        batch_sheet,
        batch,
        deliveries,
        ribbon,
        scanning,
        chunked_upload,
        page_images,
    )
    for place in (sign_in, own, today, *setting_up, *working, keeping, search, room, live):
        app.include_router(place.router)
    app.include_router(today.first)
    app.add_exception_handler(Missing, _missing)
    app.add_exception_handler(NotAllowed, _not_allowed)
    app.add_exception_handler(Unkeepable, _unkeepable)
    app.add_exception_handler(Busy, _busy)
    app.add_exception_handler(Unreachable, _unreachable)
    app.add_exception_handler(NotDone, _not_done)
    app.add_exception_handler(RequestValidationError, _not_understood)
    app.add_exception_handler(HTTPException, _refused)
    app.add_exception_handler(Exception, _broken)
    return app


async def _missing(request: Request, problem: Exception) -> Response:
    return problem_page(request, str(problem), 404)


async def _not_allowed(request: Request, problem: Exception) -> Response:
    return problem_page(request, str(problem), 403)


async def _busy(request: Request, _: Exception) -> Response:
    return problem_page(request, BUSY, 409)


async def _unreachable(request: Request, _: Exception) -> Response:
    request.state.person = None  # who it is cannot be asked now
    answer = problem_page(request, DATABASE_GONE, 503)
    answer.headers["retry-after"] = "5"
    return answer


async def _unkeepable(request: Request, _: Exception) -> Response:
    """A page that there cannot be, or an entry that cannot be kept."""
    if request.method in ("GET", "HEAD"):
        return problem_page(request, "There is no such page.", 404)
    return problem_page(
        request, "What was entered has characters or numbers that cannot be kept. Nothing was changed.", 422
    )


async def _not_understood(request: Request, problem: Exception) -> Response:
    """An entry that is of another kind than what is asked for, such as letters for a number."""
    first = problem.errors()[0] if isinstance(problem, RequestValidationError) else {"loc": ("it",), "input": ""}
    name, entered = str(first["loc"][-1]).replace("_", " "), str(first.get("input") or "")[:60]
    message = f"“{entered}” cannot be taken for {name}" if entered else f"{name.capitalize()} is missing"
    return problem_page(request, f"{message}. Nothing was changed.", 422)


async def _not_done(request: Request, problem: Exception) -> Response:
    return problem_page(request, str(problem), 409)


async def _refused(request: Request, problem: Exception) -> Response:
    status = problem.status_code if isinstance(problem, HTTPException) else 500
    if status == 303 and isinstance(problem, HTTPException):
        return Response(status_code=303, headers=problem.headers)
    message = (
        "There is no such page." if status == 404 else "This was not done: the request is not one that is understood."
    )
    return problem_page(request, message, status)


async def _broken(request: Request, _: Exception) -> Response:
    answer = problem_page(
        request, "Something broke on our side. Nothing was lost; try it again, and tell us if it stays.", 500
    )
    answer.headers.update(HEADERS)  # this answer is made outside of what puts them on all others
    return answer
