"""Document types and their revisions: read, imported, published."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter, Body, Header, Response
from pydantic import BaseModel, ConfigDict, Field

from zestpail.api.caller import Caller
from zestpail.core.document_type import DocumentType
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.people.tokens import Holder, Scope
from zestpail.desk.pipeline import direct
from zestpail.desk.programs.types import TypeDraftTold, begin, draft_told, publish, replace, revisions_told

TYPE: dict[str, Any] = {
    "key": "fuel-note", "name": "Fuel delivery note",
    "fields": [{"key": "vessel", "name": "Vessel", "kind": {"kind": "text"}, "finders": []}],
}  # fmt: skip
"""A document type that is made up, for the description of the API."""
AS_FILE: dict[int | str, dict[str, Any]] = {200: {"content": {"application/json": {"example": TYPE}}}}
TypeBody = Annotated[dict[str, Any], Body(description="A document type's file, as it is exported.", examples=[TYPE])]
Draft = Annotated[str, Header(description="The ETag of the draft that is replaced.", examples=['"4"'])]


class TypeLine(BaseModel):
    """A document type, and its newest published revision."""

    model_config = ConfigDict(json_schema_extra={"examples": [
        {"key": "supplier-invoice", "name": "Supplier invoice", "revision": 3},
    ]})  # fmt: skip

    key: str
    name: str
    revision: int


class RevisionLine(BaseModel):
    """A published revision."""

    model_config = ConfigDict(json_schema_extra={"examples": [
        {"revision": 3, "note": "Freight is found too", "published_at": "2026-11-02T08:00:00Z", "by": "Ines Okafor"},
    ]})  # fmt: skip

    revision: int
    note: str
    published_at: datetime
    by: str | None


class Begun(BaseModel):
    """A type that was begun as a draft."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"key": "fuel-note"}]})

    key: str
    """Another one than in the file where that was taken."""


class Note(BaseModel):
    """What a revision is published for."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"note": "Freight is found too"}]})

    note: str = Field("", max_length=400)


class Published(BaseModel):
    """The number of the new revision."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"revision": 4}]})

    revision: int


def types(desk: Desk) -> APIRouter:
    """The routes, for this desk."""
    router = APIRouter(tags=["Document types"])

    @router.get("/types")
    def every_type(caller: Caller) -> list[TypeLine]:
        """All document types that have a published revision."""
        _may_see(caller)
        return [
            TypeLine(key=key, name=name, revision=number) for key, name, number in direct.types_there_are(desk.store)
        ]

    @router.post("/types", status_code=201)
    def import_a_type(caller: Caller, body: TypeBody) -> Begun:
        """Begin a type as a draft, from a file; under another key where its own is taken."""
        return Begun(key=begin(desk.store, caller, body))

    @router.get("/types/{key}/draft", responses=AS_FILE)
    def the_draft_of_a_type(caller: Caller, key: str, response: Response) -> dict[str, Any]:
        """The type as it is being worked on, as its file."""
        return _tagged(response, draft_told(desk.store, caller, key))

    @router.put("/types/{key}/draft", responses=AS_FILE)
    def replace_the_draft(
        caller: Caller, key: str, body: TypeBody, response: Response, if_match: Draft
    ) -> dict[str, Any]:
        """Make the draft what the file says; undone on the type's bench like any other change.

        Refused with 412 where somebody else changed it since the ETag was given out.
        """
        version = if_match.strip('W/"')
        if not version.isdecimal() or int(version) >= 2**31:
            raise NotDone("If-Match is no ETag of a draft.")
        return _tagged(response, replace(desk.store, caller, key, int(version), body))

    @router.get("/types/{key}/revisions")
    def revisions_of_a_type(caller: Caller, key: str) -> list[RevisionLine]:
        """Its published revisions, the newest first."""
        _may_see(caller)
        return [RevisionLine(revision=one.number, note=one.note, published_at=one.published_at, by=one.person)
                for one in revisions_told(desk.store, key)]  # fmt: skip

    @router.post("/types/{key}/revisions", status_code=201)
    def publish_the_draft(caller: Caller, key: str, told: Note) -> Published:
        """Freeze the draft as the next revision; lanes go on with the one that they name."""
        return Published(revision=publish(desk.store, caller, key, told.note))

    @router.get("/types/{key}/revisions/{revision}", responses=AS_FILE)
    def a_revision(caller: Caller, key: str, revision: int) -> dict[str, Any]:
        """A published revision as a document type's file: it never changes."""
        _may_see(caller)
        return direct.revision_of(desk.store, key, revision).model_dump(mode="json")

    return router


def _may_see(caller: Holder) -> None:
    if Scope.SET_UP not in caller.scopes:
        caller.must_have(Scope.EXTRACT)


def _tagged(response: Response, draft: TypeDraftTold) -> dict[str, Any]:
    response.headers["etag"] = f'"{draft.version}"'
    return _file(draft.doc_type)


def _file(doc_type: DocumentType) -> dict[str, Any]:
    return doc_type.model_dump(mode="json")
