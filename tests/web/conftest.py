"""A browser or program that speaks to the web and the API of a store, without a server."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from zestpail.api import create_api, mounted
from zestpail.desk.documents import notices
from zestpail.desk.documents.desk_context import Desk
from zestpail.store import Store
from zestpail.web.app import create_app

ADDRESS = "http://127.0.0.1"


@pytest.fixture
def client(store: Store, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[TestClient]:
    monkeypatch.setattr(notices, "warm_reader", lambda: None)  # no box is drawn here
    desk = Desk(store, tmp_path / "delivered", tmp_path / "arriving")
    app = create_app(desk, "a secret for tests", stopping=lambda: True)
    app.router.routes.append(mounted("/api/v1", create_api(desk)))
    with TestClient(app, base_url=ADDRESS, follow_redirects=False, raise_server_exceptions=False) as opened:
        yield opened
