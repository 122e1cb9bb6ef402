"""What every request and answer has to satisfy, without a browser."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import Barrier

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.desk.flow import drop, read_all
from zestpail.core.reading.engines import best_reading
from zestpail.desk.documents import notices
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake.arrivals import arrive
from zestpail.desk.people import people
from zestpail.desk.pipeline.reading import open_file, read_page
from zestpail.store import Store
from zestpail.store.tables import Document, Page
from zestpail.web.app import create_app

ADDRESS = "http://pail.test"


@pytest.fixture
def client(store: Store, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[TestClient]:
    monkeypatch.setattr(notices, "warm_reader", lambda: None)  # no box is drawn here
    app = create_app(Desk(store, tmp_path / "delivered"), "a secret for tests", stopping=lambda: True)
    with TestClient(app, base_url=ADDRESS, follow_redirects=False, raise_server_exceptions=False) as opened:
        yield opened


def sign_in(client: TestClient, next: str = "/") -> str:
    answer = client.post("/sign-in", data={"login": "ines", "password": "quillon", "next": next})
    assert answer.status_code == 303
    return str(answer.headers["location"])


def test_nothing_is_shown_to_strangers(client: TestClient) -> None:
    for path in (
        "/",
        "/today/lanes",
        "/status",
        "/review",
        "/review/1",
        "/batches/1",
        "/pages/1/image",
        "/find",
        "/archive",
        "/live",
    ):
        answer = client.get(path)
        assert (answer.status_code, answer.headers["location"]) == (303, f"/sign-in?next={path}")
    assert client.post("/lanes/supplier-invoices/files", files={"files": b"x"}).status_code == 303
    assert client.get("/sign-in").status_code == 200


def test_every_answer_has_a_strict_policy(client: TestClient, ines: SignedIn) -> None:
    sign_in(client)
    for path in ("/", "/sign-in", "/static/js/main.js", "/batches/99", "/nothing-here"):
        policy = client.get(path).headers["content-security-policy"]
        assert policy.startswith("default-src 'none'")
        assert "unsafe" not in policy
        assert client.get(path).headers["x-content-type-options"] == "nosniff"


def test_what_the_page_is_made_with_is_asked_for_once(client: TestClient) -> None:
    asked = re.findall(r'(?:src|href)="(/static/[^"]+)"', client.get("/sign-in").text)
    assert len(asked) >= 4
    for address in asked:
        answer = client.get(address)
        assert (answer.status_code, "immutable" in answer.headers["cache-control"]) == (200, True), address
        plain = "/static/" + address.split("/", 3)[3]
        assert client.get(plain).headers["cache-control"] == "no-cache"
    assert client.get("/static/of-another-release/js/main.js").status_code == 404


@pytest.mark.parametrize(
    ("headers", "allowed"),
    [
        ({"sec-fetch-site": "same-origin"}, True),
        ({"sec-fetch-site": "none"}, True),
        ({"sec-fetch-site": "cross-site"}, False),
        ({"sec-fetch-site": "same-site"}, False),
        ({"origin": ADDRESS}, True),
        ({"origin": "http://elsewhere.test"}, False),
        ({}, True),
    ],
)
def test_other_sites_cannot_ask_for_changes(client: TestClient, headers: dict[str, str], allowed: bool) -> None:
    answer = client.post("/sign-out", headers=headers)
    assert answer.status_code == (303 if allowed else 403)


def test_nobody_is_sent_to_another_site(client: TestClient, ines: SignedIn) -> None:
    assert sign_in(client, "/batches/1") == "/batches/1"
    for hostile in ("http://elsewhere.test/", "//elsewhere.test/", "/\\elsewhere.test/"):
        assert sign_in(client, hostile) == "/"


def test_sign_in_is_checked_and_a_session_ends(client: TestClient, store: Store, ines: SignedIn) -> None:
    wrong = client.post("/sign-in", data={"login": "ines", "password": "Quillon"})
    assert (wrong.status_code, "do not belong together" in wrong.text) == (401, True)
    assert client.post("/sign-in", data={"login": "nobody", "password": "quillon"}).status_code == 401
    sign_in(client)
    assert "Ines Okafor" in client.get("/").text
    people.add_person(store, "ines", "Ines Okafor-Brandt", "another")
    assert people.sign_in(store, "ines", "quillon") is None
    assert "Okafor-Brandt" in client.get("/").text
    client.post("/sign-out")
    assert client.get("/").status_code == 303
    client.cookies.set("pail", "forged")
    assert client.get("/").status_code == 303


def test_problems_are_sentences(client: TestClient, ines: SignedIn, monkeypatch: pytest.MonkeyPatch) -> None:
    sign_in(client)
    page = client.get("/batches/99")
    assert (page.status_code, "There is no such batch." in page.text) == (404, True)
    script = client.post("/review/99/undo", data={"version": 1}, headers={"sec-fetch-mode": "cors"})
    assert (script.status_code, script.text) == (404, "There is no such document.")
    monkeypatch.setattr("zestpail.web.today.today.today", lambda store: 1 / 0)
    broken = client.get("/")
    assert broken.status_code == 500
    assert "Something broke on our side" in broken.text
    assert "ZeroDivisionError" not in broken.text


def test_pictures_come_in_the_size_that_is_needed(client: TestClient, store: Store, ines: SignedIn) -> None:
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    sign_in(client)

    def size(path: str) -> tuple[int, int]:
        answer = client.get(path)
        assert answer.headers["content-type"] == "image/jpeg"
        assert client.get(path, headers={"if-none-match": answer.headers["etag"]}).status_code == 304
        width, height = Image.open(io.BytesIO(answer.content)).size
        return width, height

    assert size("/pages/1/image?width=500")[0] == 600
    assert size("/pages/1/image?width=901")[0] == 1200
    assert size("/pages/1/image?width=9000")[0] == 1653, "never larger than it was scanned"
    assert max(size("/pages/1/thumbnail")) == 220
    width, height = size("/pages/1/snippet?x0=100&y0=100&x1=200&y1=120&height=80")
    assert (height, width) == (80, pytest.approx(400, abs=12))
    assert size("/pages/1/snippet?x0=-50&y0=-50&x1=9000&y1=9000&height=80")[1] == 80, "a box beyond the page is cut"
    words = client.get("/pages/1/words").json()
    assert words[0][0] == "Ateliers"
    assert len(words[0]) == 5


def test_a_lane_takes_files_with_and_without_scripts(client: TestClient, store: Store, ines: SignedIn) -> None:
    sign_in(client)
    files = [("files", ("one.pdf", b"1")), ("files", ("two.pdf", b"2"))]
    assert client.post("/lanes/supplier-invoices/files", files=files).headers["location"] == "/"
    asked = {"accept": "application/json"}
    first = client.post("/lanes/supplier-invoices/files", files=files[:1], headers=asked).json()["batch"]
    again = client.post("/lanes/supplier-invoices/files", files=files[1:], data={"batch": first}, headers=asked)
    assert again.json() == {"batch": first} == {"batch": 2}
    assert client.post("/lanes/no-such-lane/files", files=files).status_code == 404
    assert client.post("/lanes/supplier-invoices/files", files=files, data={"batch": 77}).status_code == 404
    listed = client.get("/today/lanes").text
    assert listed.count('href="/batches/') == 2


def test_how_a_lane_reads_is_a_word_in_its_line(client: TestClient, store: Store, ines: SignedIn, demo: Path) -> None:
    sign_in(client)
    assert "ordinary</button>" in client.get("/today/lanes").text
    refused = client.post("/lanes/supplier-invoices/reading", data={"way": "guessing"})
    assert refused.status_code == 422
    assert "“guessing” cannot be taken for way. Nothing was changed." in refused.text
    assert client.post("/lanes/supplier-invoices/reading", data={"way": "best"}).headers["location"] == "/"
    assert "best, some seconds a page" in client.get("/today/lanes").text
    arrive(store, "supplier-invoices", "a.jpg", (demo / "tarnwick-01.jpg").read_bytes(), ines.id, None)
    open_file(store, 1)
    read_page(store, 1)
    with store.transaction() as session:
        assert reading_of(store, session.get_one(Page, 1)).engine == best_reading.ENGINE


def test_those_who_open_review_in_the_same_moment_get_a_document_each(client: TestClient, store: Store) -> None:
    for at in range(4):
        people.add_person(store, f"person-{at}", f"Person {at}", "quillon")
    lu = people.sign_in(store, "person-0", "quillon")
    assert lu
    drop(store, lu, "bight-04.pdf")
    read_all(store)
    with store.transaction() as session:
        first = session.get_one(Document, 1)
        for _ in range(3):
            session.add(Document(**first.model_dump(exclude={"id"})))
    hands = [TestClient(client.app, base_url=ADDRESS, follow_redirects=False) for _ in range(4)]
    for at, hand in enumerate(hands):
        hand.post("/sign-in", data={"login": f"person-{at}", "password": "quillon"})
    together = Barrier(len(hands))

    def opened(hand: TestClient) -> str:
        together.wait()
        return str(hand.get("/review").headers["location"])

    with ThreadPoolExecutor(len(hands)) as pool:
        places = sorted(pool.map(opened, hands))
    assert places == [f"/review/{number}" for number in (1, 2, 3, 4)]
