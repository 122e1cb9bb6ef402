"""The reading room: one document of the archive, or several beside each other."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import quote, urlencode

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.core.writing.renditions import RENDITIONS, Rendition, media_type
from zestpail.desk.archive import keeping, sending
from zestpail.desk.archive.reading_room import neighbours, reading_room
from zestpail.desk.archive.search import Wanted
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.web.archive.search import wanted_of
from zestpail.web.shell.permissions import ADMINISTRATORS, OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/archive", dependencies=OPERATORS)
LOOKED_AT = {"content-security-policy": "default-src 'none'; object-src 'self'; style-src 'unsafe-inline'"}
"""A file is shown by the browser's own viewer, and may load nothing."""
SHOWN = ("application/pdf", "image/jpeg", "image/png", "text/plain; charset=utf-8")
"""Media types that a browser shows without running anything."""
MOST_COMPARED = 4
Also = Annotated[list[str], Query()]


@router.get("/documents/{document_id}")
def show(request: Request, desk: Here, me: Me, document_id: int, also: Also = [], notice: str = "") -> Response:  # noqa: B006
    wanted, _ = wanted_of(dict(request.query_params))
    return _shown(request, desk, me, document_id, wanted, also, notice)


@router.get("/documents/{document_id}/file")
def file(desk: Here, document_id: int, form: Rendition = "searchable_pdf", look: bool = False) -> Response:
    """The document as it stands now, in any form."""
    return _as_file(sending.as_it_stands(desk.store, document_id, form), look)


@router.get("/documents/{document_id}/arrived")
def arrived(desk: Here, document_id: int) -> Response:
    """The file as it arrived."""
    return _as_file(sending.as_it_arrived(desk.store, document_id), False)


@router.post("/documents/{document_id}/send")
def send(
    request: Request, desk: Here, me: Me, document_id: int, to: Annotated[str, Form()],
    subject: Annotated[str, Form()] = "", text: Annotated[str, Form()] = "",
) -> Response:  # fmt: skip
    """Send it by e-mail."""
    try:
        notice = sending.send(desk.store, desk.post, document_id, sending.Letter(to, subject, text), me.id)
    except Missing:
        raise
    except NotDone as problem:
        notice = str(problem)
    return _shown(request, desk, me, document_id, Wanted(), [], notice)


@router.post("/documents/{document_id}/hold", dependencies=ADMINISTRATORS)
def hold(desk: Here, me: Me, document_id: int, why: Annotated[str, Form()] = "") -> Response:
    """It is not erased, however long it is there."""
    keeping.hold(desk.store, document_id, why, me.id)
    return RedirectResponse(f"/archive/documents/{document_id}", status_code=303)


@router.post("/documents/{document_id}/lift-hold", dependencies=ADMINISTRATORS)
def lift_hold(desk: Here, me: Me, document_id: int) -> Response:
    keeping.lift_hold(desk.store, document_id, me.id)
    return RedirectResponse(f"/archive/documents/{document_id}", status_code=303)


@router.get("/compare")
def compare(request: Request, desk: Here, me: Me, document: Annotated[list[int], Query()] = []) -> Response:  # noqa: B006
    """Several documents beside each other; values that differ are marked."""
    chosen = list(dict.fromkeys(document))[:MOST_COMPARED]
    for number in chosen:
        keeping.shown_before(desk.store, [number], me.closed)
    views = [reading_room(desk.store, number) for number in chosen]
    shown = {view.id: {card.key: card.shown for card in view.cards} for view in views}
    names = {card.key: card.name for view in views for card in view.cards}
    rows = [(name, [shown[view.id].get(key, "") for view in views]) for key, name in names.items()]
    return place(request, "archive/compare.html", views=views, rows=rows, left=document[MOST_COMPARED:])


def _shown(
    request: Request, desk: Here, me: Me, document_id: int, wanted: Wanted, also: list[str], notice: str
) -> Response:
    view = reading_room(desk.store, document_id, wanted.words, also)
    found = wanted if wanted.words or wanted.narrowed else Wanted()
    looked = [*found.model_dump(exclude_defaults=True, exclude={"before", "after"}).items()]
    beside = neighbours(desk.store, document_id, found, me.closed)
    return place(
        request, "archive/room.html", view=view, words=wanted.words, beside=beside, looked=urlencode(looked),
        within=urlencode([*looked, *(("also", word) for word in also)]), forms=RENDITIONS, notice=notice,
    )  # fmt: skip


def _as_file(made: sending.NamedFile, look: bool) -> Response:
    media = media_type(made.name)
    shown = look and media in SHOWN
    kind = "inline" if shown else "attachment"
    head = {"content-disposition": f"{kind}; filename*=UTF-8''{quote(made.name)}", "x-content-type-options": "nosniff"}
    return Response(made.data, media_type=media, headers={**head, **LOOKED_AT})
