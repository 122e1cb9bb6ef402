"""The page ribbon of a batch, and its mending."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk import mending
from zestpail.desk.ribbon import ribbon_view
from zestpail.desk.sentences import Missing, NotDone
from zestpail.desk.separating import go_on
from zestpail.desk.today import status
from zestpail.web.templating import page as shown
from zestpail.web.who import SIGNED_IN, Here, Me

router = APIRouter(prefix="/batches", dependencies=SIGNED_IN)
Number = Annotated[int, Form()]


@router.get("/{batch_id}/ribbon")
def show(request: Request, desk: Here, batch_id: int) -> Response:
    view = ribbon_view(desk.store, batch_id)
    return shown(request, "batches/ribbon.html", ribbon=view, notice="", status=status(desk.store))


@router.get("/{batch_id}/piles")
def piles(request: Request, desk: Here, batch_id: int) -> Response:
    """The part of the page that changes."""
    return _piles(request, desk, batch_id)


@router.post("/{batch_id}/ribbon")
def mend(
    request: Request, desk: Here, me: Me, batch_id: int, act: Annotated[str, Form()], page: Number = 0,
    before: Number = 0,
) -> Response:  # fmt: skip
    """One gesture on the ribbon; answers with the ribbon as it then lies."""
    store = desk.store
    acts: dict[str, Callable[[], str | None]] = {
        "cut": lambda: mending.cut_before(store, page, me.id),
        "join": lambda: mending.join_before(store, page, me.id),
        "leave out": lambda: mending.leave_out(store, page, me.id),
        "take in": lambda: mending.take_in(store, page, me.id),
        "move": lambda: mending.move_page(store, page, before or None, me.id),
        "turn": lambda: mending.turn(store, page, 90, me.id),
        "turn back": lambda: mending.turn(store, page, 270, me.id),
        "undo": lambda: f"Taken back: {mending.take_back(store, batch_id, me.id)}.",
    }
    if act not in acts:
        raise Missing("There is no such gesture.")
    try:
        said = acts[act]()
    except Missing:
        raise
    except NotDone as problem:
        said = str(problem)
    return _piles(request, desk, batch_id, said or "")


@router.post("/{batch_id}/files/{file_id}/go-on")
def looked_at(desk: Here, me: Me, batch_id: int, file_id: int) -> Response:
    """The cuts of a pile are right."""
    go_on(desk.store, file_id, me.id)
    return RedirectResponse(f"/batches/{batch_id}/ribbon", status_code=303)


def _piles(request: Request, desk: Here, batch_id: int, notice: str = "") -> Response:
    return shown(request, "batches/piles.html", ribbon=ribbon_view(desk.store, batch_id), notice=notice)
