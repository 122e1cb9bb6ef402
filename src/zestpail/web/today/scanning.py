"""A pile is scanned for a lane: how, how far it is, and what to do when the scanner stops."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.documents.messages import Missing
from zestpail.desk.intake import scanning
from zestpail.desk.intake.scanning import ScanSettings, scanner_at
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter(dependencies=OPERATORS)


@router.get("/lanes/{key}/scan")
def scanner(request: Request, desk: Here, key: str) -> Response:
    view = scanning.scan_place(desk.store, scanner_at(desk.scanner), key)
    return place(request, "today/scan.html", view=view, scan=view.scan)


@router.post("/lanes/{key}/scan")
def begin(
    desk: Here, me: Me, key: str, dpi: Annotated[int, Form()] = 200,
    colours: Annotated[Literal["black and white", "grey", "colour"], Form()] = "black and white",
    sides: Annotated[str, Form()] = "both",
) -> Response:  # fmt: skip
    settings = ScanSettings(dpi=dpi, colours=colours, duplex=sides == "both")
    scanning.begin_scan(desk.store, scanner_at(desk.scanner), key, settings, me.id)
    return RedirectResponse(f"/lanes/{key}/scan", status_code=303)


@router.get("/scans/{scan_id}")
def progress(request: Request, desk: Here, scan_id: int) -> Response:
    """The part of the page that changes."""
    return page(request, "today/scanning.html", scan=scanning.scan_view(desk.store, scan_id))


@router.post("/scans/{scan_id}")
def see_to(desk: Here, me: Me, scan_id: int, act: Annotated[str, Form()]) -> Response:
    """What a person does about a pile in the scanner."""
    store = desk.store
    acts = {
        "go on": lambda: scanning.go_on(store, scanner_at(desk.scanner), scan_id, False, me.id),
        "take as one": lambda: scanning.go_on(store, scanner_at(desk.scanner), scan_id, True, me.id),
        "end here": lambda: scanning.end_scan(store, scan_id),
        "give up": lambda: scanning.give_up(store, scan_id, me.id),
    }
    if act not in acts:
        raise Missing("There is no such act.")
    acts[act]()
    return RedirectResponse(f"/lanes/{scanning.scan_view(store, scan_id).lane_key}/scan", status_code=303)
