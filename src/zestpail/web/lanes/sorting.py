"""The sorting table of a lane: samples of its types, cues and descriptions, and what the lane would take each for."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.documents.sorting_samples import sorting_thumbnail
from zestpail.desk.lanes.sorting import edits, exchange, heap, measured, samples, table
from zestpail.desk.lanes.sorting.table import CHOICES
from zestpail.web.shell.forms import Sent
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place
from zestpail.web.today.chunked_upload import keep_each

router = APIRouter(prefix="/lanes/{key}/sorting", dependencies=AUTHORS)
Text = Annotated[str, Form()]
Files = Annotated[list[UploadFile], File()]


@router.get("")
def show(request: Request, desk: Here, key: str) -> Response:
    view = table.sorting_view(desk.store, key)
    return place(request, "lanes/sorting/sorting.html", view=view, choices=CHOICES)


@router.get("/table")
def rows(request: Request, desk: Here, key: str) -> Response:
    """The table alone, as it stands now, and what can be done with all of it."""
    return page(request, "lanes/sorting/rows.html", view=table.sorting_view(desk.store, key), choices=CHOICES)


@router.post("/types")
def add_type(desk: Here, me: Me, key: str, type_key: Annotated[str, Form(alias="type")]) -> Response:
    edits.add_type(desk.store, key, type_key, me.id)
    return _back(key)


@router.post("/undo")
def undo(desk: Here, me: Me, key: str, place: Annotated[Literal["", "/measure"], Form()] = "") -> Response:
    """Undo the last change, and go back to where it was asked."""
    edits.undo(desk.store, key, me.id)
    return RedirectResponse(f"{_table(key)}{place}", status_code=303)


@router.post("/unknown")
def unknown(
    desk: Here, me: Me, key: str, unknown: Text = "held", unknown_type: Text = "", learns: Text = "when_agreed"
) -> Response:
    """What becomes of documents of no type, and whether decisions become samples."""
    edits.set_unknown(desk.store, key, unknown, unknown_type, learns, me.id)
    return _back(key)


@router.post("/samples/{sample_id}/remove")
def remove_sample(desk: Here, me: Me, key: str, sample_id: int) -> Response:
    edits.remove_sample(desk.store, key, sample_id, me.id)
    return _back(key)


@router.post("/samples/{sample_id}/move")
def move_sample(desk: Here, me: Me, key: str, sample_id: int, to: Text) -> Response:
    edits.move_sample(desk.store, key, sample_id, to, me.id)
    return _back(key)


@router.get("/samples/{sample_id}/{number}")
def thumbnail(desk: Here, key: str, sample_id: int, number: int) -> Response:
    """The picture of a page of a sample."""
    data = sorting_thumbnail(desk.store, key, sample_id, number)
    return Response(data, media_type="image/jpeg", headers={"cache-control": "private, max-age=3600"})


@router.post("/types/{type_key}/remove")
def remove_type(desk: Here, me: Me, key: str, type_key: str) -> Response:
    edits.remove_type(desk.store, key, type_key, me.id)
    return _back(key)


@router.post("/types/{type_key}/samples")
def add_samples(request: Request, desk: Here, me: Me, key: str, type_key: str, files: Files) -> Response:
    """Files as samples of the type."""
    return keep_each(
        request, files, lambda name, data: samples.add_file(desk.store, key, type_key, name, data, me.id), _table(key)
    )


@router.post("/types/{type_key}/of-type")
def add_of_type(desk: Here, me: Me, key: str, type_key: str) -> Response:
    """The samples that the type has at its bench."""
    samples.add_samples_of_type(desk.store, key, type_key, me.id)
    return _back(key)


@router.get("/types/{type_key}/documents")
def documents(request: Request, desk: Here, key: str, type_key: str) -> Response:
    """Documents of earlier batches to choose from."""
    return page(
        request, "lanes/sorting/documents.html", key=key, type_key=type_key, offered=table.offered(desk.store, key)
    )


@router.post("/types/{type_key}/documents")
def add_documents(
    desk: Here, me: Me, key: str, type_key: str, documents: Annotated[list[int] | None, Form()] = None
) -> Response:
    samples.add_documents(desk.store, key, type_key, documents or [], me.id)
    return _back(key)


@router.post("/types/{type_key}/cues")
def add_cue(desk: Here, me: Me, key: str, type_key: str, words: Text = "", where: Text = "anywhere",
            speaks: Text = "for", weight: Text = "some") -> Response:  # fmt: skip
    wanted = [line.strip() for line in words.splitlines() if line.strip()]
    edits.add_cue(
        desk.store, key, type_key, {"words": wanted, "where": where, "speaks": speaks, "weight": weight}, me.id
    )
    return _back(key)


@router.post("/types/{type_key}/cues/{number}/remove")
def remove_cue(desk: Here, me: Me, key: str, type_key: str, number: int) -> Response:
    edits.remove_cue(desk.store, key, type_key, number, me.id)
    return _back(key)


@router.post("/types/{type_key}/description")
def describe(desk: Here, me: Me, key: str, type_key: str, description: Text = "") -> Response:
    edits.describe(desk.store, key, type_key, description, me.id)
    return _back(key)


@router.post("/types/{type_key}/differs")
def differs(
    desk: Here, me: Me, key: str, type_key: str, review_below: Text = "", review_others_below: Text = "",
    destinations: Annotated[list[str] | None, Form()] = None, all_of_them: Annotated[bool, Form()] = False,
) -> Response:  # fmt: skip
    """Where documents of the type are looked at and delivered otherwise."""
    shares = [
        float(text) / 100 if text.strip().replace(".", "", 1).isdigit() else None
        for text in (review_below, review_others_below)
    ]
    chosen = None if all_of_them else tuple(destinations or ())
    edits.differ(desk.store, key, type_key, shares[0], shares[1], chosen, me.id)
    return _back(key)


@router.post("/heap")
def add_to_heap(request: Request, desk: Here, me: Me, key: str, files: Files) -> Response:
    """Files whose types are still to be said."""
    return keep_each(
        request, files, lambda name, data: heap.add_to_heap(desk.store, key, name, data, me.id), _table(key)
    )


@router.post("/heap/confirm")
def confirm(desk: Here, me: Me, key: str, sent: Sent) -> Response:
    """The chosen files are of the types that stand beside them."""
    chosen = {int(number): sent.get(f"type-{number}", [""])[0] for number in sent.get("take", []) if number.isdigit()}
    heap.confirm(desk.store, key, chosen, me.id)
    return _back(key)


@router.post("/heap/{sample_id}/remove")
def throw_away(desk: Here, me: Me, key: str, sample_id: int) -> Response:
    heap.throw_away(desk.store, key, sample_id, me.id)
    return _back(key)


@router.get("/measure")
def measure(request: Request, desk: Here, key: str) -> Response:
    """How right the draft sorts test samples, beside what is active."""
    return place(request, "lanes/sorting/measure.html", view=measured.measured(desk.store, key))


@router.post("/tests/{type_key}")
def add_tests(request: Request, desk: Here, me: Me, key: str, type_key: str, files: Files) -> Response:
    """Files as test samples of a type, or of none of them."""

    def keep(name: str, data: bytes) -> int:
        return samples.add_file(desk.store, key, type_key, name, data, me.id, test=True)

    return keep_each(request, files, keep, f"{_table(key)}/measure")


@router.post("/tests/{sample_id}/remove/it")
def remove_test(desk: Here, me: Me, key: str, sample_id: int) -> Response:
    samples.remove_test(desk.store, key, sample_id, me.id)
    return RedirectResponse(f"{_table(key)}/measure", status_code=303)


@router.get("/classifier.json")
def exported(desk: Here, key: str) -> Response:
    """The draft's classifier as a file."""
    headers = {"content-disposition": f'attachment; filename="{key}.classifier.json"'}
    return Response(exchange.exported(desk.store, key), media_type="application/json", headers=headers)


@router.post("/classifier")
def imported(desk: Here, me: Me, key: str, file: Annotated[UploadFile, File()]) -> Response:
    """A classifier's file: its samples, cues and descriptions take the place of the draft's."""
    exchange.imported(desk.store, key, file.filename or "", file.file.read(), me.id)
    return _back(key)


def _table(key: str) -> str:
    return f"/lanes/{key}/sorting"


def _back(key: str) -> Response:
    return RedirectResponse(_table(key), status_code=303)
