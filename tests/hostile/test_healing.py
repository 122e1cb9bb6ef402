"""What is down is said where somebody looks, and nothing breaks that merely has to wait."""

from __future__ import annotations

import os
import pwd
import smtplib
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import text

from tests.conftest import free_port
from tests.desk.flow import LANE, drop
from zestpail.api import create_api, create_calls
from zestpail.desk.documents.context import lane_names
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import DATABASE_GONE
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.documents.standing import tell_down
from zestpail.intake.mail import receiver
from zestpail.runtime import intakes, service_user, supervisor
from zestpail.runtime.processes import Child
from zestpail.settings import Settings
from zestpail.store import Store, open_store
from zestpail.store.columns import now
from zestpail.web.app import create_app
from zestpail.web.shell.security import HEADERS

ORIGIN = "http://127.0.0.1"


@pytest.fixture
def pages(store: Store, ines: SignedIn, tmp_path: Path) -> Iterator[TestClient]:
    app = create_app(Desk(store, tmp_path), "a secret for tests", stopping=lambda: True)
    gone = Desk(without_server(store), tmp_path)
    app.mount("/api/v1", create_api(gone))
    app.mount("/calls", create_calls(gone))
    with TestClient(app, base_url=ORIGIN, raise_server_exceptions=False, headers={"origin": ORIGIN}) as opened:
        opened.post("/sign-in", data={"login": "ines", "password": "quillon"})
        yield opened


def without_server(store: Store) -> Store:
    """The store as it is while its database is down."""
    return replace(store, engine=open_store(f"postgresql://x:x@127.0.0.1:{free_port()}/x", "memory://").engine)


def test_without_its_database_every_page_says_so_and_comes_back(pages: TestClient, store: Store) -> None:
    app, there = pages.app, pages.app.state.desk
    app.state.desk = replace(there, store=without_server(store))
    for path in ("/", "/review", "/batches/1", "/status", "/people", "/me"):
        answer = pages.get(path)
        assert (answer.status_code, DATABASE_GONE in answer.text) == (503, True), path
        assert answer.headers["retry-after"] and all(answer.headers.get(name) for name in HEADERS)
    answer = pages.post("/lanes", data={"name": "Tides", "type": "supplier-invoice"})
    assert (answer.status_code, DATABASE_GONE in answer.text) == (503, True)
    answer = pages.post("/sign-in", data={"login": "ines", "password": "quillon"})
    assert (answer.status_code, DATABASE_GONE in answer.text) == (503, True)
    for asked in (
        pages.get("/api/v1/lanes", headers={"authorization": "Bearer x"}),
        pages.post(f"/api/v1/lanes/{LANE}/files", headers={"authorization": "Bearer x"}),
        pages.post(f"/calls/{LANE}", content=b"{}"),
    ):
        assert (asked.status_code, asked.json()["detail"]) == (503, DATABASE_GONE)
    app.state.desk = there
    assert pages.get("/").status_code == 200


def test_today_says_what_is_down_until_it_is_up(pages: TestClient, store: Store) -> None:
    assert "What is down" not in pages.get("/").text
    told: set[str] | None = None
    intake = Child("intake", "zestpail", ["intake"], deaths=5, again_at=0.0)
    told = supervisor._tell_down(store, [intake, Child("web", "zestpail")], told)
    shown = pages.get("/today/lanes").text
    assert "The intake ended 5 times in a row. Files from watched folders and e-mail are not taken" in shown
    assert "It is started again at" in shown
    intake.again_at = None
    assert supervisor._tell_down(store, [intake], told) == set()
    assert "What is down" not in pages.get("/today/lanes").text
    tell_down(store, {"worker 2": (4, now() + timedelta(seconds=9))})
    assert "Worker 2 ended 4 times in a row. Reading is slower" in pages.get("/today/lanes").text


def test_today_says_that_no_worker_is_there(pages: TestClient, store: Store, ines: SignedIn) -> None:
    drop(store, ines, "brevanne-01.pdf")
    assert "sign of life" not in pages.get("/today/lanes").text, "a step may wait for a minute"
    with store.engine.begin() as connection:
        connection.execute(text("UPDATE procrastinate_events SET at = at - interval '2 minutes'"))
    assert "No worker gives a sign of life: nothing is read or delivered, 1 step waits." in pages.get("/").text
    with store.engine.begin() as connection:
        connection.execute(text("INSERT INTO procrastinate_workers (last_heartbeat) VALUES (now())"))
    assert "sign of life" not in pages.get("/today/lanes").text


def test_the_supervisor_outlives_its_database(store: Store) -> None:
    child = Child("intake", "zestpail", again_at=0.0, deaths=4)
    assert supervisor._tell_down(without_server(store), [child], set()) is None


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can become somebody else")
def test_what_serves_is_not_root_and_its_files_are_its_own(tmp_path: Path) -> None:
    (tmp_path / "blobs").mkdir()
    (tmp_path / "blobs" / "before").touch()
    (tmp_path / "postgres").mkdir()
    user, problem = service_user.service_user(Settings().run_as, tmp_path)
    if user is None:
        assert "is closed to the user zestpail: everything runs as root" in problem
        pytest.skip(problem)
    assert (user.name, user.uid) == ("zestpail", pwd.getpwnam("zestpail").pw_uid)
    owners = {name: (tmp_path / name).stat().st_uid for name in (".", "blobs", "blobs/before", "postgres")}
    assert owners == {".": user.uid, "blobs": user.uid, "blobs/before": user.uid, "postgres": 0}
    program = (
        "import os, pathlib, sys\nfrom zestpail.runtime.service_user import Account, become\n"
        "become(Account(sys.argv[1], int(sys.argv[2]), int(sys.argv[3])))\n"
        "made = pathlib.Path(sys.argv[4], 'made')\nmade.mkdir()\n"
        "(made / 'file').write_text('kept')\n"
        "try:\n    os.setuid(0)\nexcept PermissionError:\n    print(os.getresuid(), os.getgroups())"
    )
    of_all = Path(tempfile.gettempdir())
    for parent in tmp_path.parents:
        if parent.stat().st_uid == 0 and parent.is_relative_to(of_all) and parent != of_all:
            parent.chmod(0o711)
    done = subprocess.run(
        [sys.executable, "-c", program, user.name, str(user.uid), str(user.gid), str(tmp_path)],
        capture_output=True, text=True, check=True,
    )  # fmt: skip
    assert done.stdout.split("\n")[0] == f"{(user.uid,) * 3} []"
    assert {(tmp_path / name).stat().st_mode & 0o077 for name in ("made", "made/file")} == {0}


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can become somebody else")
def test_where_no_other_user_may_enter_it_is_said_and_root_serves(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sys, "executable", str(tmp_path / "closed" / "python"))
    user, problem = service_user.service_user(Settings().run_as, tmp_path)
    assert (user, "is closed to the user zestpail: everything runs as root. Put it where" in problem) == (None, True)


def test_what_is_sent_while_the_database_is_down_stays_with_its_sender(store: Store, tmp_path: Path) -> None:
    gone = without_server(store)
    assert intakes._lanes_now(gone) == [], "no folder is looked at, and the process goes on"
    post = receiver("127.0.0.1", free_port(), lambda key: key in lane_names(gone), intakes.keeper(gone))
    post.start()
    try:
        with smtplib.SMTP(post.hostname, post.port) as sender:
            sender.ehlo()
            sender.mail("a@there.example")
            code, told = sender.rcpt(f"{LANE}@here")
    finally:
        post.stop()
    assert (code, b"try again later" in told) == (451, True), "not refused for good"
