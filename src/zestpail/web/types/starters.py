"""The shelf of starters: searched, looked at, tried on one's own files, adopted."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Request, UploadFile
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.types import samples, starters
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place
from zestpail.web.today.chunked_upload import keep_each

router = APIRouter(prefix="/types/starters", dependencies=AUTHORS)


@router.get("")
def found(request: Request, desk: Here, find: str = "") -> Response:
    """The starters that fit the words, for the shelf as it is searched."""
    return page(request, "types/starters.html", starter_rows=starters.starter_rows(desk.store, find), find=find)


@router.get("/{starter}")
def show(request: Request, desk: Here, starter: str) -> Response:
    view = starters.starter_view(desk.store, starter)
    return place(request, "types/starter.html", view=view)


@router.post("/{starter}")
def adopt(desk: Here, me: Me, starter: str) -> Response:
    return RedirectResponse(f"/types/{starters.adopt(desk.store, starter, me.id)}", status_code=303)


@router.get("/{starter}/tries")
def tries(request: Request, desk: Here, starter: str) -> Response:
    """What it found on the files it was tried on, as it stands now."""
    return page(request, "types/tries.html", view=starters.starter_view(desk.store, starter))


@router.post("/{starter}/tries")
def try_it(request: Request, desk: Here, me: Me, starter: str, files: Annotated[list[UploadFile], File()]) -> Response:
    """Files to try it on; answered when they are safely kept."""

    def keep(name: str, data: bytes) -> int:
        return starters.try_starter(desk.store, starter, name, data, me.id)

    return keep_each(request, files, keep, f"/types/starters/{starter}")


@router.post("/{starter}/tries/{sample_id}/remove")
def remove(desk: Here, me: Me, starter: str, sample_id: int) -> Response:
    samples.remove_sample(desk.store, sample_id, me.id)
    return RedirectResponse(f"/types/starters/{starter}", status_code=303)
