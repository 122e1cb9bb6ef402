"""A document repository over WebDAV (RFC 4918): files with properties, found by their text on a page of its own.

``python -m zestpail.standins.repository --port 8638 --folder DIR`` starts it. For tests it can be told to misbehave:
``POST /misbehave`` with a list of what the next files that arrive meet.
"""

from __future__ import annotations

import argparse
import html
import secrets
from collections.abc import AsyncIterator, Iterator
from contextlib import asynccontextmanager
from functools import lru_cache
from pathlib import Path
from typing import Annotated, Any, cast
from urllib.parse import quote

import pypdfium2 as pdfium
import uvicorn
from a2wsgi import WSGIMiddleware
from defusedxml.ElementTree import fromstring
from fastapi import Body, FastAPI, Request
from fastapi.responses import HTMLResponse, Response
from starlette.middleware.base import RequestResponseEndpoint
from starlette.types import ASGIApp
from wsgidav.prop_man.property_manager import ShelvePropertyManager
from wsgidav.wsgidav_app import WsgiDAVApp

NAME = "Document repository (stand-in)"
AT = "/files"
COLUMNS = "{urn:zestpail:columns}"


def create_app(folder: Path, user: str, password: str) -> FastAPI:
    """The repository's files and its page."""
    files, kept = folder / "files", ShelvePropertyManager(str(folder / "properties"))
    files.mkdir(parents=True, exist_ok=True)

    @asynccontextmanager
    async def running(_: FastAPI) -> AsyncIterator[None]:
        yield
        kept._close()  # writes what is still in memory

    app = FastAPI(title=NAME, docs_url=None, redoc_url=None, openapi_url=None, lifespan=running)
    faults = list[str]()

    @app.middleware("http")
    async def misbehaving(request: Request, call_next: RequestResponseEndpoint) -> Response:
        arriving = request.method in ("PUT", "MOVE") and bool(faults)
        waits = arriving and faults[0] == "error after storing" and request.method == "PUT"
        fault = faults.pop(0) if arriving and not waits else ""
        if fault in ("error", "full"):
            return Response(status_code=500 if fault == "error" else 507)
        answer = await call_next(request)
        return Response(status_code=500) if fault == "error after storing" else answer

    @app.post("/misbehave")
    def misbehave(coming: Annotated[list[str], Body()]) -> dict[str, int]:
        faults[:] = coming
        return {"faults": len(faults)}

    @app.get("/", response_class=HTMLResponse)
    def page(text: str = "") -> str:
        found = [one for one in _there(files, kept) if text.casefold() in one["text"].casefold()]
        columns = sorted({name for one in found for name in one["properties"]})
        head = "".join(f"<th>{html.escape(name)}</th>" for name in ("File", *columns))
        rows = "".join(_row(one, columns) for one in found)
        return f"""<!doctype html><html lang="en"><meta charset="utf-8"><title>{NAME}</title><main><h1>{NAME}</h1>
<form><label>Text <input name="text" value="{html.escape(text)}"></label> <button>Find</button></form>
<p>{len(found)} files</p><table><thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table></main></html>"""

    @app.get("/file/{path:path}")
    def file(path: str) -> Response:
        there = (files / path).resolve()
        if not there.is_relative_to(files.resolve()) or not there.is_file():
            return Response(status_code=404)
        return Response(there.read_bytes(), media_type="application/pdf" if path.endswith(".pdf") else "text/plain")

    app.mount(AT, _dav(files, kept, user, password))
    return app


def _dav(files: Path, kept: ShelvePropertyManager, user: str, password: str) -> ASGIApp:
    config: dict[str, Any] = {
        "provider_mapping": {"/": str(files)},
        "mount_path": AT,
        "property_manager": True,
        "simple_dc": {"user_mapping": {"*": {user: {"password": password}}}},
        "http_authenticator": {"accept_basic": True, "accept_digest": False, "default_to_digest": False},
        "dir_browser": {"enable": False},
        "logging": {"enable": False},
        "verbose": 0,
    }
    app = WsgiDAVApp(config)
    app.prop_manager = kept
    for provider in app.provider_map.values():
        provider.set_prop_manager(kept)
    return cast(ASGIApp, WSGIMiddleware(app))


def _there(files: Path, kept: ShelvePropertyManager) -> Iterator[dict[str, Any]]:
    for path in sorted(one for one in files.rglob("*") if one.is_file()):
        name = path.relative_to(files).as_posix()
        url = f"/{quote(name)}"
        found = {tag: kept.get_property(url, tag) for tag in kept.get_properties(url) if tag.startswith(COLUMNS)}
        properties = {tag.removeprefix(COLUMNS): fromstring(value).text or "" for tag, value in found.items()}
        yield {"name": name, "properties": properties, "text": _text(path, path.stat().st_mtime_ns)}


@lru_cache(maxsize=1000)
def _text(path: Path, _changed: int) -> str:
    """What the file says, if it is a PDF or a text."""
    if path.suffix != ".pdf":
        return path.read_text("utf-8", "replace") if path.suffix in (".txt", ".json", ".xml", ".csv") else ""
    try:
        pdf = pdfium.PdfDocument(path)
    except pdfium.PdfiumError:
        return ""
    return " ".join(page.get_textpage().get_text_range() for page in pdf)


def _row(one: dict[str, Any], columns: list[str]) -> str:
    cells = "".join(f"<td>{html.escape(one['properties'].get(name, ''))}</td>" for name in columns)
    return f'<tr><td><a href="/file/{quote(one["name"])}">{html.escape(one["name"])}</a></td>{cells}</tr>'


def main() -> None:
    """Serve until stopped."""
    asked = argparse.ArgumentParser(description=NAME)
    asked.add_argument("--port", type=int, default=8638)
    asked.add_argument("--folder", type=Path, required=True)
    asked.add_argument("--user", default="harbour")
    asked.add_argument("--password", default="")
    given = asked.parse_args()
    password = given.password or secrets.token_urlsafe(18)
    print(f"{NAME} at http://127.0.0.1:{given.port}/, files at {AT}, {given.user} with {password}", flush=True)
    app = create_app(given.folder, given.user, password)
    uvicorn.run(app, host="127.0.0.1", port=given.port, log_level="warning")


if __name__ == "__main__":
    main()
