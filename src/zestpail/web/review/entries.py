"""Which entry of a reference list a document speaks of, said at the review desk."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.review import entries
from zestpail.desk.review.desk import Seen
from zestpail.web.review.review import Version, changed, show_cards
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.turns import IN_TURN

router = APIRouter(prefix="/review/{document_id}/entries/{key}", dependencies=[*IN_TURN, *OPERATORS])


@router.post("/choose")
def choose(
    request: Request, desk: Here, me: Me, document_id: int, key: str, version: Version,
    entry: Annotated[str, Form()], remember: Annotated[bool, Form()] = False,
) -> Response:  # fmt: skip
    return changed(
        request, desk, me, document_id, version, lambda seen: entries.choose(desk.store, seen, key, entry, remember)
    )


@router.post("/create")
def create(request: Request, desk: Here, me: Me, document_id: int, key: str, version: Version) -> Response:
    """Create the entry where the list comes from."""
    try:
        message = entries.create(desk, Seen(document_id, version, me.id), key)
    except Missing:
        raise
    except NotDone as problem:
        return show_cards(request, desk, me, document_id, str(problem))
    return show_cards(request, desk, me, document_id, message, refused=False)


@router.post("/enter")
def enter(
    request: Request, desk: Here, me: Me, document_id: int, key: str, version: Version,
    text: Annotated[str, Form()] = "",
) -> Response:  # fmt: skip
    """The entry by its number or name."""
    return changed(request, desk, me, document_id, version, lambda seen: entries.find(desk.store, seen, key, text))


@router.post("/accept")
def accept(request: Request, desk: Here, me: Me, document_id: int, key: str, version: Version) -> Response:
    return changed(request, desk, me, document_id, version, lambda seen: entries.accept(desk.store, seen, key))
