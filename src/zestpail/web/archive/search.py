"""The archive: documents found again by words, and narrowed."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Query, Request
from fastapi.responses import RedirectResponse, Response
from pydantic import TypeAdapter, ValidationError

from zestpail.desk.archive.choices import choices
from zestpail.desk.archive.marked import marked_strip
from zestpail.desk.archive.search import Results, Wanted, find_batch, search
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(dependencies=OPERATORS)
_WANTED = TypeAdapter(Wanted)


@router.get("/archive")
def find(request: Request, desk: Here, me: Me) -> Response:
    """What was looked for, by words and by all else; what is no day and no amount narrows nothing, and is told."""
    wanted, wrong = _wanted(dict(request.query_params))
    asked = bool(wanted.words.strip() or wanted.narrowed)
    results = search(desk.store, wanted, me.closed) if asked else Results([])
    batch = find_batch(desk.store, wanted.words, me.closed) if wanted.words else None
    older = urlencode({**wanted.model_dump(exclude_defaults=True), "before": results.next}) if results.next else ""
    return place(
        request, "archive/archive.html", words=wanted.words, wanted=wanted, results=results, batch=batch, asked=asked,
        choices=choices(desk.store, wanted.type, me.closed), older=older, wrong=wrong,
        also=urlencode([("also", word) for words in results.alike.values() for word in words]),
    )  # fmt: skip


@router.get("/find")
def earlier_address(words: str = "") -> Response:
    """Where searching was before there was an archive."""
    return RedirectResponse(f"/archive?{urlencode({'words': words})}", status_code=307)


@router.get("/archive/documents/{document_id}/strip")
def strip(
    desk: Here, document_id: int, page: int = 1, words: str = "", also: Annotated[list[str], Query()] = [],  # noqa: B006
) -> Response:  # fmt: skip
    """The strip of a page with the words marked."""
    made = marked_strip(desk.store, document_id, page, words, also)
    return Response(made, media_type="image/jpeg", headers={"cache-control": "private, no-cache"})


def _wanted(sent: dict[str, str]) -> tuple[Wanted, list[str]]:
    """What is wanted, and the values that say nothing."""
    filled = {name: text for name, text in sent.items() if text.strip()}
    try:
        return _WANTED.validate_python(filled), []
    except ValidationError as problem:
        wrong = [str(error["loc"][0]) for error in problem.errors()]
        kept = {name: text for name, text in filled.items() if name not in wrong}
        return _WANTED.validate_python(kept), [filled[name] for name in wrong if name in filled]
