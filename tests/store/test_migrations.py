"""The database is what the tables say, and bringing it up to date twice does nothing."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from alembic import command
from sqlalchemy import create_engine, text

from zestpail.store import Store, blobs
from zestpail.store.migrate import alembic_config, migrate


def test_migrations_and_tables_agree(database: str) -> None:
    command.check(alembic_config(database))  # raises if autogenerate would change anything


def test_migrating_again_leaves_job_tables_alone(database: str) -> None:
    def tables() -> set[str]:
        with create_engine(database.replace("postgresql://", "postgresql+psycopg://")).connect() as connection:
            return set(connection.scalars(text("SELECT tablename FROM pg_tables WHERE schemaname = 'public'")))

    before = tables()
    migrate(database)
    assert tables() == before
    assert {"procrastinate_jobs", "document", "event"} <= before


def test_blobs_are_kept_once_and_whole(store: Store, tmp_path: Path) -> None:
    name = store.blobs.put(b"page")
    assert store.blobs.put(b"page") == name
    assert store.blobs.get(name) == b"page"
    (kept,) = [path for path in tmp_path.rglob(name) if path.is_file()]
    for half in (b"", b"pa", b"PAGE"):
        kept.write_bytes(half)  # as a crash of the machine may leave it
        assert store.blobs.put(b"page") == name and kept.read_bytes() == b"page"


def test_a_blob_is_on_the_disk_before_it_has_its_name(store: Store, monkeypatch: pytest.MonkeyPatch) -> None:
    acts: list[str] = []
    real = os.fsync
    monkeypatch.setattr(blobs, "DURABLE", True)

    def written_out(opened: int) -> None:
        acts.append(str(Path(f"/proc/self/fd/{opened}").readlink()))
        real(opened)

    monkeypatch.setattr(os, "fsync", written_out)
    name = store.blobs.put(b"a page that is not there yet")
    written, folder, *above = acts
    assert written.endswith(".arriving") and f"/{name}." in written and folder.endswith(f"/{name[:2]}/{name[2:4]}")
    assert len(above) == 2, "and the folders that were made for it"
