"""Where a lane delivers: destinations set up, their files chosen, their columns tied, tried with one document."""

from __future__ import annotations

from typing import Annotated, Any, get_args

from fastapi import APIRouter, Depends, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.delivery.columns import KINDS, ColumnKind
from zestpail.desk.delivery.outlets import outlets_at
from zestpail.desk.lanes.destinations import edits, ties, view
from zestpail.web.shell.permissions import ADMINISTRATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter(prefix="/lanes/{key}/destinations", dependencies=ADMINISTRATORS)
Text = Annotated[str, Form()]
Forms = Annotated[list[str], Form(default_factory=list)]
Number = Annotated[int | None, Form()]


@router.get("")
def destinations(request: Request, desk: Here, key: str) -> Response:
    seen = view.destinations_of_lane(desk.store, key)
    return place(request, "lanes/destinations/destinations.html", view=seen)


async def entered(request: Request) -> dict[str, str]:
    """What was entered, whatever a kind of destination asks."""
    return {name: value for name, value in (await request.form()).items() if isinstance(value, str)}


Entered = Annotated[dict[str, str], Depends(entered)]


@router.post("")
def add(desk: Here, me: Me, key: str, told: Entered) -> Response:
    """Another destination, of the kind that was chosen."""
    made = edits.add(desk.store, outlets_at(desk), desk.data, key, told.get("kind", ""), told, me.id)
    return _back(key, made)


@router.post("/undo")
def undo_here(desk: Here, me: Me, key: str) -> Response:
    """Undo the last change, such as a removal."""
    edits.undo(desk.store, key, me.id)
    return RedirectResponse(f"/lanes/{key}/destinations", status_code=303)


@router.get("/{there}")
def destination(request: Request, desk: Here, key: str, there: str, document: int | None = None) -> Response:
    seen = view.destination_view(desk.store, key, there, document)
    return place(request, "lanes/destinations/destination.html", view=seen, kinds=KINDS)


@router.post("/{there}")
def set_up(desk: Here, me: Me, key: str, there: str, told: Entered) -> Response:
    """Its settings, as entered."""
    edits.set_up(desk.store, outlets_at(desk), desk.data, key, there, told, me.id)
    return _back(key, there)


@router.post("/{there}/files")
def files(
    desk: Here, me: Me, key: str, there: str, forms: Forms, naming: Text = "",
    document: Number = None,
) -> Response:  # fmt: skip
    """In which forms documents go there, and how they are named."""
    edits.set_files(desk.store, key, there, forms, naming, me.id)
    return _back(key, there, document)


@router.post("/{there}/columns/ask")
def ask(desk: Here, me: Me, key: str, there: str, document: Number = None) -> Response:
    """The other side is asked again what it says of itself."""
    edits.meet(desk.store, outlets_at(desk), key, there, me.id)
    return _back(key, there, document)


@router.post("/{there}/columns")
def add_column(
    desk: Here, me: Me, key: str, there: str, name: Text = "", kind: Text = "text", document: Number = None
) -> Response:
    """A column that is not there yet."""
    known: ColumnKind = next((one for one in get_args(ColumnKind) if one == kind), "text")
    ties.add_column(desk.store, key, there, name, known, me.id)
    return _back(key, there, document)


@router.post("/{there}/ties")
def tie(
    desk: Here, me: Me, key: str, there: str, column: Text = "", ours: Text = "", source: Text = "field",
    written: Text = "as_it_is", always: Text = "", pattern: Text = "", entries: Text = "", looked: Text = "",
    otherwise: Text = "", document: Number = None,
) -> Response:  # fmt: skip
    """What goes into a column: a value, a fixed text, several values in one text, or a short list."""
    known: dict[str, dict[str, Any] | None] = {
        "field": {"source": "field", "key": ours, "written": written},
        "fixed": {"source": "fixed", "always": always.strip()},
        "joined": {"source": "joined", "pattern": pattern.strip()},
        "lookup": {"source": "lookup", "key": looked, "entries": _pairs(entries), "otherwise": otherwise.strip()},
    }
    ties.tie(desk.store, key, there, column, known.get(source), me.id)
    return _back(key, there, document)


@router.post("/{there}/ties/alike")
def tie_alike(desk: Here, me: Me, key: str, there: str, document: Number = None) -> Response:
    """Everything that is called the same is tied."""
    ties.tie_alike(desk.store, key, there, me.id)
    return _back(key, there, document)


@router.post("/{there}/ties/remove")
def untie(desk: Here, me: Me, key: str, there: str, column: Text = "", document: Number = None) -> Response:
    ties.tie(desk.store, key, there, column, None, me.id)
    return _back(key, there, document)


@router.post("/{there}/test")
def test(request: Request, desk: Here, key: str, there: str, document: Annotated[int, Form()]) -> Response:
    """One document is sent, and taken out over there again."""
    tried = view.try_destination(desk.store, outlets_at(desk), key, there, document)
    return page(request, "lanes/destinations/tried.html", tried=tried, document=document)


@router.post("/{there}/undo")
def undo(desk: Here, me: Me, key: str, there: str, document: Number = None) -> Response:
    edits.undo(desk.store, key, me.id)
    return _back(key, there, document)


@router.post("/{there}/remove")
def remove(desk: Here, me: Me, key: str, there: str) -> Response:
    edits.remove(desk.store, key, there, me.id)
    return RedirectResponse(f"/lanes/{key}/destinations", status_code=303)


def _pairs(entries: str) -> list[tuple[str, str]]:
    """Lines such as ``Maren Tide = 4100``."""
    parts = [line.partition("=") for line in entries.splitlines() if "=" in line]
    return [(ours.strip(), theirs.strip()) for ours, _, theirs in parts]


def _back(key: str, there: str, document: int | None = None) -> Response:
    of = f"?document={document}" if document else ""
    return RedirectResponse(f"/lanes/{key}/destinations/{there}{of}", status_code=303)
