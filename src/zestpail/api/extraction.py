"""One file read by one revision of a document type, within a request or as a job."""

import re
from functools import partial
from typing import Annotated, Any

from fastapi import APIRouter, File, Header, Query, Request, Response, UploadFile
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ConfigDict

from zestpail.api.caller import Caller
from zestpail.api.waiting import Wait, waited
from zestpail.core.extraction.files import DocumentRecord
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.people.tokens import Scope
from zestpail.desk.pipeline import direct

LOOKED_AGAIN = 0.02
"""Seconds after which a waiting request looks again."""
MOST_PAGES = 500
_PAGES = re.compile(r"\s*(\d{1,5})\s*(?:-\s*(\d{1,5})\s*)?")
XML = "application/xml"
EXTRACTED: dict[str, Any] = {
    "file": "note.pdf", "pages": [1], "type": "fuel-note", "revision": 2, "tables": {}, "entries": {},
    "fields": {"vessel": {"value": "Marta Quill", "raw": "M/V Marta Quill", "confidence": 0.98, "page": 1,
                          "box": [112.0, 140.5, 201.3, 151.0], "finder": "beside:Vessel", "others": []}},
    "checks": [{"name": "needed:vessel", "passed": True, "message": "Vessel is there."}],
    "second_best": None, "problems": [],
}  # fmt: skip
"""What a file comes to that is made up, for the description of the API."""
AS_XML = """<?xml version="1.0" encoding="UTF-8"?>
<document xmlns="urn:zestpail:values:1" reference="note.pdf" type="fuel-note" revision="2">
  <field key="vessel" name="Vessel">Marta Quill</field>
</document>
"""


class Job(BaseModel):
    """A file that is still being read."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"job": 17, "state": "waiting"}]})

    job: int
    state: str = "waiting"


Revision = Annotated[int | None, Query(description="The newest where none is named; a named one never changes.")]
Pages = Annotated[str, Query(description="Such as 1,3-5; all where none are named.", max_length=200)]
Key = Annotated[str, Header(description="What this call is known by if it is made again.", examples=["note-88"],
                            max_length=200)]  # fmt: skip
_ANSWERS: dict[int | str, dict[str, Any]] = {
    200: {"content": {XML: {"schema": {"type": "string", "description": "By values.xsd."}, "example": AS_XML},
                      "application/json": {"example": EXTRACTED}}},
    202: {"model": Job, "description": "Not done yet: ask for the job.", "headers": {
        "Location": {"description": "The job's address.", "schema": {"type": "string"}},
        "Retry-After": {"description": "Seconds.", "schema": {"type": "integer"}},
    }},
}  # fmt: skip


def extraction(desk: Desk) -> APIRouter:
    """The routes, for this desk."""
    router = APIRouter(tags=["Direct extraction"])

    @router.post("/types/{key}/extract", response_model=DocumentRecord, responses=_ANSWERS)
    async def extract_from_a_file(
        request: Request, caller: Caller, key: str, file: Annotated[UploadFile, File()],
        revision: Revision = None, pages: Pages = "", wait: Wait = 20, idempotency_key: Key = "",
    ) -> Response:  # fmt: skip
        """Read one PDF or picture and answer its values with confidence, place and checks.

        The file is forgotten as soon as it is read, the answer after a day.

        What takes longer than ``wait`` is answered with 202 and the address of the job. With ``Accept:
        application/xml`` the values are answered as XML. Sent again with the same ``Idempotency-Key`` within a day it
        is not read twice.
        """
        caller.must_have(Scope.EXTRACT)
        asked = direct.Asked(
            key, revision, file.filename or "file", await file.read(), _numbers(pages), idempotency_key
        )
        number = await run_in_threadpool(direct.ask, desk.store, caller.id, asked)
        ask = partial(direct.answer, desk.store, number, caller.id)
        found = await waited(ask, lambda one: not one.pending, wait, LOOKED_AGAIN)
        return await run_in_threadpool(_told, request, desk, found)

    @router.get("/jobs/{job}", response_model=DocumentRecord, responses=_ANSWERS)
    async def what_came_of_a_job(request: Request, caller: Caller, job: int, wait: Wait = 0) -> Response:
        """What came of a file that took longer: 202 as long as it is being read. Kept for a day."""
        caller.must_have(Scope.EXTRACT)
        ask = partial(direct.answer, desk.store, job, caller.id)
        found = await waited(ask, lambda one: not one.pending, wait, LOOKED_AGAIN)
        return await run_in_threadpool(_told, request, desk, found)

    return router


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
