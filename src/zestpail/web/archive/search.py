"""The archive: documents found again by words, and narrowed; searches that were given a name; files taken along."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import quote, urlencode

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from pydantic import TypeAdapter, ValidationError

from zestpail.desk.archive import exporting, views
from zestpail.desk.archive.choices import choices
from zestpail.desk.archive.filed import folder_view
from zestpail.desk.archive.marked import marked_strip
from zestpail.desk.archive.search import Results, Wanted, find_batch, search, told_many
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter(dependencies=OPERATORS)
_WANTED = TypeAdapter(Wanted)
Columns = Annotated[list[str], Query()]
Looked = Annotated[str, Form(description="The query of the search.")]


@router.get("/archive")
def find(request: Request, desk: Here, me: Me, columns: Columns = [], view: int | None = None) -> Response:  # noqa: B006
    """What was looked for, by words and by all else; what is no day and no amount narrows nothing, and is told."""
    wanted, wrong = wanted_of(dict(request.query_params))
    asked = bool(wanted.words.strip() or wanted.narrowed)
    results = search(desk.store, wanted, me.closed) if asked else Results([])
    batch = find_batch(desk.store, wanted.words, me.closed) if wanted.words else None
    looked = [*wanted.model_dump(exclude_defaults=True, exclude={"before", "after"}).items()]
    with_columns = [*looked, *(("columns", key) for key in columns)]
    also = [("also", word) for words in results.alike.values() for word in words]
    return place(
        request, "archive/archive.html", words=wanted.words, wanted=wanted, results=results, batch=batch, asked=asked,
        choices=choices(desk.store, wanted.type, me.closed), wrong=wrong, also=urlencode(also), columns=columns,
        older=urlencode([*with_columns, ("before", results.next)]) if results.next else "",
        looked=urlencode(with_columns), within=urlencode([*looked, *also]),
        views=views.views_for(desk.store, me.id), view=view,
    )  # fmt: skip


@router.get("/archive/count")
def count(request: Request, desk: Here, me: Me) -> Response:
    """How many there are in all; asked for when the page is there, as counting takes longer than finding some."""
    wanted, _ = wanted_of(dict(request.query_params))
    return HTMLResponse(told_many(desk.store, wanted, me.closed))


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


@router.get("/archive/views/{view_id}")
def open_view(desk: Here, me: Me, view_id: int) -> Response:
    """The search that was given this name."""
    view = views.saved_view(desk.store, view_id, me.id)
    query = [*view.wanted.items(), *(("columns", key) for key in view.columns), ("view", view_id)]
    return RedirectResponse(f"/archive?{urlencode(query)}", status_code=303)


@router.post("/archive/views")
def save_view(
    desk: Here, me: Me, looked: Looked, name: Annotated[str, Form()],
    columns: Annotated[list[str], Form()] = [], for_all: Annotated[bool, Form()] = False,  # noqa: B006
) -> Response:  # fmt: skip
    """Give the search a name."""
    wanted, _ = wanted_of(_query(looked))
    number = views.save_view(desk.store, name, wanted, columns, me.id, for_all=for_all)
    return RedirectResponse(f"/archive/views/{number}", status_code=303)


@router.post("/archive/views/{view_id}/remove")
def remove_view(desk: Here, me: Me, view_id: int) -> Response:
    views.remove_view(desk.store, view_id, me.id)
    return RedirectResponse("/archive", status_code=303)


@router.get("/archive/exports")
def exports(request: Request, desk: Here, me: Me) -> Response:
    """What was taken along lately, and how far it is."""
    return place(request, "archive/exports.html", exports=exporting.exports_of(desk.store, me.id))


@router.get("/archive/exports/list")
def exports_list(request: Request, desk: Here, me: Me) -> Response:
    """The part of the page that changes."""
    return page(request, "archive/exports_list.html", exports=exporting.exports_of(desk.store, me.id))


@router.post("/archive/exports")
def take_along(
    request: Request, desk: Here, me: Me, looked: Looked, columns: Annotated[list[str], Form()] = [],  # noqa: B006
    files: Annotated[bool, Form()] = False,
) -> Response:  # fmt: skip
    """Have everything that was found taken along."""
    wanted, _ = wanted_of(_query(looked))
    exporting.ask(desk.store, wanted, columns, files=files, base=str(request.base_url), person_id=me.id)
    return RedirectResponse("/archive/exports", status_code=303)


@router.get("/archive/exports/{export_id}/file")
def exported(desk: Here, me: Me, export_id: int) -> Response:
    name, data = exporting.exported_file(desk.store, export_id, me.id)
    kind = {"content-disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(data, media_type="application/octet-stream", headers=kind)


@router.get("/archive/folders")
def folders(request: Request, desk: Here, me: Me, lane: str = "", path: str = "") -> Response:
    """Where documents were filed, as a tree."""
    lanes = choices(desk.store, "", me.closed).lanes
    chosen = lane or (lanes[0][0] if lanes else "")
    view = folder_view(desk.store, chosen, path, me.closed) if chosen else None
    return place(request, "archive/folders.html", lanes=lanes, lane=chosen, view=view)


def _query(looked: str) -> dict[str, str]:
    """The query of a search as it was sent along."""
    return dict(Request({"type": "http", "query_string": looked.encode()}).query_params)


def wanted_of(sent: dict[str, str]) -> tuple[Wanted, list[str]]:
    """What is wanted, and the values that say nothing."""
    filled = {name: text for name, text in sent.items() if text.strip()}
    try:
        return _WANTED.validate_python(filled), []
    except ValidationError as problem:
        wrong = [str(error["loc"][0]) for error in problem.errors()]
        kept = {name: text for name, text in filled.items() if name not in wrong}
        return _WANTED.validate_python(kept), [filled[name] for name in wrong if name in filled]
