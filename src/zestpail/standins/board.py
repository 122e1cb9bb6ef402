"""A board of cards with columns, attachments and states; a change of state calls whoever asked to be told.

``python -m zestpail.standins.board --port 8639 --folder DIR`` starts it. Calls are signed as Standard Webhooks 1.0 has
it, and made again where nobody answers.
"""

from __future__ import annotations

import argparse
import base64
import hashlib
import hmac
import html
import json
import secrets
import threading
import time
from pathlib import Path
from typing import Annotated, Any

import httpx
import uvicorn
from fastapi import Body, FastAPI, File, Form, Header, Request, UploadFile
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response

NAME = "Board (stand-in)"
STATES = ("new", "to be read", "read")
COLUMNS: dict[str, Any] = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Card",
    "type": "object",
    "properties": {
        "state": {"type": "string", "title": "State", "enum": list(STATES)},
        "supplier": {"type": "string", "title": "Supplier", "maxLength": 80},
        "number": {"type": "string", "title": "Number", "maxLength": 40},
        "date": {"type": "string", "format": "date", "title": "Date"},
        "amount": {"type": "number", "title": "Amount"},
        "vessel": {"type": "string", "title": "Vessel", "maxLength": 60},
        "remark": {"type": "string", "title": "Remark", "maxLength": 200},
    },
}  # fmt: skip
SHOWN = tuple(COLUMNS["properties"])
Authorization = Annotated[str, Header()]


class Board:
    """The cards, a file each beside its attachment, and who is told of changes."""

    def __init__(self, folder: Path) -> None:
        self._folder, self._lock = folder, threading.Lock()
        folder.mkdir(parents=True, exist_ok=True)

    def cards(self) -> list[dict[str, Any]]:
        found = [json.loads(path.read_text()) for path in self._folder.glob("C-*.json")]
        return sorted(found, key=lambda card: int(card["id"].removeprefix("C-")))

    def card(self, number: str) -> dict[str, Any] | None:
        path = self._folder / f"{Path(number).name}.json"
        return dict(json.loads(path.read_text())) if path.exists() else None

    def add(self, title: str, name: str, data: bytes) -> str:
        with self._lock:
            number = f"C-{len(self.cards()) + 1}"
            (self._folder / f"{number}.attachment").write_bytes(data)
            self._keep({"id": number, "title": title, "file": Path(name).name, "state": STATES[0]})
        return number

    def change(self, number: str, columns: dict[str, Any]) -> None:
        """Write columns into a card (RFC 7396): what is null is taken out, what is not named stays."""
        with self._lock:
            card = self.card(number) or {}
            self._keep({key: value for key, value in (card | columns).items() if value is not None})

    def attachment(self, number: str) -> bytes | None:
        path = self._folder / f"{Path(number).name}.attachment"
        return path.read_bytes() if path.exists() else None

    def told(self) -> dict[str, str]:
        path = self._folder / "told.json"
        return dict(json.loads(path.read_text())) if path.exists() else {}

    def tell(self, address: str, secret: str) -> None:
        (self._folder / "told.json").write_text(json.dumps({"address": address, "secret": secret}))

    def _keep(self, card: dict[str, Any]) -> None:
        (self._folder / f"{card['id']}.json").write_text(json.dumps(card))


def called(board: Board, card: dict[str, Any]) -> None:
    """Tell of a change of state, several times where nobody answers."""
    told = board.told()
    if not told.get("address"):
        return
    body = json.dumps({"type": "card.state", "data": {"id": card["id"], "state": card["state"]}}).encode()
    identity, at = f"msg_{secrets.token_hex(8)}", str(int(time.time()))
    seal = hmac.new(told["secret"].encode(), f"{identity}.{at}.".encode() + body, hashlib.sha256).digest()
    head = {"content-type": "application/json", "webhook-id": identity, "webhook-timestamp": at,
            "webhook-signature": f"v1,{base64.b64encode(seal).decode()}"}  # fmt: skip
    for attempt in range(5):
        try:
            if httpx.post(told["address"], content=body, headers=head, timeout=5).status_code < 500:
                return
        except httpx.HTTPError:
            pass
        time.sleep(1 << attempt)


def create_app(folder: Path, key: str) -> FastAPI:
    """The board's calls and its page."""
    app, board = FastAPI(title=NAME, docs_url=None, redoc_url=None, openapi_url=None), Board(folder)

    def refused(status: int, title: str) -> Response:
        return JSONResponse({"title": title, "status": status}, status, media_type="application/problem+json")

    def knows(authorization: str) -> bool:
        return secrets.compare_digest(authorization, f"Bearer {key}")

    def moved(number: str, state: str) -> None:
        before = board.card(number)
        board.change(number, {"state": state})
        if before and before["state"] != state:
            threading.Thread(target=called, args=(board, {**before, "state": state}), daemon=True).start()

    @app.get("/api/cards/columns")
    def columns(authorization: Authorization = "") -> Response:
        return JSONResponse(COLUMNS) if knows(authorization) else refused(401, "The key is not known.")

    @app.get("/api/cards/{number}")
    def card(request: Request, number: str, authorization: Authorization = "") -> Response:
        if not knows(authorization):
            return refused(401, "The key is not known.")
        found = board.card(number)
        if found is None:
            return refused(404, "There is no such card.")
        there = f"{str(request.base_url).rstrip('/')}/api/cards/{number}/attachments/1"
        return JSONResponse({**found, "attachments": [{"name": found["file"], "address": there}]})

    @app.get("/api/cards/{number}/attachments/1")
    def attachment(number: str, authorization: Authorization = "") -> Response:
        data = board.attachment(number) if knows(authorization) else None
        return refused(404, "There is nothing.") if data is None else Response(data, media_type="application/pdf")

    @app.patch("/api/cards/{number}")
    def change(number: str, body: Annotated[dict[str, Any], Body()], authorization: Authorization = "") -> Response:
        if not knows(authorization):
            return refused(401, "The key is not known.")
        if board.card(number) is None:
            return refused(404, "There is no such card.")
        wrong = next((name for name in body if name not in COLUMNS["properties"]), "")
        if wrong:
            return refused(422, f"There is no column “{wrong}”.")
        board.change(number, body)
        return JSONResponse({"id": number})

    @app.post("/told")
    def tell(address: Annotated[str, Form()], secret: Annotated[str, Form()]) -> Response:
        board.tell(address, secret)
        return RedirectResponse("/", 303)

    @app.post("/cards")
    def add(title: Annotated[str, Form()], file: Annotated[UploadFile, File()]) -> Response:
        board.add(title, file.filename or "file", file.file.read())
        return RedirectResponse("/", 303)

    @app.post("/cards/{number}/state")
    def state(number: str, state: Annotated[str, Form()]) -> Response:
        moved(number, state)
        return RedirectResponse("/", 303)

    @app.get("/", response_class=HTMLResponse)
    def page() -> str:
        return _page(board)

    return app


def _page(board: Board) -> str:
    head = "".join(f"<th>{COLUMNS['properties'][name]['title']}</th>" for name in SHOWN[1:])
    rows = "".join(_row(card) for card in board.cards())
    told = board.told()
    return f"""<!doctype html><html lang="en"><meta charset="utf-8"><title>{NAME}</title><main><h1>{NAME}</h1>
<form method="post" action="/told"><label>Tell changes of state to <input name="address" size="60" value="{
        html.escape(told.get("address", ""))
    }"></label> <label>signed with <input name="secret" type="password"></label>
<button>Keep</button></form>
<form method="post" action="/cards" enctype="multipart/form-data"><label>New card <input name="title" required></label>
<input type="file" name="file" required aria-label="Attachment"> <button>Add</button></form>
<table><thead><tr><th>Card</th><th>Title</th><th>Attachment</th><th>State</th>{head}</tr></thead>
<tbody>{rows}</tbody></table></main></html>"""


def _row(card: dict[str, Any]) -> str:
    choices = "".join(f"<option{' selected' if one == card['state'] else ''}>{one}</option>" for one in STATES)
    cells = "".join(f"<td>{html.escape(str(card.get(name, '')))}</td>" for name in SHOWN[1:])
    return f"""<tr id="{card["id"]}"><td>{card["id"]}</td><td>{html.escape(card["title"])}</td><td>{
        html.escape(card["file"])
    }</td><td><form method="post" action="/cards/{card["id"]}/state"><select name="state"
aria-label="State of {card["id"]}">{choices}</select> <button>Change</button></form></td>{cells}</tr>"""


def main() -> None:
    """Serve until stopped."""
    asked = argparse.ArgumentParser(description=NAME)
    asked.add_argument("--port", type=int, default=8639)
    asked.add_argument("--folder", type=Path, required=True)
    asked.add_argument("--key", default="")
    given = asked.parse_args()
    key = given.key or secrets.token_urlsafe(18)
    print(f"{NAME} at http://127.0.0.1:{given.port}/, cards at /api/cards, key {key}", flush=True)
    uvicorn.run(create_app(given.folder, key), host="127.0.0.1", port=given.port, log_level="warning")


if __name__ == "__main__":
    main()
