"""Documents with their values, pages, files and deliveries."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from functools import partial
from typing import Annotated, Any

from fastapi import APIRouter, Header, Query
from fastapi.exceptions import RequestValidationError
from fastapi.responses import Response
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from zestpail.api.caller import Caller
from zestpail.api.waiting import Wait, waited
from zestpail.core.writing.renditions import Rendition, media_type, media_types
from zestpail.desk.archive.search import Wanted
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.page_images import page_picture
from zestpail.desk.documents.page_readings import page_words
from zestpail.desk.programs.documents import (
    DeliveryTold,
    DocumentTold,
    deliveries_told,
    document_told,
    file_of,
    page_of,
)
from zestpail.desk.programs.lists import DocumentList, Listed, documents_listed
from zestpail.desk.programs.news import give_back, take
from zestpail.desk.programs.openness import AT_REST, DocumentState

LOOKED_AGAIN = 0.5
"""Seconds after which a waiting request looks again."""
MOST_LISTED = 200
Seen = Annotated[str, Header(description="The ETag of what is there already.", examples=['"5"'])]


class Reference(BaseModel):
    """What the program calls the document."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"reference": "VOUCHER-88231"}]})

    reference: str = Field("", max_length=200)


class WordTold(BaseModel):
    """A word, and its box in points."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"text": "Invoice", "box": [56.7, 80.1, 98.2, 91.0]}]})

    text: str
    box: list[float]


class Searched(BaseModel):
    """What documents are looked for; what is left out narrows nothing."""

    words: str = Field("", max_length=400, examples=["anti-foul* paint"])
    lane: str = Field("", max_length=200)
    type: str = Field("", max_length=200, examples=["supplier-invoice"])
    state: DocumentState | None = None
    settled: bool = Field(False, description="Only those whose values stand.")
    taken: bool | None = Field(None, description="false: only those that this token did not mark as taken.")
    party: str = Field("", max_length=200, examples=["Ateliers"])
    since: date | None = Field(None, examples=["2026-08-01"])
    until: date | None = None
    least: Decimal | None = Field(None, examples=[100], max_digits=17, decimal_places=4)
    most: Decimal | None = Field(None, max_digits=17, decimal_places=4)
    field: str = Field("", max_length=200, description="A field whose value begins with `value`.")
    value: str = Field("", max_length=200)
    lowest: str = Field("", max_length=40, description="The field's least value: a day or a number.")
    highest: str = Field("", max_length=40)
    before: int | None = Field(None, ge=1, le=2**31 - 1, description="`next` of the page before.")
    limit: int = Field(50, ge=1, le=MOST_LISTED)


def documents(desk: Desk) -> APIRouter:
    """The routes, for this desk."""
    router = APIRouter(tags=["Documents"])

    @router.get("/documents")
    def search_documents(caller: Caller, searched: Annotated[Searched, Query()]) -> DocumentList:
        """Documents, the newest first, searched by words and narrowed as in the archive; a page at a time."""
        told = searched.model_dump(exclude={"settled", "taken", "limit", "state"})
        try:
            wanted = Wanted(**told, state=searched.state or "")
        except ValidationError as problem:
            raise RequestValidationError(problem.errors()) from problem
        listed = Listed(wanted, searched.limit, searched.settled, searched.taken is False)
        return documents_listed(desk.store, caller, listed)

    @router.get("/documents/{document}", responses={304: {"description": "It is as it was."}})
    async def a_document(
        caller: Caller, document: int, response: Response, wait: Wait = 0, if_none_match: Seen = ""
    ) -> DocumentTold:
        """Everything of one document: values, rows and checks with their places, how it stands, its deliveries.

        With ``wait`` it is answered as soon as its values stand.
        """
        ask = partial(document_told, desk.store, caller, document)
        told = await waited(ask, lambda one: one.state in AT_REST, wait, LOOKED_AGAIN)
        response.headers["etag"] = tag = f'"{told.version}"'
        return Response(status_code=304, headers={"etag": tag}) if if_none_match == tag else told  # type: ignore[return-value]

    @router.get("/documents/{document}/pages/{number}/image", response_class=Response, responses=_bytes("image/jpeg"))
    def picture_of_a_page(
        caller: Caller, document: int, number: int,
        width: Annotated[int, Query(ge=1, le=10_000, description="Least width in pixels.", examples=[1200])] = 1200,
    ) -> Response:  # fmt: skip
        """A page, from 1, as JPEG."""
        page = page_of(desk.store, caller, document, number)
        return Response(page_picture(desk.store, page, width), media_type="image/jpeg")

    @router.get("/documents/{document}/pages/{number}/words")
    def words_of_a_page(caller: Caller, document: int, number: int) -> list[WordTold]:
        """What was read off a page, from 1: its words in reading order, each with its box."""
        page = page_of(desk.store, caller, document, number)
        return [WordTold(text=text, box=list(box)) for text, *box in page_words(desk.store, page)]

    @router.get("/documents/{document}/files/{form}", response_class=Response, responses=_bytes(*media_types()))
    def file_of_a_document(caller: Caller, document: int, form: Rendition) -> Response:
        """The document as a file, as it stands now, with what is blacked out and noted on it."""
        file = file_of(desk.store, caller, document, form)
        name = {"content-disposition": f'attachment; filename="{file.name}"'}
        return Response(file.data, media_type=media_type(file.name), headers=name)

    @router.get("/documents/{document}/deliveries")
    def deliveries_of_a_document(caller: Caller, document: int) -> list[DeliveryTold]:
        """Its hand-overs of all versions, with receipts."""
        return deliveries_told(desk.store, caller, document)

    @router.put("/documents/{document}/taken", status_code=204)
    def mark_as_taken(caller: Caller, document: int, told: Reference) -> None:
        """Say that the program has the document; it is not listed with ``taken=false`` until it is settled anew."""
        take(desk.store, caller, document, told.reference)

    @router.delete("/documents/{document}/taken", status_code=204)
    def mark_as_not_taken(caller: Caller, document: int) -> None:
        """Take that back."""
        give_back(desk.store, caller, document)

    return router


def _bytes(*media: str) -> dict[int | str, dict[str, Any]]:
    """An answer that is a file, as it is described."""
    return {200: {"content": {one: {"schema": {"type": "string", "format": "binary"}} for one in media}}}
