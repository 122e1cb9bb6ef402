"""A mailbox that takes every e-mail: kept as files, listed on a page of its own.

``python -m zestpail.standins.mailbox --port 8636 --smtp-port 8635 --folder DIR`` starts it.
"""

from __future__ import annotations

import argparse
import email
import email.policy
import html
import time
from pathlib import Path

import uvicorn
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session
from fastapi import FastAPI
from fastapi.responses import HTMLResponse, Response

NAME = "Mailbox (stand-in)"
MOST_BYTES = 100_000_000


class _Taker:
    def __init__(self, folder: Path) -> None:
        self._folder = folder

    async def handle_DATA(self, _server: SMTP, _session: Session, envelope: Envelope) -> str:
        name = f"{time.time_ns()}.eml"
        arriving = self._folder / f"{name}.arriving"
        arriving.write_bytes(envelope.original_content or b"")
        arriving.rename(self._folder / name)
        return "250 OK"


def create_app(folder: Path) -> FastAPI:
    """The page that lists what came."""
    app = FastAPI(title=NAME, docs_url=None, redoc_url=None, openapi_url=None)

    @app.get("/", response_class=HTMLResponse)
    def page() -> str:
        rows = "".join(_row(path) for path in sorted(folder.glob("*.eml"), reverse=True))
        return f"""<!doctype html><html lang="en"><meta charset="utf-8"><title>{NAME}</title><main><h1>{NAME}</h1>
<table><thead><tr><th>To</th><th>Subject</th><th>Attachments</th></tr></thead><tbody>{rows}</tbody></table></main></html>"""

    @app.get("/mails")
    def mails() -> list[dict[str, object]]:
        return [_details(path) for path in sorted(folder.glob("*.eml"))]

    @app.get("/mails/{name}")
    def mail(name: str) -> Response:
        path = folder / Path(name).name
        return Response(path.read_bytes(), media_type="message/rfc822") if path.exists() else Response(status_code=404)

    return app


def _details(path: Path) -> dict[str, object]:
    message = email.message_from_bytes(path.read_bytes(), policy=email.policy.default)
    return {"name": path.name, "to": str(message["to"]), "subject": str(message["subject"]),
            "id": str(message["message-id"]),
            "attachments": [part.get_filename() for part in message.iter_attachments()]}  # fmt: skip


def _row(path: Path) -> str:
    details = _details(path)
    cells = (details["to"], details["subject"], ", ".join(map(str, details["attachments"])))  # type: ignore[call-overload]
    return "<tr>" + "".join(f"<td>{html.escape(str(cell))}</td>" for cell in cells) + "</tr>"


def main() -> None:
    """Take mail until told to stop."""
    asked = argparse.ArgumentParser(description=NAME)
    asked.add_argument("--port", type=int, default=8636)
    asked.add_argument("--smtp-port", type=int, default=8635)
    asked.add_argument("--folder", type=Path, required=True)
    given = asked.parse_args()
    given.folder.mkdir(parents=True, exist_ok=True)
    taker = Controller(_Taker(given.folder), hostname="127.0.0.1", port=given.smtp_port, data_size_limit=MOST_BYTES)
    taker.start()
    uvicorn.run(create_app(given.folder), host="127.0.0.1", port=given.port, log_level="warning")
    taker.stop()


if __name__ == "__main__":
    main()
