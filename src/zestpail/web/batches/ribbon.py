"""The page ribbon of a batch, and its mending."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.core.reading.geometry import Box
from zestpail.desk.batches import page_edits, page_moves, several_pages
from zestpail.desk.batches.ribbon import ribbon_view
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.seeing import see
from zestpail.desk.pipeline.split import go_on
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page as shown
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/batches", dependencies=OPERATORS)
Number = Annotated[int, Form()]


@router.get("/{batch_id}/ribbon")
def show(request: Request, desk: Here, batch_id: int) -> Response:
    view = ribbon_view(desk.store, batch_id)
    return place(request, "batches/ribbon.html", ribbon=view)


@router.get("/{batch_id}/stacks")
def stacks(request: Request, desk: Here, batch_id: int) -> Response:
    """The part of the page that changes."""
    return _stacks(request, desk, batch_id)


@router.post("/{batch_id}/ribbon")
def edit_stack(
    request: Request, desk: Here, me: Me, batch_id: int, act: Annotated[str, Form()],
    page: Annotated[list[int] | None, Form()] = None, target: Number = 0,
) -> Response:  # fmt: skip
    """One gesture on the ribbon, with one page or several; answers with the ribbon as it then lies."""
    store, several = desk.store, page or [0]
    for one in (*several, target):
        see(store, "page_id", one, me.closed)
    if len(several) > 1:
        return _stacks(request, desk, batch_id, _done(_with_several(desk, several, target, me.id), act))
    page_id = several[0]
    acts: dict[str, Callable[[], str | None]] = {
        "cut": lambda: page_moves.split_before(store, page_id, me.id),
        "join": lambda: page_moves.join_before(store, page_id, me.id),
        "leave out": lambda: page_moves.leave_out(store, page_id, me.id),
        "take in": lambda: page_moves.take_in(store, page_id, me.id),
        "move before": lambda: page_moves.move_page(store, page_id, target, "before", me.id),
        "move after": lambda: page_moves.move_page(store, page_id, target, "after", me.id),
        "turn": lambda: page_edits.turn(store, page_id, 90, me.id),
        "turn back": lambda: page_edits.turn(store, page_id, 270, me.id),
        "undo": lambda: f"Undone: {page_moves.undo(store, batch_id, me.id)}.",
    }
    return _stacks(request, desk, batch_id, _done(acts, act))


@router.get("/{batch_id}/pages/{page_id}")
def large(request: Request, desk: Here, batch_id: int, page_id: int) -> Response:
    """One page in full size."""
    return _large(request, desk, batch_id, page_id)


@router.post("/{batch_id}/pages/{page_id}")
def touch(
    request: Request, desk: Here, me: Me, batch_id: int, page_id: int, act: Annotated[str, Form()],
    box: Annotated[list[float] | None, Form()] = None, text: Annotated[str, Form()] = "",
    step: Annotated[str, Form()] = "", number: Number = 0,
) -> Response:  # fmt: skip
    """One thing done to a page by hand; answers with the page as it then is."""
    store, drawn = desk.store, Box(*(box or ())[:4]) if box and len(box) == 4 else Box(0, 0, 0, 0)
    acts: dict[str, Callable[[], str | None]] = {
        "turn": lambda: page_edits.turn(store, page_id, 90, me.id),
        "crop": lambda: page_edits.crop(store, page_id, drawn, me.id),
        "black out": lambda: page_edits.black_out(store, page_id, drawn, me.id),
        "highlight": lambda: page_edits.pin(store, page_id, "highlight", drawn, text, (me.id, me.name)),
        "note": lambda: page_edits.pin(store, page_id, "note", drawn, text, (me.id, me.name)),
        "take note off": lambda: page_edits.unpin(store, page_id, number, me.id),
        "change step": lambda: page_edits.without_step(store, page_id, step, me.id),
        "undo": lambda: f"Undone: {page_moves.undo(store, batch_id, me.id)}.",
    }
    return _large(request, desk, batch_id, page_id, _done(acts, act))


def _with_several(desk: Here, pages: list[int], target: int, person_id: int) -> dict[str, Callable[[], str | None]]:
    store = desk.store
    return {
        "leave out": lambda: several_pages.leave_out_several(store, pages, person_id),
        "take in": lambda: several_pages.take_in_several(store, pages, person_id),
        "move before": lambda: several_pages.move_several(store, pages, target, "before", person_id),
        "move after": lambda: several_pages.move_several(store, pages, target, "after", person_id),
        "turn": lambda: several_pages.turn_several(store, pages, 90, person_id),
        "turn back": lambda: several_pages.turn_several(store, pages, 270, person_id),
    }


def _done(acts: dict[str, Callable[[], str | None]], act: str) -> str:
    """What is to be said when the gesture is made, or why it cannot be made."""
    if act not in acts:
        raise Missing("There is no such gesture.")
    try:
        return acts[act]() or ""
    except Missing:
        raise
    except NotDone as problem:
        return str(problem)


@router.post("/{batch_id}/files/{file_id}/go-on")
def verified(desk: Here, me: Me, batch_id: int, file_id: int) -> Response:
    """The cuts of a pile are right."""
    go_on(desk.store, file_id, me.id)
    return RedirectResponse(f"/batches/{batch_id}/ribbon", status_code=303)


def _stacks(request: Request, desk: Here, batch_id: int, notice: str = "") -> Response:
    return shown(request, "batches/stacks.html", ribbon=ribbon_view(desk.store, batch_id), notice=notice)


def _large(request: Request, desk: Here, batch_id: int, page_id: int, notice: str = "") -> Response:
    view = page_edits.page_view(desk.store, batch_id, page_id)
    return shown(request, "batches/page.html", page=view, notice=notice)
