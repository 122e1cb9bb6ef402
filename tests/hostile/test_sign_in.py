"""Guessing passwords gets slower with every wrong one, for a login and from an address, however many try at once."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path

import httpx
import pytest
from fastapi.testclient import TestClient
from sqlmodel import select

from tests.delivery.servers import served
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.people import guessing, people
from zestpail.desk.people.guessing import FREE, TooOften
from zestpail.store import Store
from zestpail.store.access_tables import WrongPasswords
from zestpail.store.trail_tables import Event
from zestpail.web.app import create_app
from zestpail.web.shell import live

ORIGIN = "http://127.0.0.1"


@pytest.fixture
def pages(store: Store, ines: SignedIn, tmp_path: Path) -> Iterator[TestClient]:
    app = create_app(Desk(store, tmp_path), "a secret for tests", stopping=lambda: True)
    with TestClient(app, base_url=ORIGIN, follow_redirects=False) as opened:
        yield opened


def later(store: Store, **passed: float) -> None:
    """As if so much time had passed."""
    with store.transaction() as session:
        for known in session.exec(select(WrongPasswords)):
            known.last_at -= timedelta(**passed)


def test_after_sixty_wrong_passwords_the_right_one_has_to_wait(pages: TestClient, store: Store) -> None:
    def enter(password: str, login: str = "ines") -> tuple[int, str]:
        details = {"login": login, "password": password}
        answer = pages.post("/sign-in", data=details, headers={"origin": ORIGIN})
        return answer.status_code, answer.text

    codes = [enter(f"wrong {at}")[0] for at in range(60)]
    assert codes == [401] * FREE + [429] * (60 - FREE), "those that must wait are not even looked at"
    status, said = enter("quillon")
    assert status == 429 and "Too many wrong passwords were entered. Try again in" in said
    assert enter("quillon", "tomas")[0] == 401, "others may try: there is no tomas here"
    later(store, minutes=20)
    assert enter("quillon")[0] == 303
    assert enter("wrong")[0] == 401 and enter("quillon")[0] == 303, "and is known again from the beginning"


def test_one_address_does_not_guess_for_many_logins(
    store: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(people, "_hasher", Never())
    for at in range(FREE * 10):
        assert people.sign_in(store, f"somebody-{at}", "wrong", "10.0.0.7") is None
    with pytest.raises(TooOften):
        people.sign_in(store, "somebody-else", "wrong", "10.0.0.7")
    assert people.sign_in(store, "somebody-else", "wrong", "10.0.0.8") is None


class Never:
    """Lets nobody in, at once."""

    def verify(self, *_: str) -> None:
        raise people.VerificationError

    def hash(self, _: str) -> str:
        return ""


def test_many_at_once_are_looked_at_two_by_two(store: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch) -> None:
    at_once, most, guard, tried = 0, 0, threading.Lock(), list[str]()

    class Slow(Never):
        def verify(self, *_: str) -> None:
            nonlocal at_once, most
            with guard:
                at_once, most = at_once + 1, max(most, at_once + 1)
                tried.append("one")
            pause.wait(0.02)
            with guard:
                at_once -= 1
            raise people.VerificationError

    def attempt() -> None:
        try:
            people.sign_in(store, "ines", "wrong", "10.0.0.7")
        except TooOften:
            waited.append("one")

    pause, waited = threading.Event(), list[str]()
    monkeypatch.setattr(people, "_hasher", Slow())
    threads = [threading.Thread(target=attempt) for _ in range(40)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert most <= guessing.AT_ONCE
    assert len(tried) <= FREE + guessing.AT_ONCE and len(tried) + len(waited) == 40


def test_signing_out_or_another_password_ends_every_session(
    pages: TestClient, store: Store, ines: SignedIn, tmp_path: Path
) -> None:
    app = create_app(Desk(store, tmp_path), "a secret for tests", stopping=lambda: True)
    with TestClient(app, base_url=ORIGIN, follow_redirects=False) as elsewhere:
        details = {"login": "ines", "password": "quillon"}
        for one in (pages, elsewhere):
            one.post("/sign-in", data=details, headers={"origin": ORIGIN})
        assert [one.get("/").status_code for one in (pages, elsewhere)] == [200, 200]
        stolen = dict(elsewhere.cookies)
        pages.post("/sign-out", headers={"origin": ORIGIN})
        assert [one.get("/").status_code for one in (pages, elsewhere)] == [303, 303]
        elsewhere.cookies.update(stolen)
        assert elsewhere.get("/").status_code == 303, "a cookie that somebody kept opens nothing"
        elsewhere.cookies.clear()
        elsewhere.post("/sign-in", data=details, headers={"origin": ORIGIN})
        assert elsewhere.get("/").status_code == 200
        people.set_password(store, ines.id, "quay-and-crane", ines.id)
        assert elsewhere.get("/").status_code == 303
    with store.transaction() as session:
        acts = [event.what for event in session.exec(select(Event)) if event.what.startswith("sign")]
    assert acts == ["signed_in"] * 3 + ["signed_out", "signed_in"], "once by the test itself"


def test_what_a_page_hears_of_ends_with_its_session(
    store: Store, ines: SignedIn, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(live, "STILL_THERE", 0.0)
    monkeypatch.setattr(live, "QUIET", 1)
    app = create_app(Desk(store, tmp_path), "a secret for tests")
    with served(app) as address, httpx.Client(base_url=address, headers={"origin": address}, timeout=30) as client:
        client.post("/sign-in", data={"login": "ines", "password": "quillon"})
        with client.stream("GET", "/live") as heard:
            lines = heard.iter_lines()
            assert next(lines) == "retry: 2000"
            people.sign_out(store, ines.id)
            began = time.monotonic()
            while next(lines, None) is not None:
                assert time.monotonic() - began < 60
