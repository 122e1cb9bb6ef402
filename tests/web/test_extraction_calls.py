"""A program has one file read by one revision of a type: within the request or as a job, as JSON or XML."""

from __future__ import annotations

from collections.abc import Callable
from importlib import resources
from threading import Thread
from typing import Any

import pytest
from fastapi.testclient import TestClient
from lxml import etree
from sqlmodel import select

from tests.conftest import DEMO, token_for
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.pipeline import direct
from zestpail.store import Store
from zestpail.store.call_tables import ExtractionCall
from zestpail.store.states import Scope

ADDRESS = "/api/v1/types/supplier-invoice/extract"
PAPER, PILE = (DEMO / "brevanne-01.pdf").read_bytes(), (DEMO / "hallig-01.tif").read_bytes()


@pytest.fixture
def send(client: TestClient, store: Store, ines: SignedIn) -> Callable[..., Any]:
    """Sends a file and, unless it is not to be read yet, reads it as a worker would."""
    details = {"authorization": f"Bearer {token_for(store, 'ERP', ines)}"}

    def sent(data: bytes, query: str = "", read: bool = True, accept: str = "application/json") -> Any:
        def work() -> None:
            while not (waiting := _waiting(store)):
                pass
            direct.run(store, waiting)

        worker = Thread(target=work)
        if read:
            worker.start()
        answer = client.post(
            f"{ADDRESS}?{query}", headers={**details, "accept": accept}, files={"file": ("a.pdf", data)}
        )
        if read:
            worker.join()
        return answer

    return sent


def _waiting(store: Store) -> int:
    with store.transaction() as session:
        return session.exec(select(ExtractionCall.id).where(ExtractionCall.state == "waiting")).first() or 0


def test_the_values_of_a_file_are_answered_within_the_request(send: Callable[..., Any], store: Store) -> None:
    answer = send(PAPER)
    assert answer.status_code == 200, answer.text
    told = answer.json()
    total = told["fields"]["grand_total"]
    assert (total["value"], total["page"], told["type"], told["revision"]) == ("12125.82", 1, "supplier-invoice", 1)
    assert total["confidence"] > 0.9 and len(total["box"]) == 4
    assert any(check["name"].startswith("sum:") and check["passed"] for check in told["checks"])
    with store.transaction() as session:
        [call] = session.exec(select(ExtractionCall)).all()
        assert call.content == b"", "the file is forgotten"
        call.made_at -= direct.KEPT
    direct.forget_old(store)
    with store.transaction() as session:
        assert session.exec(select(ExtractionCall)).all() == [], "and the answer after a day"


def test_chosen_pages_and_xml(send: Callable[..., Any]) -> None:
    answer = send(PILE, "pages=2&revision=1", accept="application/xml")
    assert answer.headers["content-type"] == "application/xml"
    schema = etree.XMLSchema(etree.fromstring((resources.files("zestpail.core.writing") / "values.xsd").read_bytes()))
    schema.assertValid(etree.fromstring(answer.content))
    assert send(PILE, "pages=2").json()["pages"] == [2]
    for pages, status, told in (
        ("7", 409, "There is no page 7: the file has 2 pages."), ("x", 409, "“x” are no pages: say them as 1,3-5."),
        ("3-1", 409, "“3-1” are no pages"),
    ):  # fmt: skip
        refused = send(PILE, f"pages={pages}", read=pages == "7")
        assert refused.status_code == status and refused.json()["detail"].startswith(told)


def test_what_takes_longer_is_a_job_of_the_token_that_asked(
    client: TestClient,
    store: Store,
    ines: SignedIn,
    send: Callable[..., Any],
) -> None:
    later = send(PAPER, "wait=0", read=False)
    assert later.status_code == 202
    mine = {"authorization": f"Bearer {token_for(store, 'again', ines)}"}
    assert client.get(later.headers["location"], headers=mine).status_code == 404, "another token's"
    direct.run(store, later.json()["job"])
    with store.transaction() as session:
        call = session.get_one(ExtractionCall, later.json()["job"])
        call.token_id = max(call.token_id, 2)
    assert client.get(later.headers["location"], headers=mine).json()["fields"]["grand_total"]["value"] == "12125.82"
    damaged = send(b"%PDF-1.7 nothing")
    assert damaged.status_code == 409 and "damaged" in damaged.json()["detail"]


def test_types_are_listed_pinned_and_only_for_tokens_that_may(
    client: TestClient,
    store: Store,
    ines: SignedIn,
) -> None:
    may = {"authorization": f"Bearer {token_for(store, 'may', ines, scopes=[Scope.EXTRACT])}"}
    may_not = {"authorization": f"Bearer {token_for(store, 'may not', ines, scopes=[Scope.SEND])}"}
    assert {"key": "supplier-invoice", "name": "Supplier invoice", "revision": 1} in client.get(
        "/api/v1/types", headers=may
    ).json()
    pinned = client.get("/api/v1/types/supplier-invoice/revisions/1", headers=may).json()
    assert pinned["key"] == "supplier-invoice" and pinned["fields"]
    assert client.get("/api/v1/types/supplier-invoice/revisions/9", headers=may).status_code == 404
    refused = client.get("/api/v1/types", headers=may_not)
    assert refused.status_code == 403 and "have files read by a document type" in refused.json()["detail"]
    unknown = client.post("/api/v1/types/love-letter/extract", headers=may, files={"file": ("a.pdf", PAPER)})
    assert unknown.status_code == 404
