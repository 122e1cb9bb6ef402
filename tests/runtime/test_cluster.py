"""The private database: two starts at once, a killed server, a folder that cannot serve."""

from __future__ import annotations

import itertools
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import httpx
import psycopg
import pytest

from zestpail.runtime import cluster, processes, supervisor
from zestpail.runtime.cluster import CannotServe
from zestpail.settings import Settings


@pytest.fixture
def data() -> Iterator[Path]:
    folder = Path(tempfile.mkdtemp(prefix="zestpail-cluster-"))
    yield folder
    shutil.rmtree(folder, ignore_errors=True)


def answers(url: str) -> bool:
    with psycopg.connect(url) as connection:
        return connection.execute("SELECT 1").fetchone() == (1,)


def test_two_starts_at_once_share_one_server_and_a_killed_one_recovers(data: Path) -> None:
    with ThreadPoolExecutor(2) as both:
        one, other = both.map(lambda _: cluster.start(data, fast=True), range(2))
    assert one.url == other.url
    assert {one.ours, other.ours} == {True, False}
    with psycopg.connect(one.url, autocommit=True) as connection:
        connection.execute("CREATE TABLE kept AS SELECT 42 AS answer")
        connection.execute("CHECKPOINT")
    os.kill(int((one.folder / "postmaster.pid").read_text().split()[0]), signal.SIGKILL)
    again = cluster.start(data, fast=True)
    try:
        with psycopg.connect(again.url) as connection:
            assert connection.execute("SELECT answer FROM kept").fetchone() == (42,)
    finally:
        cluster.stop(again)


def test_a_folder_that_cannot_serve_says_why(data: Path) -> None:
    (data / "postgres").mkdir()
    (data / "postgres" / "holiday.jpg").touch()
    with pytest.raises(CannotServe, match="holds something that is no database"):
        cluster.start(data)
    (data / "file").touch()
    with pytest.raises(CannotServe, match="cannot be made"):
        cluster.start(data / "file" / "below")
    if os.geteuid() == 0:
        closed = data / "closed"
        closed.mkdir(mode=0o700)
        with pytest.raises(CannotServe, match="is closed to the user postgres"):
            cluster.start(closed / "data")


def test_a_data_folder_is_served_once(data: Path) -> None:
    settings = Settings(data=data)
    with supervisor.alone(settings):
        (data / "address").write_text("http://127.0.0.1:1")
        details = pytest.raises(CannotServe, match=r"serves this data folder already, at http://127\.0\.0\.1:1")
        with details, supervisor.alone(settings):
            pass


def test_what_a_server_started_ends_with_it_even_if_that_is_killed() -> None:
    program = (
        "from zestpail.runtime.processes import *; import time\n"
        "child = Child('lasting', 'http.server', ['0', '--bind', '127.0.0.1']); start(child, {'KIND': 'lasting'})\n"
        "print(child.process.pid, flush=True); time.sleep(600)"
    )
    server = subprocess.Popen([sys.executable, "-c", program], stdout=subprocess.PIPE, text=True)
    assert server.stdout
    child = Path("/proc") / server.stdout.readline().strip()
    wait_until(lambda: (child / "comm").read_text().strip() == "zp lasting")
    server.kill()
    server.wait()
    wait_until(lambda: not child.exists() or "Z" in (child / "stat").read_text().rsplit(")", 1)[1][:3])


def wait_until(holds: Callable[[], bool]) -> None:
    deadline = time.monotonic() + 120
    while not holds():
        assert time.monotonic() < deadline
        time.sleep(0.05)


def served(command: list[str], environment: dict[str, str]) -> tuple[subprocess.Popen[str], list[str]]:
    """The server when it can be used, and what it said."""
    process = subprocess.Popen(
        command, stdout=subprocess.PIPE, text=True, env=environment, cwd=Path(__file__).parents[2]
    )
    assert process.stdout
    message = []
    for line in process.stdout:
        message.append(line)
        if line.startswith("Ctrl-C"):
            break
    threading.Thread(target=process.stdout.read, daemon=True).start()
    return process, message


def signs_in(address: str) -> bool:
    """Whether the pages and the database behind them answer."""
    try:
        details = {"login": "ines", "password": "quillon"}
        return httpx.post(f"{address}/sign-in", data=details, headers={"origin": address}).status_code == 303
    except httpx.HTTPError:
        return False


def until(what: Callable[[], bool], seconds: float = 120) -> None:
    deadline = time.monotonic() + seconds
    while not what():
        assert time.monotonic() < deadline, "waited in vain"
        time.sleep(0.1)


def postmaster(data: Path) -> int:
    return int((data / "postgres" / "postmaster.pid").read_text().split()[0])


def test_serving_from_start_to_ctrl_c_whatever_is_killed_between(data: Path) -> None:
    environment = {**os.environ, "ZESTPAIL_WORKERS": "1"}
    command = [sys.executable, "-u", "-m", "zestpail", "demo", "--data", str(data), "--port", "0"]
    process, message = served(command, environment)
    try:
        assert any("sign in as ines" in line for line in message)
        address = (data / "address").read_text()
        assert signs_in(address)
        os.kill(postmaster(data), signal.SIGKILL)
        until(lambda: signs_in(address))
        process.kill()  # and what it left running is joined by the next one, and ends with it
        process.wait()
        until(lambda: not signs_in(address))
        process, _ = served(command, environment)
        port = int((data / "address").read_text().rsplit(":", 1)[1])
        second = subprocess.run(command, capture_output=True, text=True, env=environment, check=False, timeout=300)
        assert (second.returncode, f"already, at http://127.0.0.1:{port}" in second.stderr) == (1, True)
        process.send_signal(signal.SIGINT)
        assert process.wait(180) == 0
    finally:
        process.kill()
    assert not (data / "postgres" / "postmaster.pid").exists()


def test_a_process_that_dies_again_and_again_is_waited_for(monkeypatch: pytest.MonkeyPatch) -> None:
    clock, started = [0.0], list[float]()

    def start(child: processes.Child, _: dict[str, str], __: object = None) -> None:
        started.append(clock[0])
        child.started, child.process = clock[0], Dead()  # type: ignore[assignment]

    monkeypatch.setattr(supervisor.time, "monotonic", lambda: clock[0])
    monkeypatch.setattr(supervisor.processes, "start", start)
    child = processes.Child("worker", "nothing")
    start(child, {})
    for tick in range(4 * 600):
        clock[0] = tick / 4
        supervisor._replace_dead([child], {})
    pauses = [round(later - before) for before, later in itertools.pairwise(started)]
    assert pauses[:9] == [0, 0, 0, 2, 4, 8, 16, 32, 60] and set(pauses[9:]) <= {60, 61}, "it is never given up"


class Dead:
    exitcode = -9

    def is_alive(self) -> bool:
        return False
