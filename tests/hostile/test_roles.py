"""Everybody sees and does what their roles and lanes allow, on every page that there is."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path

import pytest
from fastapi import FastAPI
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient

from tests.conftest import token_for
from tests.desk.flow import LANE, drop, read_all
from zestpail.api import create_api
from zestpail.desk.documents.context import set_up_lane
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.signed_in import EVERY_ROLE, Role, SignedIn
from zestpail.desk.lanes.first_lane import supplier_invoices
from zestpail.desk.people import first_start, people
from zestpail.desk.people.lane_limits import limit_lane
from zestpail.desk.people.people import new_person
from zestpail.runtime import welcome
from zestpail.settings import Settings
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.web.app import create_app
from zestpail.web.shell.session import SessionLimits

ORIGIN, PASSWORD = "http://127.0.0.1", "quay-and-crane"
OPERATOR, AUTHOR, ADMINISTRATOR = Role
BY_PLACE = {
    "/today/lanes": {OPERATOR}, "/find": {OPERATOR}, "/archive": {OPERATOR}, "/batches": {OPERATOR},
    "/review": {OPERATOR},
    "/deliveries": {OPERATOR}, "/uploads": {OPERATOR}, "/lanes/{key}/files": {OPERATOR},
    "/lanes/{key}/scan": {OPERATOR}, "/scans": {OPERATOR}, "/sheets": {OPERATOR}, "/lists": {AUTHOR},
    "/batches/{batch_id}/documents/{document_id}/sample": set(),  # for those who are both operator and author
    "/lanes/{key}/reading": set(), "/types": {AUTHOR}, "/lanes": {AUTHOR}, "/quality": {AUTHOR},
    "/types/{key}/programs/token": {ADMINISTRATOR}, "/lanes/{key}/programs/token": {ADMINISTRATOR},
    "/archive/keeping": {ADMINISTRATOR}, "/archive/erase": {ADMINISTRATOR},
    "/archive/documents/{document_id}/hold": set(), "/archive/documents/{document_id}/lift-hold": set(),
    "/lanes/{key}/destinations": {ADMINISTRATOR}, "/lanes/{key}/calls": {ADMINISTRATOR},
    "/people": {ADMINISTRATOR}, "/access": {ADMINISTRATOR},
    "/": set(Role), "/status": set(Role), "/live": set(Role), "/me": set(Role), "/pages": set(Role),
    "/sign-in": set(Role), "/sign-out": set(Role), "/first-start": set(Role),
}  # fmt: skip
"""Who may use what an address begins with; the longest beginning counts."""


@pytest.fixture
def app(store: Store, tmp_path: Path) -> FastAPI:
    desk = Desk(store, tmp_path, data=tmp_path)
    made = create_app(desk, "a secret for tests", stopping=lambda: True, sessions=SessionLimits(600, 3000))
    made.mount("/api/v1", create_api(desk))
    return made


@pytest.fixture
def nobody(app: FastAPI) -> Iterator[TestClient]:
    with TestClient(app, base_url=ORIGIN, headers={"origin": ORIGIN}, follow_redirects=False) as opened:
        yield opened


def signed_in(client: TestClient, store: Store, login: str, *roles: Role) -> TestClient:
    if roles:
        people.add_person(store, login, login.title(), PASSWORD, roles)
    client.cookies.clear()
    assert client.post("/sign-in", data={"login": login, "password": PASSWORD}).status_code == 303
    return client


def places(app: FastAPI) -> list[tuple[str, str]]:
    """Every method and address that there is."""
    routes = [route for part in app.routes for route in getattr(part, "original_router", app.router).routes]
    found = {(method, route.path) for route in routes if isinstance(route, APIRoute) for method in route.methods}
    assert len(found) > 100
    return sorted(found)


def who_may(path: str) -> set[Role]:
    return BY_PLACE[max((begin for begin in BY_PLACE if path == begin or path.startswith(f"{begin}/")), key=len)]


@pytest.mark.parametrize("role", list(Role))
def test_each_role_reaches_its_places_and_no_others(app: FastAPI, nobody: TestClient, store: Store, role: Role) -> None:
    client = signed_in(nobody, store, "somebody", role)
    for method, path in places(app):
        if path in ("/live", "/sign-out"):
            continue  # one does not end, the other ends the session
        address = re.sub(r"\{\w*key\}", "none", re.sub(r"\{\w*(id|number)\}", "4711", path))
        answer = client.request(method, address.replace("{", "").replace("}", ""))
        refused = answer.status_code == 403
        assert refused == (role not in who_may(path)), (method, path, answer.status_code, answer.text[-300:])
        assert answer.status_code < 500


def test_what_one_may_not_do_is_not_shown(nobody: TestClient, store: Store) -> None:
    operator = signed_in(nobody, store, "op", OPERATOR)
    today = operator.get("/").text
    assert "Lane settings" not in today and "/types" not in today and "Scan" not in operator.get("/me").text
    for link in re.findall(r'href="(/[^"]*)"', today):
        assert operator.get(link.replace("&amp;", "&")).status_code == 200, link
    author = signed_in(nobody, store, "au", AUTHOR)
    assert author.get("/").headers["location"] == "/types"
    letter = author.get(f"/lanes/{LANE}").text
    assert "/destinations" not in letter and 'name="naming"' in letter and 'name="folder"' not in letter
    named = re.search(r'data-insert="([^"]+)"', letter)[1]
    sent = {"naming": named, "folder": "elsewhere", "mail_to": "@example.org"}
    answer = author.post(f"/lanes/{LANE}/letter/delivery", data=sent)
    assert answer.status_code == 303, answer.text
    letter = author.get(f"/lanes/{LANE}").text
    assert "elsewhere" not in letter and "@example.org" not in letter, "only the naming was changed"
    assert f'value="{named}"' in letter
    assert author.get("/lanes").text.count("/access") == 0


def test_a_limited_lane_is_nowhere_to_be_seen(
    app: FastAPI, nobody: TestClient, store: Store, ines: SignedIn, tomas: SignedIn
) -> None:
    set_up_lane(store, "payroll", "Payroll slips", supplier_invoices())
    seen = drop(store, ines, "brevanne-01.pdf")
    secret = drop(store, ines, "dredgemoor-01.pdf", lane="payroll")
    read_all(store)
    limit_lane(store, "payroll", [tomas.id], ines.id)
    client = signed_in(nobody, store, "ann", *EVERY_ROLE)
    for page in ("/", "/today/lanes", "/batches", "/review?lane=payroll", "/find?words=2", "/find?words=dredgemoor",
                 "/deliveries", "/lanes", "/status"):  # fmt: skip
        text = client.get(page, follow_redirects=True).text
        assert "Payroll" not in text and "dredgemoor-01" not in text, page
    numbers = {"batch_id": secret, "document_id": 2, "page_id": 2, "file_id": 2, "key": "payroll"}
    asked = 0
    for method, path in places(app):
        names = re.findall(r"\{(\w+)\}", path)
        if path.startswith(("/types", "/people", "/uploads", "/lists")) or not set(names) & set(numbers):
            continue
        address = path
        for name in names:
            address = address.replace(f"{{{name}}}", str(numbers.get(name, 1)))
        answer = client.request(method, address)
        assert answer.status_code == 404, (method, path, answer.status_code)
        asked += 1
    assert asked > 60
    gesture = {"act": "turn", "page": "2"}
    assert client.post(f"/batches/{seen}/ribbon", data=gesture).status_code == 404, "a page of another batch"
    wanted = {"lane": "payroll", "name": "x.pdf", "size": 1, "stamp": 1}
    assert client.post("/uploads", data=wanted).status_code == 404
    assert client.post("/deliveries/again", data={"documents": "2"}).status_code == 404
    limit_lane(store, "payroll", [], ines.id)
    assert client.get(f"/batches/{secret}").status_code == 200


def test_somebody_always_administers(store: Store, nobody: TestClient, ines: SignedIn, tomas: SignedIn) -> None:
    people.set_roles(store, tomas.id, [OPERATOR], ines.id)
    with pytest.raises(NotDone, match="Somebody must remain"):
        people.set_roles(store, ines.id, [AUTHOR], ines.id)
    with pytest.raises(NotDone, match="Somebody must remain"):
        people.disable(store, ines.id, tomas.id)
    with pytest.raises(NotDone, match="one role at least"):
        new_person(store, "lu", "Lu Marsh", PASSWORD, ines.id, [])
    assert people.person(store, tomas.id, tomas.session).roles == (OPERATOR,), "from the next request on"


def test_the_first_administrator_is_made_by_who_started_it(nobody: TestClient, store: Store, tmp_path: Path) -> None:
    told = welcome.greeting(ORIGIN, welcome.prepare(store), Settings(data=tmp_path))
    key = re.search(r"/first-start\?key=([\w-]{30,})", told)[1]
    assert "Nobody can sign in yet" in nobody.get("/sign-in").text
    sent = {"login": "lu", "name": "Lu Marsh", "password": PASSWORD, "again": PASSWORD}
    assert nobody.get("/first-start?key=guessed").status_code == 404
    assert nobody.post("/first-start", data={**sent, "key": "guessed"}).status_code == 404
    assert nobody.get(f"/first-start?key={key}").status_code == 200
    wrong = nobody.post("/first-start", data={**sent, "key": key, "again": "another one"})
    assert (wrong.status_code, people.anybody(store)) == (409, False)
    assert nobody.post("/first-start", data={**sent, "key": key}).headers["location"] == "/people"
    assert "Lu Marsh" in nobody.get("/people").text
    assert nobody.get(f"/first-start?key={key}").status_code == 404, "it is good once"
    assert not first_start.is_key(tmp_path, key)
    with pytest.raises(NotDone, match="already"):
        people.first_administrator(store, "eve", "Eve", PASSWORD)


def test_sessions_end_when_nothing_is_done_and_in_any_case(
    nobody: TestClient, store: Store, monkeypatch: pytest.MonkeyPatch
) -> None:
    client, at, clock = signed_in(nobody, store, "op", OPERATOR), time.time(), [0.0]
    monkeypatch.setattr("zestpail.web.shell.session.time.time", lambda: at + clock[0])
    monkeypatch.setattr("itsdangerous.timed.time.time", lambda: at + clock[0])
    by_hand = {"sec-fetch-mode": "navigate", "sec-fetch-site": "same-origin"}
    for clock[0] in range(0, 2900, 500):
        assert client.get("/me", headers=by_hand).status_code == 200, clock
    clock[0] = 3100
    assert client.get("/me", headers=by_hand).status_code == 303, "it is too old"
    clock[0] = 0
    client = signed_in(nobody, store, "op")
    for clock[0] in (0, 300, 590):
        assert client.get("/status").status_code == 200, "what a page asks by itself"
    clock[0] = 610
    assert client.get("/status").status_code == 303, "is nothing done by hand"


def test_ones_own_password(nobody: TestClient, store: Store) -> None:
    client = signed_in(nobody, store, "op", OPERATOR)
    other = people.sign_in(store, "op", PASSWORD)
    wrong = client.post("/me/password", data={"before": "guessed", "password": "another one"})
    assert wrong.status_code == 409 and "not your password" in wrong.text
    assert client.post("/me/password", data={"before": PASSWORD, "password": "another one"}).status_code == 303
    assert client.get("/me").status_code == 200, "goes on here"
    assert people.person(store, other.id, other.session) is None, "and ended elsewhere"


def test_tokens_have_scopes_lanes_and_an_end(
    nobody: TestClient, store: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch
) -> None:
    set_up_lane(store, "payroll", "Payroll slips", supplier_invoices())
    batch = drop(store, ines, "brevanne-01.pdf")

    def ask(token: str, method: str, path: str) -> tuple[int, object]:
        files = {"file": ("note.txt", b"hello")} if method == "post" else None
        answer = nobody.request(method, f"/api/v1{path}", headers={"authorization": f"Bearer {token}"}, files=files)
        told = answer.json()
        return answer.status_code, told["detail"] if answer.status_code == 403 else told

    reads, sends = (token_for(store, "flow", ines, scopes=[scope], lanes=[LANE]) for scope in ("read", "send"))
    assert ask(reads, "get", "/lanes") == (200, [{"key": LANE, "name": "Supplier invoices"}])
    assert ask(reads, "get", f"/batches/{batch}")[0] == 200
    refused = "This token is not made to read documents and how they stand."
    assert ask(sends, "get", f"/batches/{batch}") == (403, refused)
    assert ask(reads, "post", f"/lanes/{LANE}/files") == (403, "This token is not made to send files.")
    assert ask(sends, "post", f"/lanes/{LANE}/files")[0] == 201
    assert ask(sends, "post", "/lanes/payroll/files") == (403, "This token is not for the lane payroll.")
    other = drop(store, ines, "dredgemoor-01.pdf", lane="payroll")
    assert ask(reads, "get", f"/batches/{other}")[0] == 403
    for wrong in ({"scopes": []}, {"lanes": ["none"]}):
        with pytest.raises(NotDone):
            token_for(store, "flow", ines, **wrong)
    soon = token_for(store, "flow", ines, days=1)
    assert ask(soon, "get", "/lanes")[0] == 200
    monkeypatch.setattr("zestpail.desk.people.tokens.now", lambda: now() + timedelta(days=1, minutes=1))
    assert ask(soon, "get", "/lanes")[0] == 401
