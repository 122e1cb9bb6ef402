"""Kept and erased: what is due, what is held back, and the records of what was erased."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.archive import keeping
from zestpail.web.shell.permissions import ADMINISTRATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter(prefix="/archive", dependencies=ADMINISTRATORS)


@router.get("/keeping")
def show(request: Request, desk: Here, me: Me) -> Response:
    """What would be erased, lane by lane; nothing is done by looking."""
    return place(
        request, "archive/keeping.html", lanes=keeping.due(desk.store, me.closed),
        records=keeping.erasures(desk.store),
    )  # fmt: skip


@router.get("/keeping/records")
def records(request: Request, desk: Here) -> Response:
    """The part of the page that changes."""
    return page(request, "archive/records.html", records=keeping.erasures(desk.store))


@router.get("/keeping/records/{erasure}.csv")
def record_as_csv(desk: Here, erasure: int) -> Response:
    """All that a record says was erased."""
    name = {"content-disposition": f'attachment; filename="erased-{erasure}.csv"'}
    return Response(keeping.record_as_csv(desk.store, erasure), media_type="text/csv", headers=name)


@router.post("/keeping/{lane}")
def erase_due(desk: Here, me: Me, lane: str, many: Annotated[int, Form()]) -> Response:
    """Erase what is due of a lane, if that is what was shown."""
    keeping.erase_due(desk.store, lane, many, me.id)
    return RedirectResponse("/archive/keeping", status_code=303)


@router.get("/erase")
def before_erasing(
    request: Request, desk: Here, me: Me, document: Annotated[list[int], Query()] = [],  # noqa: B006
) -> Response:  # fmt: skip
    """What erasing these documents would do, to be confirmed."""
    found = keeping.shown_before(desk.store, document, me.closed)
    return place(request, "archive/erase.html", documents=found)


@router.post("/erase")
def erase(desk: Here, me: Me, document: Annotated[list[int], Form()], why: Annotated[str, Form()] = "") -> Response:
    """Erase these documents."""
    keeping.shown_before(desk.store, document, me.closed)
    keeping.erase_chosen(desk.store, document, why, me.id)
    return RedirectResponse("/archive/keeping", status_code=303)
