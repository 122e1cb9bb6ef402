"""Files that a page sends: refused where they are too large, kept one by one or piece by piece, and answered."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.responses import JSONResponse, RedirectResponse, Response
from starlette.concurrency import run_in_threadpool

from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.seeing import see_lane
from zestpail.desk.intake import chunked_upload
from zestpail.desk.intake.arrivals import may_arrive
from zestpail.desk.intake.chunked_upload import Wanted
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me, desk_of

router = APIRouter(prefix="/uploads", dependencies=OPERATORS)
MOST_PIECE = 16_000_000
"""Bytes of one piece."""


def keep_each(request: Request, files: list[UploadFile], keep: Callable[[str, bytes], object], back: str) -> Response:
    """Keep every file; a script is told what they belong to now, if ``keep`` says so, a plain form is led back.

    Raises NotDone for one that is too large.
    """
    kept: object = 0
    for file in files:
        may_arrive(file.filename or "", file.size or 0, desk_of(request).store.limits)
        kept = keep(file.filename or "", file.file.read())
    if request.headers.get("accept", "").startswith("application/json"):
        return JSONResponse({"batch": kept if isinstance(kept, int) else 0})
    return RedirectResponse(back, status_code=303)


@router.post("")
def begin(desk: Here, me: Me, wanted: Annotated[Wanted, Form()]) -> Response:
    """A large file is to come; tells by what it is known, and how much of it is there already."""
    see_lane(desk.store, wanted.lane, me.closed)
    key, there = chunked_upload.begin(desk.arriving, wanted, me.id, desk.store.limits)
    return JSONResponse({"key": key, "there": there})


@router.put("/{key}")
async def piece(request: Request, desk: Here, key: str, offset: int) -> Response:
    """A piece of the file, to follow what is there; tells how much is there then."""
    held = b""
    async for part in request.stream():
        held += part
        if len(held) > MOST_PIECE:
            raise NotDone(f"A piece has at most {MOST_PIECE // 1_000_000} MB.")
    there = await run_in_threadpool(chunked_upload.add, desk.arriving, key, offset, held)
    return JSONResponse({"there": there})


@router.post("/{key}/whole")
def whole(desk: Here, me: Me, key: str, wanted: Annotated[Wanted, Form()], batch: int | None = None) -> Response:
    """The file is whole, and arrives."""
    see_lane(desk.store, wanted.lane, me.closed)
    return JSONResponse({"batch": chunked_upload.finish(desk.store, desk.arriving, key, wanted, me.id, batch)})
