"""Files sent to lanes, and how the batches stand that they became."""

from __future__ import annotations

from datetime import datetime
from functools import partial
from typing import Annotated

from fastapi import APIRouter, File, Header, UploadFile
from pydantic import BaseModel, ConfigDict

from zestpail.api.caller import Caller
from zestpail.api.waiting import Wait, waited
from zestpail.desk.batches.batch import BatchView, batch_view
from zestpail.desk.documents.context import lane_names
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.intake.arrivals import arrive_once, may_arrive
from zestpail.desk.people.tokens import Holder, Scope
from zestpail.desk.programs.openness import AT_REST

CHANNEL = "HTTP API"
LOOKED_AGAIN = 0.5
"""Seconds after which a waiting request looks again."""
Key = Annotated[str, Header(description="What the file is known by if it is sent again.", examples=["scan-0412"],
                            max_length=200)]  # fmt: skip


class LaneLine(BaseModel):
    """A lane that the token is for."""

    model_config = ConfigDict(json_schema_extra={"examples": [
        {"key": "supplier-invoices", "name": "Supplier invoices"},
    ]})  # fmt: skip

    key: str
    name: str


class FileTaken(BaseModel):
    """A file that is kept."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"batch": 12, "again": False, "said": ""}]})

    batch: int
    again: bool = False
    """Whether it had come before and was not taken twice."""
    said: str = ""


class DocumentStanding(BaseModel):
    """One document of a batch."""

    id: int
    type: str
    state: str
    """Its code, such as ``review``."""
    values: dict[str, str]
    """By the names of its fields, as they are shown."""
    file: str | None
    """As what it was delivered."""


class BatchStanding(BaseModel):
    """How a batch stands."""

    model_config = ConfigDict(json_schema_extra={"examples": [{
        "id": 12, "lane": "supplier-invoices", "arrived_at": "2026-11-30T09:12:00Z", "at_rest": True, "problems": [],
        "documents": [{"id": 37, "type": "Supplier invoice", "state": "delivered",
                       "values": {"Grand total": "12,125.82"}, "file": "invoices/2026/RE-40-0420.pdf"}],
    }]})  # fmt: skip

    id: int
    lane: str
    arrived_at: datetime
    at_rest: bool
    """Whether nothing of it is being read, and no person must look at any of it."""
    problems: list[str]
    """Why files could not be read."""
    documents: list[DocumentStanding]


def lanes(desk: Desk) -> APIRouter:
    """The routes, for this desk."""
    router = APIRouter(tags=["Lanes"])

    @router.get("/lanes")
    def every_lane(caller: Caller) -> list[LaneLine]:
        """All lanes that the token is for."""
        names = lane_names(desk.store)
        return [LaneLine(key=key, name=name) for key, name in names.items() if not caller.lanes or key in caller.lanes]

    @router.post("/lanes/{lane}/files", status_code=201)
    def send_file(
        caller: Caller, lane: str, file: Annotated[UploadFile, File()], idempotency_key: Key = ""
    ) -> FileTaken:
        """Send one file to a lane. Answered when it is safe; the same key, or the same bytes, are not taken twice.

        Keys are each token's own; other bytes under a known key are refused with 409.
        """
        caller.must_have(Scope.SEND, lane)
        name = file.filename or ""
        may_arrive(name, file.size or 0, desk.store.limits)
        data = file.file.read()
        identity = f"{caller.id} {idempotency_key}" if idempotency_key else ""
        batch, before = arrive_once(desk.store, lane, name, data, CHANNEL, identity, only_content=True)
        return FileTaken(batch=batch, again=bool(before), said=before)

    @router.get("/batches/{batch}")
    async def how_a_batch_stands(caller: Caller, batch: int, wait: Wait = 0) -> BatchStanding:
        """How a batch stands, with the values of its documents as they are now.

        With ``wait`` it is answered as soon as the batch is at rest: read, and reviewed where that was needed.
        """
        return await waited(partial(_standing, desk, caller, batch), lambda told: told.at_rest, wait, LOOKED_AGAIN)

    return router


def _standing(desk: Desk, caller: Holder, batch: int) -> BatchStanding:
    caller.must_have(Scope.READ)
    view = batch_view(desk.store, batch)
    caller.must_have(Scope.READ, view.lane_key)
    return BatchStanding(
        id=view.id, lane=view.lane_key, arrived_at=view.arrived_at, at_rest=_at_rest(view),
        problems=[file.problem for file in view.files if file.problem],
        documents=[
            DocumentStanding(id=one.id, type=one.type_name, state=one.state, values=dict(one.values),
                             file=next((receipt.file for receipt in one.receipts if receipt.file), None))
            for one in view.documents
        ],
    )  # fmt: skip


def _at_rest(view: BatchView) -> bool:
    done = all(one.state in AT_REST for one in view.documents)
    return done and all(file.documents or file.problem or file.unpacked or file.laid_elsewhere for file in view.files)
