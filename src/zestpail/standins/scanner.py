"""A sheet-fed scanner as a small HTTP application. Its protocol is told in docs/scanner.md.

``python -m zestpail.standins.scanner --port 8630 --load pile.tif`` starts it; its own page, where paper is laid in and
faults are made, is at ``/``. It keeps a scanned sheet until the next one is asked for, so that none is lost on the way.
"""

from __future__ import annotations

import argparse
import html
import threading
import uuid
from pathlib import Path
from typing import Annotated

import uvicorn
from fastapi import FastAPI, File, Form, UploadFile
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from pydantic import BaseModel

from zestpail.standins.feeder import Colours, Fault, Feeder, Sheet, as_tiff

NAME = "Sheet-feed scanner (stand-in)"
DPIS, COLOURS = (150, 200, 300), ("black and white", "grey", "colour")


class Wanted(BaseModel):
    """How a pile is to be scanned."""

    dpi: int = 200
    colours: Colours = "black and white"
    duplex: bool = True


class GoOn(BaseModel):
    """How to go on after a fault; ``keep`` takes two sheets that went through together as one."""

    keep: bool = False


class Device:
    """The scanner's state: its paper, the job at hand, and what stopped it."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.feeder = Feeder()
        self.job, self.wanted = "", Wanted()
        self.number, self.last = 0, b""
        self.fault: Fault | None = None

    def begin(self, wanted: Wanted) -> str:
        self.job, self.wanted, self.number, self.last, self.fault = uuid.uuid4().hex, wanted, 0, b"", None
        return self.job

    def sheet(self, number: int) -> bytes | Fault | None:
        """The sheet of that number of the job, what stops it, or None where there is no more paper."""
        if number == self.number and self.last:
            return self.last
        if self.fault is None:
            self.fault = self.feeder.faults.pop(number, None)
        if self.fault:
            return self.fault
        if not self.feeder.sheets:
            return None
        return self._through(number, self.feeder.sheets.pop(0))

    def go_on(self, keep: bool) -> None:
        """A person saw to it: jammed paper is straightened, sheets fed double lie on the stack again."""
        if self.fault == "double feed" and keep and len(self.feeder.sheets) > 1:
            first, second = self.feeder.sheets[:2]
            self.feeder.sheets[:2] = [Sheet(first.front, second.back)]  # what was between them nobody saw
        self.fault = None

    def _through(self, number: int, paper: Sheet) -> bytes:
        sides = paper.scanned(self.wanted.dpi, self.wanted.colours, self.wanted.duplex)
        self.number, self.last = number, as_tiff(sides, self.wanted.dpi)
        return self.last


def create_app(device: Device) -> FastAPI:
    """The scanner's protocol and its own page."""
    app = FastAPI(title=NAME, docs_url=None, redoc_url=None, openapi_url=None)

    @app.get("/device")
    def details() -> dict[str, object]:
        with device.lock:
            return {"name": NAME, "sheets": len(device.feeder.sheets), "problem": device.fault or "",
                    "dpi": DPIS, "colours": COLOURS, "duplex": True}  # fmt: skip

    @app.post("/jobs")
    def begin(wanted: Wanted) -> Response:
        with device.lock:
            if not device.feeder.sheets:
                return JSONResponse({"problem": "no paper"}, 409)
            return JSONResponse({"job": device.begin(wanted)})

    @app.get("/jobs/{job}/sheets/{number}")
    def sheet(job: str, number: int) -> Response:
        with device.lock:
            if job != device.job:
                return JSONResponse({"problem": "another job was begun"}, 410)
            found = device.sheet(number)
        if found is None:
            return Response(status_code=204)
        if isinstance(found, str):
            return JSONResponse({"problem": found, "sheet": number}, 409)
        return Response(found, media_type="image/tiff")

    @app.post("/jobs/{job}/go-on")
    def go_on(job: str, how: GoOn) -> Response:
        with device.lock:
            if job != device.job:
                return JSONResponse({"problem": "another job was begun"}, 410)
            device.go_on(how.keep)
        return Response(status_code=204)

    @app.get("/", response_class=HTMLResponse)
    def page() -> str:
        return _page(device)

    @app.post("/paper")
    def load(files: Annotated[list[UploadFile], File()], both_sides: Annotated[bool, Form()] = False) -> Response:
        with device.lock:
            for file in files:
                device.feeder.load(file.file.read(), both_sides)
        return RedirectResponse("/", 303)

    @app.post("/faults")
    def fault(fault: Annotated[Fault, Form()], sheet: Annotated[int, Form()]) -> Response:
        with device.lock:
            device.feeder.faults[sheet] = fault
        return RedirectResponse("/", 303)

    return app


def _page(device: Device) -> str:
    faults = ", ".join(f"{fault} at sheet {number}" for number, fault in sorted(device.feeder.faults.items()))
    return f"""<!doctype html><html lang="en"><meta charset="utf-8"><title>{NAME}</title>
<main><h1>{NAME}</h1>
<p>{len(device.feeder.sheets)} sheets in the feeder. {html.escape(device.fault or "")}</p>
<form method="post" action="/paper" enctype="multipart/form-data"><p><label>Lay in paper <input type="file" name="files"
 multiple accept=".pdf,.tif,.tiff,.png,.jpg"></label> <label><input type="checkbox" name="both_sides" value="true"
 checked> the file has fronts and backs</label> <button>Lay in</button></p></form>
<form method="post" action="/faults"><p><label>Make a <select name="fault"><option>paper jam</option><option>double feed
</option></select></label> <label>at sheet <input type="number" name="sheet" min="1" value="12"></label>
 <button>Make it</button> {html.escape(faults)}</p></form></main></html>"""


def main() -> None:
    """Serve a scanner until told to stop."""
    asked = argparse.ArgumentParser(description=NAME)
    asked.add_argument("--port", type=int, default=8630)
    asked.add_argument("--load", type=Path, help="A file with fronts and backs that lies in the feeder.")
    given = asked.parse_args()
    device = Device()
    if given.load:
        device.feeder.load(given.load.read_bytes(), both_sides=True)
    uvicorn.run(create_app(device), host="127.0.0.1", port=given.port, log_level="warning")


if __name__ == "__main__":
    main()
