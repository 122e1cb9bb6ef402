"""The review desk."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import JSONResponse, PlainTextResponse, RedirectResponse, Response

from zestpail.core.reading.geometry import Box
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.review import desk as desk_review
from zestpail.desk.review.desk import Seen
from zestpail.desk.review.sorting import is_in_doubt
from zestpail.desk.review.view import pages_shown, review_view
from zestpail.web.review.sorting import show_question
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place
from zestpail.web.shell.turns import IN_TURN

router = APIRouter(prefix="/review", dependencies=[*IN_TURN, *OPERATORS])

Version = Annotated[int, Form()]
Sorted = Annotated[int | None, Query(alias="sorted")]
Done = Annotated[int | None, Query(alias="done")]


@router.get("")
def first(
    request: Request, desk: Here, me: Me, after: int | None = None, lane: str = "", sorted_one: Sorted = None,
    done_one: Done = None,
) -> Response:  # fmt: skip
    """The document that has waited longest, of one lane if one is named, or the news that none does."""
    while (waiting := desk_review.next_for_review(desk.store, me.id, after, lane)) is not None:
        if desk_review.hold(desk.store, waiting, me.id):  # nobody else took it in the same moment
            return RedirectResponse(_review(waiting, lane, sorted_one, done_one), status_code=303)
    return place(request, "review/empty.html", lane=lane)


@router.get("/{document_id}")
def show(request: Request, desk: Here, me: Me, document_id: int, lane: str = "") -> Response:
    with desk.store.together():
        desk_review.hold(desk.store, document_id, me.id)
        if is_in_doubt(desk.store, document_id):
            return show_question(request, desk, me, document_id, lane)
        view = review_view(desk.store, document_id, me.id)
        following = desk_review.next_for_review(desk.store, me.id, document_id, lane)
        ahead = pages_shown(desk.store, following)[:1] if following else []
        return place(request, "review/review.html", view=view, ahead=ahead, lane=lane)


@router.get("/{document_id}/cards")
def cards(request: Request, desk: Here, me: Me, document_id: int) -> Response:
    """The cards alone, as they stand now."""
    return show_cards(request, desk, me, document_id)


@router.post("/{document_id}/take-over")
def take_over(desk: Here, me: Me, document_id: int) -> Response:
    desk_review.hold(desk.store, document_id, me.id, take_over=True)
    return RedirectResponse(f"/review/{document_id}", status_code=303)


@router.post("/{document_id}/leave")
def leave(desk: Here, me: Me, document_id: int, lane: Annotated[str, Form()] = "") -> Response:
    """On to the next document; this one goes back into the queue."""
    desk_review.release(desk.store, document_id, me.id)
    return RedirectResponse(_after(document_id, lane), status_code=303)


@router.post("/{document_id}/back")
def back(desk: Here, me: Me, document_id: int) -> Response:
    """Take back "done", as long as nothing is delivered."""
    desk_review.back_to_review(desk.store, document_id, me.id)
    return RedirectResponse(f"/review/{document_id}", status_code=303)


@router.post("/{document_id}/done")
def done(
    request: Request, desk: Here, me: Me, document_id: int, version: Version, lane: Annotated[str, Form()] = ""
) -> Response:
    """Settle the document; answers where to go next, or the cards with what is still missing."""
    try:
        desk_review.done(desk.store, Seen(document_id, version, me.id))
    except Missing:
        raise
    except NotDone as problem:
        return show_cards(request, desk, me, document_id, str(problem))
    return JSONResponse({"next": _after(document_id, lane), "done": document_id})


@router.post("/{document_id}/undo")
def undo(request: Request, desk: Here, me: Me, document_id: int, version: Version) -> Response:
    def take_back(seen: Seen) -> None:
        desk_review.undo_last(desk.store, seen)

    return changed(request, desk, me, document_id, version, take_back)


@router.post("/{document_id}/fields/{key}/enter")
def enter(
    request: Request, desk: Here, me: Me, document_id: int, key: str, version: Version,
    text: Annotated[str, Form()] = "",
) -> Response:  # fmt: skip
    return changed(request, desk, me, document_id, version, lambda seen: desk_review.enter(desk.store, seen, key, text))


@router.get("/{document_id}/fields/{key}/understood")
def understood(desk: Here, document_id: int, key: str, text: str = "") -> Response:
    """How a text that is being typed would be taken."""
    return PlainTextResponse(desk_review.understood(desk.store, document_id, key, text[:400]))


@router.post("/{document_id}/fields/{key}/accept")
def accept(request: Request, desk: Here, me: Me, document_id: int, key: str, version: Version) -> Response:
    return changed(request, desk, me, document_id, version, lambda seen: desk_review.accept(desk.store, seen, key))


@router.post("/{document_id}/fields/{key}/pick")
def pick(
    request: Request,
    desk: Here,
    me: Me,
    document_id: int,
    key: str,
    version: Version,
    number: Annotated[int, Form()],
) -> Response:
    return changed(
        request, desk, me, document_id, version, lambda seen: desk_review.pick(desk.store, seen, key, number)
    )


@router.post("/{document_id}/fields/{key}/words")
def words(
    request: Request, desk: Here, me: Me, document_id: int, key: str, version: Version,
    page_number: Annotated[int, Form()], numbers: Annotated[list[int], Form()],
) -> Response:  # fmt: skip
    return changed(
        request, desk, me, document_id, version,
        lambda seen: desk_review.take_words(desk.store, seen, key, page_number - 1, numbers),
    )  # fmt: skip


@router.post("/{document_id}/fields/{key}/box")
def box(
    request: Request, desk: Here, me: Me, document_id: int, key: str, version: Version,
    page_number: Annotated[int, Form()], x0: Annotated[float, Form()], y0: Annotated[float, Form()],
    x1: Annotated[float, Form()], y1: Annotated[float, Form()],
) -> Response:  # fmt: skip
    drawn = Box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
    return changed(
        request, desk, me, document_id, version,
        lambda seen: desk_review.take_box(desk.store, seen, key, page_number - 1, drawn),
    )  # fmt: skip


@router.post("/{document_id}/checks/keep")
def keep(
    request: Request, desk: Here, me: Me, document_id: int, version: Version, check: Annotated[str, Form()]
) -> Response:
    return changed(request, desk, me, document_id, version, lambda seen: desk_review.waive(desk.store, seen, check))


@router.post("/{document_id}/checks/offer")
def offer(
    request: Request, desk: Here, me: Me, document_id: int, version: Version,
    check: Annotated[str, Form()], number: Annotated[int, Form()],
) -> Response:  # fmt: skip
    return changed(
        request,
        desk,
        me,
        document_id,
        version,
        lambda seen: desk_review.use_offer(desk.store, seen, check, number),
    )


def _review(document_id: int | None, lane: str, sorted_one: int | None = None, done_one: int | None = None) -> str:
    """The address of a document's review, or of the first one's; of one lane if one is named.

    With the number of a document of which was just said what it is, or that it is done, that can be taken back there.
    """
    path = f"/review/{document_id}" if document_id else "/review"
    asked = {name: value for name, value in (("lane", lane), ("sorted", sorted_one), ("done", done_one)) if value}
    return f"{path}?{urlencode(asked)}" if asked else path


def _after(document_id: int, lane: str) -> str:
    """The address that leads to the next document after this one: which one that is is told when it is asked for."""
    return "/review?" + urlencode({"after": document_id, **({"lane": lane} if lane else {})})


def changed(
    request: Request,
    desk: Here,
    me: Me,
    document_id: int,
    version: int,
    change: Callable[[Seen], object],
    window: tuple[str, int] = ("", 1),
) -> Response:
    """Make the change and show the cards as they then stand; or the reason why it was not made."""
    try:
        with desk.store.together():
            message = change(Seen(document_id, version, me.id))
            view = review_view(desk.store, document_id, me.id, window)
    except Missing:
        raise
    except NotDone as problem:
        return show_cards(request, desk, me, document_id, str(problem), window)
    notice = message if isinstance(message, str) else ""
    return page(request, "review/cards.html", view=view, notice=notice, refused=False)


def show_cards(
    request: Request, desk: Here, me: Me, document_id: int, notice: str = "", window: tuple[str, int] = ("", 1),
    *, refused: bool = True,
) -> Response:  # fmt: skip
    """The cards and the table drawer as they stand, the table from that row on."""
    view = review_view(desk.store, document_id, me.id, window)
    return page(request, "review/cards.html", view=view, notice=notice, refused=refused and bool(notice))
