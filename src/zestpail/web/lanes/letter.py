"""Lanes as letters of instruction: read, changed, tried, put in force; and the sheets to be printed for them."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import RedirectResponse, Response

from zestpail.core.reading.features.barcodes import KINDS
from zestpail.desk.delivery.outlets import outlets_at
from zestpail.desk.lanes import letter, trials
from zestpail.desk.lanes.letter_form import CHOICES, LetterForm
from zestpail.desk.lanes.message_picking import messages, try_message
from zestpail.desk.lanes.newer_revisions import effect_of_newest
from zestpail.desk.lanes.separator_sheets import print_sheets
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place
from zestpail.web.today.chunked_upload import keep_each

router = APIRouter(prefix="/lanes", dependencies=AUTHORS)
Lines = Annotated[str, Form()]


@router.get("")
def lanes(request: Request, desk: Here, me: Me) -> Response:
    rows, types = letter.lane_list(desk.store, me.closed)
    return place(request, "lanes/lanes.html", lanes=rows, types=types)


@router.post("")
def begin(desk: Here, me: Me, name: Lines = "", type_key: Annotated[str, Form(alias="type")] = "") -> Response:
    """A new lane."""
    return RedirectResponse(f"/lanes/{letter.begin_lane(desk.store, name, type_key, me.id)}", status_code=303)


@router.get("/{key}")
def show(request: Request, desk: Here, key: str) -> Response:
    view, trial = letter.letter_view(desk.store, key), trials.trial_of(desk.store, key, outlets_at(desk).folder)
    return place(
        request,
        "lanes/letter.html",
        view=view,
        trial=trial,
        choices=CHOICES,
        kinds=KINDS,
    )


@router.post("/{key}/letter/{part}")
def change(desk: Here, me: Me, key: str, part: str, form: Annotated[LetterForm, Form()]) -> Response:
    """One sentence of the draft."""
    letter.change_letter(desk.store, key, part, form, me, desk.allowed)
    return RedirectResponse(f"/lanes/{key}", status_code=303)


@router.get("/{key}/newest")
def newest(request: Request, desk: Here, key: str) -> Response:
    """What the newest revisions of its types would change on the lane's last documents."""
    return page(request, "lanes/newest.html", key=key, effect=effect_of_newest(desk.store, key))


@router.post("/{key}/newest")
def use_newest(desk: Here, me: Me, key: str) -> Response:
    letter.use_newest(desk.store, key, me.id)
    return RedirectResponse(f"/lanes/{key}", status_code=303)


@router.post("/{key}/put-in-force")
def put_in_force(desk: Here, me: Me, key: str) -> Response:
    letter.put_in_force(desk.store, key, me.id)
    return RedirectResponse(f"/lanes/{key}", status_code=303)


@router.post("/{key}/discard")
def discard(desk: Here, me: Me, key: str) -> Response:
    letter.discard_draft(desk.store, key, me.id)
    return RedirectResponse(f"/lanes/{key}", status_code=303)


@router.get("/{key}/trial")
def trial(request: Request, desk: Here, key: str) -> Response:
    """The trial as it stands now."""
    return page(request, "lanes/trial.html", key=key, trial=trials.trial_of(desk.store, key, outlets_at(desk).folder))


@router.post("/{key}/trial")
def try_it(
    request: Request, desk: Here, me: Me, key: str, files: Annotated[list[UploadFile], File()],
    batch: Annotated[int | None, Form()] = None,
) -> Response:  # fmt: skip
    """Files to try the draft on, one after the other; ``batch`` is the trial that further ones belong to."""
    begun = batch

    def keep(name: str, data: bytes) -> int:
        nonlocal begun
        begun = trials.begin_trial(desk.store, key, name, data, me.id, begun)
        return begun

    return keep_each(request, files, keep, f"/lanes/{key}")


@router.get("/{key}/messages")
def pick(request: Request, desk: Here, me: Me, key: str) -> Response:
    """Messages that the draft can be tried on."""
    view = messages(desk.store, desk.mailbox, me.closed)
    return place(request, "lanes/messages.html", view=view, key=key)


@router.post("/{key}/messages")
def picked(
    desk: Here, me: Me, key: str, folder: Annotated[str, Form()] = "", number: Annotated[int, Form()] = 0
) -> Response:
    """The message that was picked is tried."""
    try_message(desk.store, desk.mailbox, key, folder, number, me)
    return RedirectResponse(f"/lanes/{key}", status_code=303)


@router.get("/{key}/trial/{trial_id}/{number}")
def thumbnail(desk: Here, key: str, trial_id: int, number: int) -> Response:
    """The picture of a page of a trial."""
    data = trials.trial_thumbnail(desk.store, key, trial_id, number)
    return Response(data, media_type="image/jpeg", headers={"cache-control": "private, max-age=3600"})


@router.get("/{key}/sheets")
def sheets(request: Request, desk: Here, key: str) -> Response:
    return place(request, "lanes/separator_sheets.html", view=letter.letter_view(desk.store, key))


@router.post("/{key}/sheets")
def printed(
    desk: Here, key: str, values: Lines = "", separators: Annotated[list[str] | None, Form()] = None,
    copies: Annotated[int, Form()] = 1, paper: Lines = "A4", mail: Lines = "",
) -> Response:  # fmt: skip
    """The sheets as a PDF to be printed."""
    data = print_sheets(desk.store, key, values, separators or [], copies, paper, mail)
    name = {"content-disposition": f'attachment; filename="sheets-{key}.pdf"'}
    return Response(data, media_type="application/pdf", headers=name)
