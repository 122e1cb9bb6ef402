"""A private PostgreSQL for the whole run, and a store with nothing in it for each test."""

from __future__ import annotations

import os
import shutil
import socket
import tempfile
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

import pytest
from argon2 import PasswordHasher
from hypothesis import settings
from sqlalchemy import text

from tests import saved_readings
from zestpail.core.extraction.files import reading_processes
from zestpail.desk.documents import context, gone_files
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.lanes.first_lane import supplier_invoices
from zestpail.desk.people import people, tokens
from zestpail.desk.people.tokens import TokenTerms
from zestpail.runtime import cluster
from zestpail.store import Store, blobs, open_store
from zestpail.store.migrate import migrate
from zestpail.store.states import Scope

os.environ.setdefault("OMP_THREAD_LIMIT", "1")
os.environ["ZESTPAIL_LOSES_FILES"], blobs.DURABLE = "1", False  # also of servers and workers that tests start
gone_files.MOMENT = 0.0
settings.register_profile("untimed", deadline=None)  # speed is measured in benchmarks/, not here
settings.load_profile("untimed")
DEMO = Path(__file__).parents[1] / "demo" / "files" / "supplier-invoices"


HEAVY = (
    "test_strangers", "test_vessel_calls", "test_papers", "test_story", "test_known_already", "test_demo_truth",
    "test_types",
)  # fmt: skip
"""Files of tests that take longest: they are begun first, so that two workers end together."""


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--thorough", action="store_true", help="run what takes a minute for itself too")
    parser.addoption("--fuzz-minutes", default="0", help="go on with new hostile input for so long")
    parser.addoption("--known-half", action="store_true", help="measure the strangers' known half too")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    order = {name: at for at, name in enumerate(HEAVY)}
    items.sort(key=lambda item: order.get(item.path.stem, len(HEAVY)))


def pytest_unconfigure(config: pytest.Config) -> None:
    folder = Path(os.environ.get(saved_readings.FOLDER) or "/nowhere")
    if not hasattr(config, "workerinput") and folder.name.startswith("zestpail-readings-"):
        shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="module")
def every_page_read() -> Iterator[None]:
    """Nothing that was read before is used again in this file of tests."""
    with pytest.MonkeyPatch.context() as patched:
        patched.setenv(saved_readings.FOLDER, "")
        yield


@pytest.fixture(scope="session")
def reading_pool() -> Iterator[ProcessPoolExecutor]:
    """The processes in which everything that is measured is read."""
    with reading_processes() as pool:
        yield pool


@pytest.fixture(scope="session")
def database() -> Iterator[str]:
    """The address of a database that is up to date."""
    data = Path(tempfile.mkdtemp(prefix="zestpail-tests-"))
    running = cluster.start(data, fast=True)
    migrate(running.url)
    yield running.url
    cluster.stop(running)
    shutil.rmtree(data, ignore_errors=True)


@pytest.fixture
def store(database: str, tmp_path: Path) -> Iterator[Store]:
    """An empty store with one lane."""
    opened = open_store(database, str(tmp_path / "blobs"))
    with opened.engine.begin() as connection:
        names = connection.execute(
            text("SELECT string_agg(format('%I', tablename), ', ') FROM pg_tables WHERE schemaname = 'public' "
                 "AND tablename <> 'alembic_version'")
        ).scalar_one()  # fmt: skip
        connection.execute(text(f"TRUNCATE {names} RESTART IDENTITY CASCADE"))
    context.set_up_lane(opened, "supplier-invoices", "Supplier invoices", supplier_invoices())
    yield opened
    opened.engine.dispose()


@pytest.fixture(scope="session", autouse=True)
def _passwords_are_soon_checked() -> None:
    """What makes guessing passwords slow makes each test slow that needs somebody who is signed in."""
    people._hasher = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)


@pytest.fixture
def ines(store: Store) -> SignedIn:
    return somebody(store, "ines", "Ines Okafor")


@pytest.fixture
def tomas(store: Store) -> SignedIn:
    return somebody(store, "tomas", "Tomas Brandt")


def somebody(store: Store, login: str, name: str) -> SignedIn:
    people.add_person(store, login, name, "quillon")
    person = people.sign_in(store, login, "quillon")
    assert person
    return person


def token_for(store: Store, name: str, person: SignedIn, **terms: Any) -> str:
    """A token of a program that may do everything, but for other terms."""
    wanted = TokenTerms.model_validate({"name": name, "scopes": list(Scope), **terms})
    return tokens.make_token(store, wanted, person.id)


def free_port() -> int:
    """A port of this machine that nothing uses now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture(scope="session")
def demo() -> Path:
    """The folder with the demo's invoices and their truth."""
    return DEMO
