"""Pictures and words of pages, for the page in the middle and the snippets in its margins."""

from __future__ import annotations

import json
from collections.abc import Callable

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from zestpail.core.reading.geometry import Box
from zestpail.desk.documents import page_images
from zestpail.desk.documents.page_readings import page_words
from zestpail.web.shell.permissions import PAGES
from zestpail.web.shell.session import Here

router = APIRouter(prefix="/pages", dependencies=PAGES)

_LONG, _ASK = "private, max-age=86400", "private, no-cache"
"""An address that names the version of its picture is kept; any other is asked for again: a page can be blacked out."""


@router.get("/{page_id}/image")
def image(request: Request, desk: Here, page_id: int, width: int = Query(1200, ge=1, le=10_000)) -> Response:
    return _saved(request, desk, page_id, lambda: page_images.page_picture(desk.store, page_id, width))


@router.get("/{page_id}/thumbnail")
def thumbnail(request: Request, desk: Here, page_id: int) -> Response:
    return _saved(request, desk, page_id, lambda: page_images.thumbnail(desk.store, page_id))


@router.get("/{page_id}/snippet")
def snippet(
    request: Request, desk: Here, page_id: int,
    x0: float, y0: float, x1: float, y1: float, height: int = Query(80, ge=8, le=400),
) -> Response:  # fmt: skip
    return _saved(request, desk, page_id, lambda: page_images.snippet(desk.store, page_id, Box(x0, y0, x1, y1), height))


@router.get("/{page_id}/words")
def words(request: Request, desk: Here, page_id: int) -> Response:
    """The words of the page: text and box in points, in reading order."""
    return _saved(
        request, desk, page_id, lambda: json.dumps(page_words(desk.store, page_id)).encode(), "application/json"
    )


def _saved(
    request: Request, desk: Here, page_id: int, made: Callable[[], bytes], media_type: str = "image/jpeg"
) -> Response:
    """What is made of a page's picture or reading, or that it is as it was: both are of one reading."""
    tag = f'"{page_images.version(desk.store, page_id)}"'
    headers = {"cache-control": _LONG if "v" in request.query_params else _ASK, "etag": tag}
    if request.headers.get("if-none-match") == tag:
        return Response(status_code=304, headers=headers)
    return Response(made(), media_type=media_type, headers=headers)
