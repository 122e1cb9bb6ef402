"""Odd requests of somebody who has signed in: each is answered with a sentence, and with the headers that protect."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.conftest import token_for
from tests.desk.flow import LANE, drop, read_all
from zestpail.api import create_api
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.store import Store
from zestpail.web import app as web_app
from zestpail.web.app import create_app
from zestpail.web.shell.security import HEADERS

ORIGIN = "http://127.0.0.1"
ODD = ("99999999999999999999", "-1", "9" * 19, "%00", "a%00b", "%2e%2e", "NaN", "1e999", "'", "%ff")
PAGES = (
    "/batches/{}", "/batches/{}/ribbon", "/batches/{}/sheet", "/batches/{}/receipts", "/batches/{}/withdraw",
    "/review/{}", "/pages/{}", "/pages/{}/thumbnail", "/lanes/{}", "/lanes/{}/destinations", "/lanes/{}/sorting",
    "/types/{}", "/find?words={}", "/batches?state={}&lane={}", "/deliveries?lane={}&destination={}", "/review?lane={}",
)  # fmt: skip


@pytest.fixture
def pages(store: Store, ines: SignedIn, tmp_path: Path) -> Iterator[TestClient]:
    app = create_app(Desk(store, tmp_path), "a secret for tests", stopping=lambda: True)
    app.mount("/api/v1", create_api(Desk(store, tmp_path)))
    with TestClient(app, base_url=ORIGIN, raise_server_exceptions=False, headers={"origin": ORIGIN}) as opened:
        opened.post("/sign-in", data={"login": "ines", "password": "quillon"})
        yield opened


def guarded(answer: object) -> bool:
    return all(answer.headers.get(name) for name in HEADERS)


@pytest.mark.parametrize("page", PAGES)
def test_odd_addresses_are_pages_or_none(pages: TestClient, page: str) -> None:
    for odd in ODD:
        answer = pages.get(page.replace("{}", odd))
        assert answer.status_code < 500, (page, odd, answer.status_code)
        assert guarded(answer)


def test_odd_entries_are_told_or_kept_as_text(pages: TestClient, store: Store, ines: SignedIn) -> None:
    batch = drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    for odd in ("\0", "a\0b", "NaN", "Infinity", "9" * 400, "-9" * 30, "\ud800".encode("utf-8", "surrogatepass")):
        for path, names in (
            ("/lanes", ("name", "type")), (f"/batches/{batch}/control", ("documents", "field", "total")),
            (f"/lanes/{LANE}/letter/delivery", ("naming", "folder", "csv", "xlsx", "mail_to")),
            (f"/lanes/{LANE}/letter/review", ("review_below", "take_back_seconds")),
            (f"/lanes/{LANE}/destinations", ("name", "address", "secret")),
            (f"/lanes/{LANE}/calls", ("address", "state")),
            ("/deliveries/again", ("documents", "lane")), ("/people", ("login", "name", "password")),
        ):  # fmt: skip
            answer = pages.post(path, data={**dict.fromkeys(names, odd), "kind": "record"})
            assert answer.status_code < 500, (path, odd, answer.text[:300])
            assert guarded(answer)


def test_programs_are_always_told_the_problem(pages: TestClient, store: Store, ines: SignedIn) -> None:
    token = {"authorization": f"Bearer {token_for(store, 'flow', ines)}"}
    asked = [pages.get(f"/api/v1/batches/{odd}", headers=token) for odd in (*ODD, "1")]
    asked += [pages.post(f"/api/v1/lanes/{LANE}/files", headers=token), pages.get("/api/v1/nowhere", headers=token),
              pages.put("/api/v1/lanes", headers=token), pages.get("/api/v1/lanes")]  # fmt: skip
    for answer in asked:
        assert 400 <= answer.status_code < 500 and answer.json()["status"] == answer.status_code, answer.text
        assert guarded(answer)


def test_what_breaks_is_guarded_too(pages: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("zestpail.web.today.today.today", None)
    answer = pages.get("/")
    assert answer.status_code == 500 and "Something broke on our side" in answer.text and guarded(answer)
    assert web_app.HEADERS == HEADERS
