"""Bodies of requests: nothing of them is read before it is known who sends them, and never more than is taken."""

from __future__ import annotations

import socket
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import urlsplit

import pytest
from fastapi import FastAPI

from tests.conftest import token_for
from tests.delivery.servers import served
from tests.desk.flow import LANE
from zestpail.api import create_api, create_calls
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.store import Store
from zestpail.web.app import BESIDE_A_FILE, create_app


@pytest.fixture
def address(store: Store, ines: SignedIn, tmp_path: Path) -> Iterator[str]:
    desk = Desk(store, tmp_path)
    app: FastAPI = create_app(desk, "a secret for tests", stopping=lambda: True)
    app.mount("/api/v1", create_api(desk))
    app.mount("/calls", create_calls(desk))
    with served(app) as started:
        yield started


def begun(address: str, path: str, length: int, *head: str) -> tuple[str, int]:
    """Announce a body of that length, and send of it what is taken; returns the answer, and how much that was."""
    parts = urlsplit(address)
    with socket.create_connection((parts.hostname or "", parts.port or 0), timeout=20) as link:
        lines = [f"POST {path} HTTP/1.1", f"Host: {parts.netloc}", f"Content-Length: {length}", *head,
                 "Content-Type: multipart/form-data; boundary=x"]  # fmt: skip
        link.sendall("\r\n".join(lines).encode() + b"\r\n\r\n--x\r\n")
        sent, answer = 5, b""
        link.settimeout(0.3)
        piece = b"y" * 1_000_000
        while not answer and sent < min(length, 30_000_000):
            try:
                answer = link.recv(200)
                break
            except TimeoutError:
                pass
            try:
                sent += link.send(piece)
            except OSError:
                break
        link.settimeout(20)
        return (answer or link.recv(200)).split(b"\r\n")[0].decode(), sent


@pytest.mark.parametrize(
    ("path", "wanted"),
    [(f"/lanes/{LANE}/files", "303"), (f"/api/v1/lanes/{LANE}/files", "401"), ("/uploads", "303"), ("/sign-in", "413")],
)
def test_who_it_is_comes_first(address: str, path: str, wanted: str) -> None:
    said, sent = begun(address, path, 150_000_000)
    assert wanted in said and sent < 5_000_000, "all of it was laid on the disk before it was refused"
    said, sent = begun(address, path, 1_500_000_000)
    assert "413" in said and sent < 5_000_000, "and so was this"


def test_no_more_than_is_taken(address: str, store: Store, ines: SignedIn) -> None:
    token = token_for(store, "post room", ines)
    said, sent = begun(
        address,
        f"/api/v1/lanes/{LANE}/files",
        (store.limits.max_bytes + BESIDE_A_FILE) * 5,
        f"Authorization: Bearer {token}",
    )
    assert "413" in said and sent < 5_000_000
    assert "413" in begun(address, f"/calls/{LANE}", 1_500_000_000)[0]
