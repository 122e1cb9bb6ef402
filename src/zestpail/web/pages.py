"""Pictures and words of pages, for the page in the middle and the snippets in its margins."""

from __future__ import annotations

from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse, Response

from zestpail.core.reading.geometry import Box
from zestpail.desk import pictures
from zestpail.desk.page_words import page_words
from zestpail.web.who import SIGNED_IN, Here

router = APIRouter(prefix="/pages", dependencies=SIGNED_IN)

_KEEP = "private, max-age=86400"


@router.get("/{page_id}/image")
def image(request: Request, desk: Here, page_id: int, width: int = Query(1200, ge=1, le=10_000)) -> Response:
    return _picture(request, *pictures.page_picture(desk.store, page_id, width))


@router.get("/{page_id}/thumbnail")
def thumbnail(request: Request, desk: Here, page_id: int) -> Response:
    return _picture(request, *pictures.thumbnail(desk.store, page_id))


@router.get("/{page_id}/snippet")
def snippet(
    request: Request, desk: Here, page_id: int,
    x0: float, y0: float, x1: float, y1: float, height: int = Query(80, ge=8, le=400),
) -> Response:  # fmt: skip
    return _picture(request, *pictures.snippet(desk.store, page_id, Box(x0, y0, x1, y1), height))


@router.get("/{page_id}/words")
def words(desk: Here, page_id: int) -> Response:
    """The words of the page: text and box in points, in reading order."""
    return JSONResponse(page_words(desk.store, page_id), headers={"cache-control": _KEEP})


def _picture(request: Request, data: bytes, tag: str) -> Response:
    headers = {"cache-control": _KEEP, "etag": f'"{tag}"'}
    if request.headers.get("if-none-match") == headers["etag"]:
        return Response(status_code=304, headers=headers)
    return Response(data, media_type="image/jpeg", headers=headers)
