"""The connection to PostgreSQL, and the store that use cases are given."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from sqlalchemy import Engine, create_engine
from sqlmodel import Session

from zestpail.store.blobs import Blobs


@dataclass(frozen=True)
class Store:
    """Tables and blobs together."""

    engine: Engine
    blobs: Blobs
    url: str

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A session whose work is kept if the block ends well, and undone as a whole if it raises."""
        with Session(self.engine, expire_on_commit=False) as session, session.begin():
            yield session


def open_store(url: str, blobs: str) -> Store:
    """The store at a PostgreSQL address (``postgresql://…``) and a blob address."""
    engine = create_engine(
        url.replace("postgresql://", "postgresql+psycopg://", 1),
        pool_size=10,
        max_overflow=20,
        pool_pre_ping=True,
    )
    return Store(engine, Blobs(blobs), url)
