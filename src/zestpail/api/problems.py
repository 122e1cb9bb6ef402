"""What went wrong, as Problem Details for HTTP APIs have it (RFC 9457)."""

from __future__ import annotations

from collections.abc import Callable, Coroutine, Mapping
from http import HTTPStatus
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, ConfigDict
from starlette.exceptions import HTTPException

from zestpail.desk.documents.messages import (
    BUSY,
    DATABASE_GONE,
    Busy,
    Missing,
    NotAllowed,
    NotDone,
    Outdated,
    Unkeepable,
    Unreachable,
)

MEDIA = "application/problem+json"
LATER = {"retry-after": "5"}
BROKEN = "Something broke on our side. Nothing was lost; try it again, and tell us if it stays."


class Problem(BaseModel):
    """What went wrong, as a sentence."""

    model_config = ConfigDict(json_schema_extra={"examples": [
        {"type": "about:blank", "title": "Not Found", "status": 404, "detail": "There is no such document."},
    ]})  # fmt: skip

    type: str = "about:blank"
    title: str
    """What the status says."""
    status: int
    detail: str


def problem(status: int, detail: str, headers: Mapping[str, str] | None = None) -> JSONResponse:
    """The answer that says it."""
    told = Problem(title=HTTPStatus(status).phrase, status=status, detail=detail)
    return JSONResponse(told.model_dump(), status, headers, MEDIA)


def tell_problems(app: FastAPI) -> None:
    """Whatever is raised in this application is told so."""
    for kind, status in ((Outdated, 412), (Missing, 404), (NotAllowed, 403), (NotDone, 409)):
        app.add_exception_handler(kind, _as(status))
    app.add_exception_handler(HTTPException, _refused)
    app.add_exception_handler(Unkeepable, _unkeepable)
    app.add_exception_handler(Busy, _busy)
    app.add_exception_handler(Unreachable, _unreachable)
    app.add_exception_handler(RequestValidationError, _not_understood)
    app.add_exception_handler(Exception, _broken)


def _as(status: int) -> Callable[[Request, Exception], Coroutine[Any, Any, Response]]:
    async def told(_: Request, raised: Exception) -> Response:
        return problem(status, str(raised))

    return told


async def _busy(_: Request, __: Exception) -> Response:
    return problem(409, BUSY)


async def _unreachable(_: Request, __: Exception) -> Response:
    return problem(503, DATABASE_GONE, LATER)


async def _unkeepable(request: Request, _: Exception) -> Response:
    if request.method in ("GET", "HEAD"):
        return problem(404, "There is no such thing.")
    return problem(422, "What was sent has characters or numbers that cannot be kept.")


async def _not_understood(_: Request, raised: Exception) -> Response:
    first = raised.errors()[0] if isinstance(raised, RequestValidationError) else {"loc": ("it",), "msg": ""}
    return problem(422, f"{first['loc'][-1]}: {first['msg']}.")


async def _refused(_: Request, raised: Exception) -> Response:
    if isinstance(raised, HTTPException):
        return problem(raised.status_code, str(raised.detail), raised.headers)
    return problem(500, BROKEN)


async def _broken(_: Request, __: Exception) -> Response:
    return problem(500, BROKEN)
