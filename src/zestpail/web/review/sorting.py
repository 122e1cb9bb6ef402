"""Doubts about what a document is, or where it begins: shown as a stretch of the ribbon, decided with one key."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.batches import page_moves, several_pages
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.seeing import see
from zestpail.desk.review import desk as desk_review
from zestpail.desk.review import sorting
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(prefix="/review/{document_id}/sort", dependencies=OPERATORS)
Lane = Annotated[str, Form()]


def show_question(request: Request, desk: Here, me: Me, document_id: int, lane: str) -> Response:
    """The document in doubt."""
    view = sorting.question_view(desk.store, document_id, me.id)
    return place(request, "review/sorting.html", view=view, lane=lane)


@router.post("")
def decide(
    desk: Here, me: Me, document_id: int, type_key: Annotated[str, Form(alias="type")],
    keep: Annotated[bool, Form()] = False, lane: Lane = "",
) -> Response:  # fmt: skip
    """It is of that type."""
    following = desk_review.next_for_review(desk.store, me.id, document_id, lane)
    sorting.decide_type(desk.store, document_id, type_key, keep, me.id)
    return _on(following, document_id, lane)


@router.post("/again")
def again(desk: Here, me: Me, document_id: int) -> Response:
    """What was said of it is taken back."""
    sorting.ask_again(desk.store, document_id, me.id)
    return RedirectResponse(f"/review/{document_id}", status_code=303)


@router.post("/none")
def none_of_them(desk: Here, me: Me, document_id: int, lane: Lane = "") -> Response:
    """It is of none of the types: its pages stay on the ribbon and go into no document."""
    following = desk_review.next_for_review(desk.store, me.id, document_id, lane)
    several_pages.leave_out_several(desk.store, _pages(desk, document_id), me.id)
    return _on(following, None, lane)


@router.post("/join")
def join(desk: Here, me: Me, document_id: int, lane: Lane = "") -> Response:
    """It goes on the document before it."""
    following = desk_review.next_for_review(desk.store, me.id, document_id, lane)
    page_moves.join_before(desk.store, _pages(desk, document_id)[0], me.id)
    return _on(following, None, lane)


@router.post("/cut")
def cut(desk: Here, me: Me, document_id: int, at: Annotated[int, Form()], lane: Lane = "") -> Response:
    """A document begins at that page; both are looked at anew."""
    following = desk_review.next_for_review(desk.store, me.id, document_id, lane)
    see(desk.store, "page_id", at, me.closed)
    page_moves.split_before(desk.store, at, me.id)
    return _on(following, None, lane)


def _pages(desk: Here, document_id: int) -> list[int]:
    """The document's pages. Raises NotDone where it has none."""
    numbers = sorting.page_ids(desk.store, document_id)
    if not numbers:
        raise NotDone("It has no pages any more.")
    return numbers


def _on(following: int | None, decided: int | None, lane: str) -> Response:
    """To the next one that waits for a person."""
    asked = {"lane": lane} if lane else {}
    asked |= {"sorted": str(decided)} if decided else {}
    path = f"/review/{following}" if following else "/review"
    return RedirectResponse(f"{path}?{urlencode(asked)}" if asked else path, status_code=303)
