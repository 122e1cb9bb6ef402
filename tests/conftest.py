"""A private PostgreSQL for the whole run, and a store with nothing in it for each test."""

from __future__ import annotations

import os
import shutil
import socket
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings
from sqlalchemy import text

from zestpail.desk.documents import context
from zestpail.desk.documents.lane_settings import supplier_invoices
from zestpail.desk.people import people
from zestpail.desk.people.people import SignedIn
from zestpail.runtime import cluster
from zestpail.store import Store, open_store
from zestpail.store.migrate import migrate

os.environ.setdefault("OMP_THREAD_LIMIT", "1")
settings.register_profile("untimed", deadline=None)  # speed is measured in bench/, not here
settings.load_profile("untimed")
DEMO = Path(__file__).parents[1] / "demo" / "files" / "supplier-invoices"


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


def free_port() -> int:
    """A port of this machine that nothing uses now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture(scope="session")
def demo() -> Path:
    """The folder with the demo's invoices and their truth."""
    return DEMO
