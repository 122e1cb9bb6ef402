"""One file read by one revision of a document type, within a request or as a job."""

import asyncio
import re
import time
from typing import Annotated, Any

from fastapi import APIRouter, File, Query, Request, Response, UploadFile
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse
from pydantic import BaseModel

from zestpail.core.extraction.files import DocumentRecord
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.people.tokens import Holder, Scope
from zestpail.desk.pipeline import direct

MOST_WAIT, LOOKED_AGAIN = 60.0, 0.05
"""Seconds that a request waits at most, and after which it looks again."""
MOST_PAGES = 500
_PAGES = re.compile(r"\s*(\d{1,5})\s*(?:-\s*(\d{1,5})\s*)?")
XML = "application/xml"


class TypeLine(BaseModel):
    """A document type, and its newest published revision."""

    key: str
    name: str
    revision: int


class Job(BaseModel):
    """A file that is still being read."""

    job: int
    state: str = "waiting"


Revision = Annotated[int | None, Query(description="The newest where none is named; a named one never changes.")]
Pages = Annotated[str, Query(description="Such as 1,3-5; all where none are named.", max_length=200)]
Wait = Annotated[float, Query(description="Seconds to wait for the values.", ge=0, le=MOST_WAIT)]


def extraction(desk: Desk) -> APIRouter:
    """The routes, for this desk."""
    router = APIRouter()

    @router.get("/types")
    def types(request: Request) -> list[TypeLine]:
        """All document types that have a published revision."""
        _holder(request)
        return [
            TypeLine(key=key, name=name, revision=number) for key, name, number in direct.types_there_are(desk.store)
        ]

    @router.get("/types/{key}/revisions/{revision}")
    def revision(request: Request, key: str, revision: int) -> dict[str, Any]:
        """A published revision as a document type's file: it never changes."""
        _holder(request)
        return direct.revision_of(desk.store, key, revision).model_dump(mode="json")

    @router.post(
        "/types/{key}/extract", response_model=DocumentRecord,
        responses={200: {"content": {XML: {}}}, 202: {"model": Job, "description": "Not done yet: ask for the job."}},
    )  # fmt: skip
    async def extract(
        request: Request, key: str, file: Annotated[UploadFile, File()],
        revision: Revision = None, pages: Pages = "", wait: Wait = 20,
    ) -> Response:  # fmt: skip
        """Read one PDF or picture and answer its values with confidence, place and checks.

        The file is forgotten as soon as it is read, the answer after a day.

        What takes longer than ``wait`` is answered with 202 and the address of the job. With ``Accept:
        application/xml`` the values are answered as XML.
        """
        holder = _holder(request)
        asked = direct.Asked(key, revision, file.filename or "file", await file.read(), _numbers(pages))
        number = await run_in_threadpool(direct.ask, desk.store, holder.id, asked)
        until = time.monotonic() + wait
        found = await run_in_threadpool(direct.answer, desk.store, number, holder.id)
        while found.pending and time.monotonic() < until:  # no thread is held meanwhile
            await asyncio.sleep(LOOKED_AGAIN)
            found = await run_in_threadpool(direct.answer, desk.store, number, holder.id)
        return await run_in_threadpool(_told, request, desk, found)

    @router.get("/jobs/{job}", response_model=DocumentRecord, responses={202: {"model": Job}})
    def job(request: Request, job: int) -> Response:
        """What came of a file that took longer: 202 as long as it is being read. Kept for a day."""
        return _told(request, desk, direct.answer(desk.store, job, _holder(request).id))

    return router


def _holder(request: Request) -> Holder:
    holder: Holder = request.state.holder
    holder.must_have(Scope.EXTRACT)
    return holder


def _told(request: Request, desk: Desk, found: direct.Answer) -> Response:
    if found.problem:
        raise NotDone(found.problem)
    if found.record is None:
        address = f"{request.scope['root_path']}/jobs/{found.id}"
        return JSONResponse(Job(job=found.id).model_dump(), 202, {"location": address, "retry-after": "1"})
    if XML in request.headers.get("accept", ""):
        return Response(direct.as_xml(desk.store, found.record), media_type=XML)
    return Response(found.record.model_dump_json(), media_type="application/json")


def _numbers(text: str) -> tuple[int, ...]:
    """“1,3-5” as numbers of pages. Raises NotDone."""
    found: list[int] = []
    for piece in filter(str.strip, text.split(",")):
        numbers = _PAGES.fullmatch(piece)
        first = int(numbers[1]) if numbers else 0
        last = int(numbers[2] or first) if numbers else 0
        if not 1 <= first <= last < first + MOST_PAGES:
            raise NotDone(f"“{piece.strip()[:40]}” are no pages: say them as 1,3-5.")
        found += range(first, last + 1)
    return tuple(dict.fromkeys(found))[:MOST_PAGES]
