"""An empty store on a private PostgreSQL, and a person signed in to its pages: what measuring the desk begins with."""

from __future__ import annotations

import gc
import socket
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import uvicorn
from fastapi.testclient import TestClient

from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.people import people
from zestpail.desk.people.people import SignedIn
from zestpail.runtime import cluster
from zestpail.store import Store, open_store
from zestpail.store.migrate import migrate
from zestpail.web.app import create_app

ORIGIN = {"origin": "http://127.0.0.1"}


@contextmanager
def private_store() -> Iterator[tuple[Store, Path, SignedIn]]:
    """The store, the folder that it lies in, and its only person."""
    with tempfile.TemporaryDirectory() as folder:
        running = cluster.start(Path(folder), fast=True)
        try:
            migrate(running.url)
            store = open_store(running.url, f"{folder}/blobs")
            people.add_person(store, "bench", "Bench", "quillon")
            person = people.sign_in(store, "bench", "quillon")
            assert person
            yield store, Path(folder), person
            store.engine.dispose()
        finally:
            cluster.stop(running)


def signed_in(store: Store, folder: Path) -> TestClient:
    """The pages, as the person sees them."""
    gc.freeze()  # as the server does
    client = TestClient(create_app(Desk(store, folder), "bench"), base_url=ORIGIN["origin"])
    client.post("/sign-in", data={"login": "bench", "password": "quillon"}, headers=ORIGIN)
    return client


@contextmanager
def served(store: Store, folder: Path) -> Iterator[str]:
    """The pages on a port of their own, for a browser; the address."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server = uvicorn.Server(uvicorn.Config(create_app(Desk(store, folder), "bench"), port=port, log_level="error"))
    running = threading.Thread(target=server.run, daemon=True)
    running.start()
    while not server.started:
        time.sleep(0.05)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    running.join(10)
