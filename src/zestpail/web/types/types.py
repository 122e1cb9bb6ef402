"""Document types: the list with its starters, samples, revisions, and carrying a type elsewhere as a file."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import RedirectResponse, Response

from zestpail.core.reading.limits import Limits
from zestpail.desk.intake.arrivals import may_arrive
from zestpail.desk.quality.view import quality_of
from zestpail.desk.types import (
    drafts,
    import_export,
    samples,
    starters,
)
from zestpail.desk.types.bench.proof import sheet
from zestpail.desk.types.comparison import compared
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place
from zestpail.web.today.chunked_upload import keep_each

router = APIRouter(prefix="/types", dependencies=AUTHORS)

PER_BLOCK = 20
"""Samples of the proof sheet that are made at once; the next ones are asked for as they come near the screen."""


@router.get("")
def listed(request: Request, desk: Here, find: str = "") -> Response:
    store = desk.store
    return place(
        request, "types/types.html", types=drafts.types(store),
        starter_rows=starters.starter_rows(store, find), find=find,
    )  # fmt: skip


@router.post("")
def begin(desk: Here, me: Me, name: Annotated[str, Form()] = "") -> Response:
    return _bench(drafts.begin_type(desk.store, name, me.id))


@router.post("/import")
def bring_in(desk: Here, me: Me, file: Annotated[UploadFile, File()]) -> Response:
    may_arrive(file.filename or "", file.size or 0, Limits(max_bytes=import_export.MOST_BYTES))
    return _bench(import_export.bring_in(desk.store, file.file.read(), me.id))


@router.get("/{key}/file")
def export(desk: Here, key: str) -> Response:
    """The draft as one JSON file."""
    headers = {"content-disposition": f'attachment; filename="{key}.json"'}
    return Response(drafts.exported(desk.store, key), media_type="application/json", headers=headers)


@router.get("/{key}/carried")
def export_with_samples(desk: Here, key: str) -> Response:
    """The draft and its samples in a zip."""
    headers = {"content-disposition": f'attachment; filename="{key}.zip"'}
    data = import_export.exported_with_samples(desk.store, key)
    return Response(data, media_type="application/zip", headers=headers)


@router.post("/{key}/samples")
def add_samples(request: Request, desk: Here, me: Me, key: str, files: Annotated[list[UploadFile], File()]) -> Response:
    """Files as samples; answered when they are safely kept."""

    def keep(name: str, data: bytes) -> int:
        return samples.add_sample(desk.store, key, name, data, me.id)

    return keep_each(request, files, keep, f"/types/{key}")


@router.post("/{key}/samples/{sample_id}/remove")
def remove_sample(desk: Here, me: Me, key: str, sample_id: int) -> Response:
    samples.remove_sample(desk.store, sample_id, me.id)
    return _bench(key)


@router.post("/{key}/samples/{sample_id}/role")
def set_role(desk: Here, key: str, sample_id: int, role: Annotated[str, Form()], to: str = "") -> Response:
    samples.set_role(desk.store, sample_id, role)
    back = f"/types/{key}/learning" if to == "learning" else f"/types/{key}?sample={sample_id}"
    return RedirectResponse(back, status_code=303)


@router.get("/{key}/sheet")
def proof_sheet(
    request: Request, desk: Here, key: str, sort: str = "", against: int | None = None, start: int | None = None
) -> Response:
    """All fields by all samples; sorted by trouble if asked for. With ``start`` the samples from there on alone."""
    store = desk.store
    revision = drafts.revision(store, key, against) if against else None
    proved = sheet(store, key, revision)
    if start is not None:
        return page(request, "types/block.html", key=key, sheet=proved, lines=proved.lines, sort=sort,
                    per_block=PER_BLOCK, start=max(start, 0))  # fmt: skip
    return place(request, "types/sheet.html", key=key, sheet=proved, lines=proved.lines, sort=sort, per_block=PER_BLOCK,
                against=against, revisions=drafts.revisions(store, key))  # fmt: skip


@router.get("/{key}/revisions")
def revisions(
    request: Request, desk: Here, me: Me, key: str, one: int | None = None, other: int | None = None
) -> Response:
    """The published revisions, and two of them side by side; of the draft what it would change on test samples."""
    store = desk.store
    pair = compared(store, key, one, other) if one is not None or other is not None else None
    return place(request, "types/revisions.html", key=key, kind=drafts.draft_type(store, key), pair=pair,
                revisions=drafts.revisions(store, key), one=one, other=other,
                quality=quality_of(store, key, me.closed))  # fmt: skip


@router.post("/{key}/publish")
def publish(desk: Here, me: Me, key: str, note: Annotated[str, Form()] = "") -> Response:
    drafts.publish(desk.store, key, note, me.id)
    return RedirectResponse(f"/types/{key}/revisions", status_code=303)


@router.post("/{key}/revisions/{number}/bring-back")
def bring_back(desk: Here, me: Me, key: str, number: int) -> Response:
    drafts.bring_back(desk.store, key, number, me.id)
    return _bench(key)


@router.post("/{key}/retire")
def retire(desk: Here, me: Me, key: str, back: Annotated[bool, Form()] = False) -> Response:
    drafts.retire(desk.store, key, me.id, back)
    return RedirectResponse("/types", status_code=303)


def _bench(key: str) -> Response:
    return RedirectResponse(f"/types/{key}", status_code=303)
