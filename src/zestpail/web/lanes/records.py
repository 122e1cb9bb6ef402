"""Where a lane sends records to: connected, tied column by column, tried with one document."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.batches.today import status
from zestpail.desk.lanes.records import edits, view
from zestpail.web.shell.session import SIGNED_IN, Here, Me
from zestpail.web.shell.templating import page

router = APIRouter(prefix="/lanes/{key}/records", dependencies=SIGNED_IN)
Text = Annotated[str, Form()]


@router.get("")
def records(request: Request, desk: Here, key: str) -> Response:
    seen = view.records_of(desk.store, key)
    return page(request, "lanes/records/records.html", view=seen, status=status(desk.store))


@router.post("")
def connect(desk: Here, me: Me, key: str, name: Text = "", address: Text = "", secret: Text = "") -> Response:
    """Another address that takes records."""
    made = edits.add(desk.store, desk.web, desk.data, key, name, address, secret, me.id)
    return RedirectResponse(f"/lanes/{key}/records/{made}", status_code=303)


@router.post("/undo")
def undo_here(desk: Here, me: Me, key: str) -> Response:
    """Undo the last change, such as a removal."""
    edits.undo(desk.store, key, me.id)
    return RedirectResponse(f"/lanes/{key}/records", status_code=303)


@router.get("/{record_id}")
def mapping(request: Request, desk: Here, key: str, record_id: str, document: int | None = None) -> Response:
    seen = view.mapping_view(desk.store, key, record_id, document)
    return page(request, "lanes/records/mapping.html", view=seen, status=status(desk.store))


@router.post("/{record_id}/ties")
def tie(
    desk: Here, me: Me, key: str, record_id: str, column: Text = "", ours: Text = "", source: Text = "field",
    written: Text = "as_it_is", always: Text = "", pattern: Text = "", entries: Text = "", looked: Text = "",
    otherwise: Text = "",
    document: Annotated[int | None, Form()] = None,
) -> Response:  # fmt: skip
    """What goes into a column: a value, a fixed text, several values in one text, or a short list."""
    table, _, field = (looked if source == "lookup" else ours).rpartition("/")
    known: dict[str, dict[str, Any] | None] = {
        "field": {"source": "field", "key": field, "written": written},
        "fixed": {"source": "fixed", "always": always.strip()},
        "joined": {"source": "joined", "pattern": pattern.strip()},
        "lookup": {"source": "lookup", "key": field, "entries": _pairs(entries), "otherwise": otherwise.strip()},
    }
    edits.tie(desk.store, key, record_id, column, known.get(source), table, me.id)
    return _back(key, record_id, document)


@router.post("/{record_id}/ties/remove")
def untie(desk: Here, me: Me, key: str, record_id: str, column: Text = "",
          document: Annotated[int | None, Form()] = None) -> Response:  # fmt: skip
    edits.tie(desk.store, key, record_id, column, None, "", me.id)
    return _back(key, record_id, document)


@router.post("/{record_id}/columns")
def ask_columns(desk: Here, me: Me, key: str, record_id: str) -> Response:
    edits.ask_columns(desk.store, desk.web, key, record_id, me.id)
    return _back(key, record_id)


@router.post("/{record_id}/key")
def new_key(desk: Here, me: Me, key: str, record_id: str, secret: Text = "") -> Response:
    edits.new_key(desk.store, desk.data, key, record_id, secret, me.id)
    return _back(key, record_id)


@router.post("/{record_id}/test")
def test(request: Request, desk: Here, key: str, record_id: str, document: Annotated[int, Form()]) -> Response:
    """One document is sent, and removed over there again."""
    tried = view.try_record(desk.store, desk.web, key, record_id, document)
    return page(request, "lanes/records/tried.html", tried=tried)


@router.post("/{record_id}/undo")
def undo(desk: Here, me: Me, key: str, record_id: str, document: Annotated[int | None, Form()] = None) -> Response:
    edits.undo(desk.store, key, me.id)
    return _back(key, record_id, document)


@router.post("/{record_id}/remove")
def remove(desk: Here, me: Me, key: str, record_id: str) -> Response:
    edits.remove(desk.store, key, record_id, me.id)
    return RedirectResponse(f"/lanes/{key}/records", status_code=303)


def _pairs(entries: str) -> list[tuple[str, str]]:
    """Lines such as ``Maren Tide = 4100``."""
    parts = [line.partition("=") for line in entries.splitlines() if "=" in line]
    return [(ours.strip(), theirs.strip()) for ours, _, theirs in parts]


def _back(key: str, record_id: str, document: int | None = None) -> Response:
    of = f"?document={document}" if document else ""
    return RedirectResponse(f"/lanes/{key}/records/{record_id}{of}", status_code=303)
