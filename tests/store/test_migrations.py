"""The database is what the tables say, and bringing it up to date twice does nothing."""

from __future__ import annotations

from alembic import command
from sqlalchemy import create_engine, text

from zestpail.store import Store
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


def test_blobs_are_kept_once_and_whole(store: Store) -> None:
    name = store.blobs.put(b"page")
    assert store.blobs.put(b"page") == name
    assert store.blobs.get(name) == b"page"
