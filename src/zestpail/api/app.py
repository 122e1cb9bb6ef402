"""Files sent to a lane by programs, and how they stand. Its description is at ``/api/v1/openapi.json``."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from fastapi import Depends, FastAPI, File, Header, Request, UploadFile
from fastapi.concurrency import run_in_threadpool
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from fastapi.security import HTTPAuthorizationCredentials, HTTPBearer
from pydantic import BaseModel
from starlette.datastructures import Headers
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Receive, Send
from starlette.types import Scope as Connection

from zestpail.api.extraction import extraction
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.documents.context import lane_keys
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
from zestpail.desk.intake.arrivals import arrive_once, may_arrive
from zestpail.desk.people.tokens import Holder, Scope, holder_of

CHANNEL = "HTTP API"
NO_TOKEN = "A token is needed, as “Authorization: Bearer …”."  # noqa: S105 - a sentence
_bearer = HTTPBearer(auto_error=False, description="A token made under API access.")


class Taken(BaseModel):
    """A file that is kept."""

    batch: int
    again: bool = False
    """Whether it had come before and was not taken twice."""
    said: str = ""


class DocumentStanding(BaseModel):
    """One document of a batch."""

    id: int
    type: str
    state: str
    values: dict[str, str]
    file: str | None
    """As what it was delivered."""


class BatchStanding(BaseModel):
    """How a batch stands."""

    id: int
    lane: str
    arrived_at: datetime
    problems: list[str]
    """Why files could not be read."""
    documents: list[DocumentStanding]


class Problem(BaseModel):
    """What went wrong, as a sentence."""

    problem: str


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
            return JSONResponse({"problem": DATABASE_GONE}, 503, {"retry-after": "5", "connection": "close"})
        return JSONResponse({"problem": NO_TOKEN}, 401, {"www-authenticate": "Bearer", "connection": "close"})


def create_api(desk: Desk) -> FastAPI:
    """The API for this desk, to be mounted."""

    def known(request: Request, given: Annotated[HTTPAuthorizationCredentials | None, Depends(_bearer)]) -> None:
        holder = holder_of(desk.store, given.credentials) if given else None
        if holder is None:
            raise HTTPException(401, NO_TOKEN, {"www-authenticate": "Bearer"})
        request.state.holder = holder

    app = FastAPI(
        title="Zest Pail", version="1", docs_url=None, redoc_url=None, dependencies=[Depends(known)],
        max_body_size=desk.store.limits.max_bytes + 1_000_000,
        responses={code: {"model": Problem} for code in (401, 403, 404, 409, 422)},
    )  # fmt: skip

    @app.get("/lanes")
    def lanes(request: Request) -> list[str]:
        """The keys of all lanes that the token is for."""
        holder: Holder = request.state.holder
        return [key for key in lane_keys(desk.store) if not holder.lanes or key in holder.lanes]

    @app.post("/lanes/{lane}/files", status_code=201)
    def send(
        request: Request, lane: str, file: Annotated[UploadFile, File()],
        idempotency_key: Annotated[str, Header(description="What the file is known by if it is sent again.")] = "",
    ) -> Taken:  # fmt: skip
        """Send one file to a lane. Answered when it is safe; the same key, or the same bytes, are not taken twice.

        Keys are each token's own; other bytes under a known key are refused with 409.
        """
        holder: Holder = request.state.holder
        holder.must_have(Scope.SEND, lane)
        name = file.filename or ""
        may_arrive(name, file.size or 0, desk.store.limits)
        data = file.file.read()
        identity = f"{holder.id} {idempotency_key}" if idempotency_key else ""
        batch, before = arrive_once(desk.store, lane, name, data, CHANNEL, identity, only_content=True)
        return Taken(batch=batch, again=bool(before), said=before)

    @app.get("/batches/{batch}")
    def standing(request: Request, batch: int) -> BatchStanding:
        """How a batch stands, with the values of its documents as they are now."""
        holder: Holder = request.state.holder
        holder.must_have(Scope.READ)
        view = batch_view(desk.store, batch)
        holder.must_have(Scope.READ, view.lane_key)
        return BatchStanding(
            id=view.id, lane=view.lane_name, arrived_at=view.arrived_at,
            problems=[file.problem for file in view.files if file.problem],
            documents=[
                DocumentStanding(id=one.id, type=one.type_name, state=one.words, values=dict(one.values),
                                 file=next((receipt.file for receipt in one.receipts if receipt.file), None))
                for one in view.documents
            ],
        )  # fmt: skip

    app.include_router(extraction(desk))
    app.add_middleware(TokenFirst, desk=desk)
    app.add_exception_handler(Missing, _missing)
    app.add_exception_handler(NotAllowed, _not_allowed)
    app.add_exception_handler(NotDone, _not_done)
    app.add_exception_handler(HTTPException, _refused)
    app.add_exception_handler(Unkeepable, _unkeepable)
    app.add_exception_handler(Busy, _busy)
    app.add_exception_handler(Unreachable, _unreachable)
    app.add_exception_handler(RequestValidationError, _not_understood)
    app.add_exception_handler(Exception, _broken)
    return app


async def _missing(_: Request, problem: Exception) -> Response:
    return JSONResponse({"problem": str(problem)}, 404)


async def _not_allowed(_: Request, problem: Exception) -> Response:
    return JSONResponse({"problem": str(problem)}, 403)


async def _not_done(_: Request, problem: Exception) -> Response:
    return JSONResponse({"problem": str(problem)}, 409)


async def _busy(_: Request, __: Exception) -> Response:
    return JSONResponse({"problem": BUSY}, 409)


async def _unreachable(_: Request, __: Exception) -> Response:
    headers = {"retry-after": "5"}
    return JSONResponse({"problem": DATABASE_GONE}, 503, headers)


async def _unkeepable(request: Request, _: Exception) -> Response:
    if request.method in ("GET", "HEAD"):
        return JSONResponse({"problem": "There is no such thing."}, 404)
    return JSONResponse({"problem": "What was sent has characters or numbers that cannot be kept."}, 422)


async def _not_understood(_: Request, problem: Exception) -> Response:
    first = problem.errors()[0] if isinstance(problem, RequestValidationError) else {"loc": ("it",), "msg": ""}
    return JSONResponse({"problem": f"{first['loc'][-1]}: {first['msg']}."}, 422)


async def _refused(_: Request, problem: Exception) -> Response:
    said, headers = (problem.status_code, problem.headers) if isinstance(problem, HTTPException) else (500, None)
    return JSONResponse({"problem": getattr(problem, "detail", "Something broke on our side.")}, said, headers)


async def _broken(_: Request, __: Exception) -> Response:
    said = "Something broke on our side. Nothing was lost; try it again, and tell us if it stays."
    return JSONResponse({"problem": said}, 500)
