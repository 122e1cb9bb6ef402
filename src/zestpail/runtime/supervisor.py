"""Web process and workers under one roof: started together, replaced when they die, stopped together."""

from __future__ import annotations

import secrets
import signal
import socket
import time
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta

from filelock import FileLock, Timeout

from zestpail.desk.documents.standing import mark_of, step_broke, tell_down
from zestpail.runtime import cluster, processes
from zestpail.runtime.cluster import CannotServe
from zestpail.runtime.processes import Child
from zestpail.runtime.service_user import Account, acting
from zestpail.settings import Settings
from zestpail.store import Store, Unreachable
from zestpail.store.migrate import migrate

STOP_WITHIN = 15.0
ANSWERS_WITHIN = 300.0
"""Seconds that the web process may take to start on a machine that is busy; one that ended is not waited for."""
_KILLED = {0, -signal.SIGKILL, -signal.SIGTERM, -signal.SIGINT}
DIES_OFTEN, LONGEST_PAUSE = 3, 60
"""Quick deaths of a process after which others are not started at once, and the longest pause between them (s)."""


@contextmanager
def database(settings: Settings, *, own: bool = False) -> Iterator[Settings]:
    """The settings with a database that runs and is up to date; stopped afterwards if it was started here.

    With ``own`` it is also stopped where it ran already, left behind by a server that was killed.

    Raises CannotServe with the reason.
    """
    if settings.database_url:
        migrate(settings.database_url)
        yield settings
        return
    running = cluster.start(settings.data)
    try:
        migrate(running.url)
        yield settings.model_copy(update={"database_url": running.url, "secret": settings.secret or _secret(settings)})
    finally:
        if running.ours or own:
            cluster.stop(running)


@contextmanager
def alone(settings: Settings) -> Iterator[None]:
    """Only one server works on a data folder. Raises CannotServe saying where the other one is."""
    if settings.database_url:
        settings.data.mkdir(parents=True, exist_ok=True)
    else:
        cluster.prepare(settings.data)
    address = settings.data / "address"
    try:
        with FileLock(settings.data / "serving.lock", timeout=0):
            yield
            address.unlink(missing_ok=True)
    except Timeout as error:
        where = address.read_text() if address.exists() else "an address it has not told yet"
        raise CannotServe(f"Zest Pail serves this data folder already, at {where}.") from error


def with_mail_port(settings: Settings) -> Settings:
    """The settings with a port for e-mail that can be used: another free one where theirs is taken."""
    return settings.model_copy(
        update={"smtp_port": settings.smtp_port and usable_port(settings.host, settings.smtp_port)}
    )


def serve(
    settings: Settings,
    store: Store,
    ready: Callable[[str], None],
    others: Iterable[Child] = (),
    user: Account | None = None,
) -> None:
    """Run web process and workers as that user until told to stop; ``ready`` is given the address once it answers.

    What is down meanwhile is told to the store.
    """
    port = usable_port(settings.host, settings.port)
    address = f"http://{settings.host}:{port}"
    environment = {
        "ZESTPAIL_DATABASE_URL": settings.database_url,
        "ZESTPAIL_SECRET": settings.secret or secrets.token_urlsafe(32),
        "ZESTPAIL_DATA": str(settings.data),
        "ZESTPAIL_SMTP_PORT": str(settings.smtp_port),
        "ZESTPAIL_SCANNER": settings.scanner,
        "ZESTPAIL_MAIL_SERVER": settings.mail_server,
        "ZESTPAIL_DELIVERY_ADDRESSES": settings.delivery_addresses,
        "ZESTPAIL_HOST": settings.host,
        "ZESTPAIL_PORT": str(port),
    }
    web, intake = Child("web", "zestpail", ["web"]), Child("intake", "zestpail", ["intake"])
    workers = [Child(f"worker {at + 1}", "zestpail", ["work", "--child"]) for at in range(settings.workers)]
    children = [*others, web, intake, *workers]
    stop = _told_to_stop()
    try:
        for child in children:
            processes.start(child, environment, user)
        _wait_for(web, settings.host, port, stop)
        with acting(user):  # the folder is that user's: root follows no link that lies in it
            (settings.data / "address").write_text(address)
        if not stop:
            ready(address)
        told: set[str] | None = None
        ended: list[int] = []
        while not stop:
            time.sleep(0.25)
            _see_to_database(settings)
            with acting(user):
                _tell_ended(store, settings, children, ended)
            _replace_dead(children, environment, user)
            told = _tell_down(store, children, told)
    finally:
        processes.stop(children, STOP_WITHIN)


def _see_to_database(settings: Settings) -> None:
    """Start the private database again if it is gone; if that fails, it is tried again."""
    if not settings.database_url.startswith("postgresql://zestpail:") or not (settings.data / "postgres").exists():
        return
    try:
        if cluster.revive(settings.data):
            print("The database was gone; it runs again.", flush=True)
    except CannotServe as problem:
        print(f"The database is gone: {problem}", flush=True)
        time.sleep(LONGEST_PAUSE / 10)


def one_worker(settings: Settings, store: Store, user: Account | None) -> None:
    """Run one worker as that user until told to stop, or until it ends."""
    child, stop = Child("worker", "zestpail", ["work", "--child"]), _told_to_stop()
    environment = {"ZESTPAIL_DATABASE_URL": settings.database_url, "ZESTPAIL_DATA": str(settings.data)}
    processes.start(child, environment, user)
    try:
        while not stop and child.running:
            time.sleep(0.25)
        with acting(user):
            _tell_ended(store, settings, [child], [])
    finally:
        processes.stop([child], STOP_WITHIN)


def _tell_ended(store: Store, settings: Settings, children: Iterable[Child], ended: list[int]) -> None:
    """Tell which steps took their workers down; ``ended`` are those that could not be told yet.

    Who was killed or told to stop did not end by the fault of its step.
    """
    for child in children:
        if child.process is None or child.running or child.process.pid is None:
            continue
        mark = mark_of(settings.data, child.process.pid)
        if not mark.exists():
            continue
        if child.process.exitcode not in _KILLED and (job := mark.read_text()).isdecimal():
            ended.append(int(job))
        mark.unlink()
    try:
        while ended:
            step_broke(store, ended[-1], ended=True)
            ended.pop()
    except Unreachable:
        return


def _tell_down(store: Store, children: list[Child], told: set[str] | None) -> set[str] | None:
    """Tell what is down if that is something else than was told before; returns what is known over there now."""
    down = {f"{child.name} {child.deaths}": (child, child.again_at) for child in children if child.again_at is not None}
    if told == set(down):
        return told
    at, here = datetime.now(UTC), time.monotonic()
    try:
        tell_down(store, {
            child.name: (child.deaths, at + timedelta(seconds=again - here)) for child, again in down.values()
        })  # fmt: skip
    except Unreachable:
        return None  # the database is down itself: told when it is back
    return set(down)


def _replace_dead(children: list[Child], environment: dict[str, str], user: Account | None = None) -> None:
    """Start others for those that ended: at once, or after a growing pause where one dies again and again."""
    for child in children:
        if child.process is None or child.running:
            continue
        if child.again_at is None:
            quick = time.monotonic() - child.started < 10
            child.deaths = child.deaths + 1 if quick else 1
            pause = min(1 << max(child.deaths - DIES_OFTEN, 0), LONGEST_PAUSE) if child.deaths > DIES_OFTEN else 0
            child.again_at = time.monotonic() + pause
            when = f"another follows in {pause} s" if pause else "starting another"
            print(f"The {child.name} process ended ({child.process.exitcode}); {when}.", flush=True)
        if time.monotonic() >= child.again_at:
            child.again_at = None
            processes.start(child, environment, user)


def _told_to_stop() -> list[int]:
    """A list that fills when a signal to stop comes."""
    details: list[int] = []
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, lambda n, _: details.append(n))
    return details


def _wait_for(web: Child, host: str, port: int, stop: list[int]) -> None:
    deadline = time.monotonic() + ANSWERS_WITHIN
    while not stop and time.monotonic() < deadline and web.running:
        with socket.socket() as probe:
            probe.settimeout(1)
            if probe.connect_ex((host, port)) == 0:
                return
        time.sleep(0.1)
    if not stop:
        raise CannotServe("The web process does not answer; its last words are above.")


def usable_port(host: str, port: int) -> int:
    """The port, or any free one where it is taken."""
    for wanted in (port, 0):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, wanted))
            except OSError:
                continue
            return int(probe.getsockname()[1])
    raise CannotServe(f"No port of {host} can be used.")


def _secret(settings: Settings) -> str:
    """What session cookies are signed with, kept so that nobody has to sign in again after a restart."""
    saved = settings.data / "session.secret"
    if not saved.exists():
        cluster.keep(saved, secrets.token_urlsafe(32))
    return saved.read_text()
