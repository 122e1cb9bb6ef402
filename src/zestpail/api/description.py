"""The API's description (OpenAPI 3.1), with an example of every answer."""

from __future__ import annotations

from collections.abc import Iterator
from http import HTTPStatus
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

from zestpail.api.problems import MEDIA, Problem

ABOUT = """
Programs send files to lanes, have single files read by a document type, and fetch what became of them.

Each request has a token, made under *API access*, as `Authorization: Bearer …`. What goes wrong is told as
`application/problem+json` (RFC 9457), with a sentence in `detail`. Whoever calls too often is told so with 429, and
after how many seconds to call again in `Retry-After`. Numbers of pages begin at 1; boxes are left, top, right and
bottom in points (72 to the inch), from the upper left corner of the page as it was prepared.
"""
PROBLEMS = {
    400: "What was sent cannot be read.",
    401: "There is no token, or it is not known.",
    403: "The token is not for this, or not for this lane.",
    404: "There is no such thing.",
    405: "This cannot be done here.",
    409: "It was not done; the sentence says why.",
    412: "Somebody else changed it since the ETag was given out.",
    413: "What was sent is larger than anything that is taken.",
    422: "What was sent is not understood.",
    429: "Too many calls: call again after the seconds in Retry-After.",
    503: "The database does not answer at the moment.",
}
REFERENCE = "#/components/schemas/"


IN_PATHS: dict[str, Any] = {
    "lane": "supplier-invoices", "batch": 12, "document": 37, "number": 1, "form": "pdf_a", "key": "fuel-note",
    "revision": 2, "job": 17,
}  # fmt: skip
"""An example of each thing that an address names."""


def described(app: FastAPI) -> dict[str, Any]:
    """The description of the API, made once."""
    if app.openapi_schema is None:
        told = get_openapi(title=app.title, version=app.version, description=ABOUT, routes=app.routes, tags=TAGS)
        told["servers"] = [{"url": "/api/v1"}]
        told["components"]["schemas"]["Problem"] = Problem.model_json_schema()
        for name in ("HTTPValidationError", "ValidationError"):
            told["components"]["schemas"].pop(name, None)
        for operation in operations(told):
            operation["summary"] = operation["operationId"].replace("_", " ").capitalize()
            _say_problems(operation)
            _show(operation, told["components"]["schemas"])
        app.openapi_schema = told
    return app.openapi_schema


TAGS = [
    {"name": "Lanes", "description": "Files are sent to a lane, and become batches of documents."},
    {"name": "Direct extraction", "description": "One file is read by one document type, without a lane."},
    {"name": "Documents", "description": "What became of files: values with their places, pages, files, deliveries."},
    {"name": "News", "description": "What happened, in one order."},
    {"name": "Document types", "description": "What is found on a kind of document, and how."},
]


def operations(told: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """Each operation of a description."""
    for path in told["paths"].values():
        yield from (one for name, one in path.items() if name in ("get", "post", "put", "delete", "patch"))


def _say_problems(operation: dict[str, Any]) -> None:
    answers = operation["responses"]
    for answer in answers.values():
        if answer["description"] == "Successful Response":
            answer["description"] = "Done."
    for status, says in PROBLEMS.items():
        content = {MEDIA: {"schema": {"$ref": f"{REFERENCE}Problem"}, "example": _problem(status, says)}}
        answers[str(status)] = {"description": says, "content": content}
    answers["429"]["headers"] = answers["503"]["headers"] = {
        "Retry-After": {"description": "Seconds.", "schema": {"type": "integer"}, "example": 3}
    }


def _problem(status: int, says: str) -> dict[str, Any]:
    return Problem(title=HTTPStatus(status).phrase, status=status, detail=says).model_dump()


def _show(operation: dict[str, Any], schemas: dict[str, Any]) -> None:
    """Put the example of each model beside the answers that are of it, and those of parameters where they belong."""
    for parameter in operation.get("parameters", ()):
        if parameter["in"] == "path":
            parameter["example"] = IN_PATHS[parameter["name"]]
    contents = [answer.get("content", {}) for status, answer in operation["responses"].items() if status[0] == "2"]
    contents.append(operation.get("requestBody", {}).get("content", {}))
    for content in contents:
        for media, of in content.items():
            example = _example(of.get("schema", {}), schemas)
            if example is not None and media == "application/json":
                of.setdefault("example", example)


def _example(schema: dict[str, Any], schemas: dict[str, Any]) -> Any:
    if "$ref" in schema:
        return _example(schemas[schema["$ref"].removeprefix(REFERENCE)], schemas)
    if schema.get("examples"):
        return schema["examples"][0]
    if schema.get("type") == "array":
        one = _example(schema["items"], schemas)
        return None if one is None else [one]
    return None
