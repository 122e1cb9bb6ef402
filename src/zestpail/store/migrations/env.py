"""How Alembic reaches the database: told by ``zestpail.store.migrate``."""

from __future__ import annotations

from typing import Any

from alembic import context
from sqlalchemy import create_engine
from sqlmodel import SQLModel

from zestpail.store import (  # noqa: F401 - fill the metadata
    access_tables,
    archive_tables,
    call_tables,
    feed_tables,
    intake_tables,
    learning_tables,
    retention_tables,
    standing,
    tables,
    trail_tables,
)


def ours(name: str | None, kind: str, _parents: Any) -> bool:
    """The job tables belong to Procrastinate."""
    return kind != "table" or not (name or "").startswith("procrastinate_")


url = context.config.attributes["url"].replace("postgresql://", "postgresql+psycopg://", 1)
engine = create_engine(url)
with engine.begin() as connection:
    context.configure(connection=connection, target_metadata=SQLModel.metadata, include_name=ours, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()
