"""The API's description as a page to read: made of the same OpenAPI document, with nothing fetched from elsewhere."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any, NamedTuple

from fastapi import FastAPI, Request
from fastapi.responses import HTMLResponse
from jinja2 import Environment, FileSystemLoader, StrictUndefined, select_autoescape
from markdown_it import MarkdownIt
from markupsafe import Markup

from zestpail.api.description import REFERENCE

_markdown = MarkdownIt("commonmark", {"html": False})
_pages = Environment(
    loader=FileSystemLoader(Path(__file__).parent), autoescape=select_autoescape(), undefined=StrictUndefined
)


class Parameter(NamedTuple):
    """What a request can say besides its body."""

    name: str
    place: str
    """``path``, ``query`` or ``header``."""
    needed: bool
    kind: str
    says: str
    example: str


class Answer(NamedTuple):
    status: str
    says: str
    media: str
    example: str


class Operation(NamedTuple):
    """One request that can be made."""

    id: str
    tag: str
    method: str
    path: str
    title: str
    says: Markup
    parameters: list[Parameter]
    sent: list[Answer]
    """What is sent with it; its status is empty."""
    answers: list[Answer]


def serve_reference(app: FastAPI) -> None:
    """The page, at ``/reference``; like the description itself it needs no token."""

    def page(request: Request) -> HTMLResponse:
        told = app.openapi()
        shown = _pages.get_template("reference.html").render(
            about=_said(told["info"]["description"]), tags=told["tags"], operations=list(operations_shown(told)),
            root=request.scope["root_path"],
        )  # fmt: skip
        return HTMLResponse(shown)

    app.add_route("/reference", page, include_in_schema=False)


def operations_shown(told: dict[str, Any]) -> Iterator[Operation]:
    """The operations of a description, as they are shown."""
    for path, methods in told["paths"].items():
        for method, one in methods.items():
            answers = [a for status, answer in one["responses"].items() if status[0] in "23"
                       for a in _answers(status, answer)]  # fmt: skip
            yield Operation(
                one["operationId"], one["tags"][0], method.upper(), path, one["summary"], _said(one["description"]),
                [_parameter(each) for each in one.get("parameters", ())],
                list(_answers("", one.get("requestBody", {}))), answers,
            )  # fmt: skip


def _parameter(one: dict[str, Any]) -> Parameter:
    schema = one["schema"]
    examples = [one.get("example"), *schema.get("examples", ()), *_options(schema)]
    shown = next((str(example) for example in examples if example is not None), "")
    says = one.get("description") or schema.get("description") or ""
    return Parameter(one["name"], one["in"], one.get("required", False), _kind(schema), says, shown)


def _options(schema: dict[str, Any]) -> list[Any]:
    return [example for one in schema.get("anyOf", ()) for example in one.get("examples", ())]


def _kind(schema: dict[str, Any]) -> str:
    """What a value is, in a few words."""
    if "$ref" in schema:
        return str(schema["$ref"]).removeprefix(REFERENCE)
    if "anyOf" in schema:
        return " or ".join(kind for one in schema["anyOf"] if (kind := _kind(one)) != "null")
    if schema.get("type") == "array":
        return f"several of {_kind(schema['items'])}"
    return str(schema.get("format") or schema.get("type") or "anything")


def _answers(status: str, answer: dict[str, Any]) -> Iterator[Answer]:
    says = answer.get("description", "")
    if not answer.get("content"):
        if status:
            yield Answer(status, says, "", "")
        return
    for media, of in answer["content"].items():
        example = of.get("example", "")
        yield Answer(status, says, media, example if isinstance(example, str) else json.dumps(example, indent=2))


def _said(text: str) -> Markup:
    return Markup(_markdown.render(text))  # noqa: S704 - of our own words, and HTML in it is shown as text
