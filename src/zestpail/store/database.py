"""The connection to PostgreSQL, and the store that use cases are given."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass

import orjson
from psycopg.errors import DeadlockDetected, LockNotAvailable
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.exc import DataError, OperationalError
from sqlmodel import Session

from zestpail.core.reading.limits import USUAL_LIMITS, Limits
from zestpail.store.blobs import Blobs

_joined: ContextVar[tuple[Engine, Session] | None] = ContextVar("_joined", default=None)


class Unkeepable(Exception):
    """A value that no table takes or knows: a text with NUL in it, a number beyond all numbers."""


class Unreachable(Exception):
    """The database does not answer."""


class Busy(Exception):
    """Somebody else changes the same thing at this moment."""


@dataclass(frozen=True)
class Store:
    """Tables and blobs together."""

    engine: Engine
    blobs: Blobs
    url: str
    limits: Limits = USUAL_LIMITS
    """What a single file may ask of us."""

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A session whose work is kept if the block ends well, and undone as a whole if it raises.

        Raises Unkeepable, Busy, or Unreachable where the database does not answer or broke off.
        """
        joined = _joined.get()
        if joined and joined[0] is self.engine:
            yield joined[1]
            joined[1].flush()
            return
        try:
            with Session(self.engine, expire_on_commit=False) as session, session.begin():
                yield session
        except DataError as problem:
            raise Unkeepable from problem
        except OperationalError as problem:
            if isinstance(problem.orig, (LockNotAvailable, DeadlockDetected)):
                raise Busy from problem
            raise Unreachable(str(problem.orig)) from problem

    @contextmanager
    def together(self) -> Iterator[None]:
        """Every :meth:`transaction` of this thread within the block is one; what was fetched is not fetched again."""
        with self.transaction() as session:
            kept: list[object] = []  # a session forgets what nobody holds, and would fetch it again
            event.listen(session, "loaded_as_persistent", lambda _, loaded: kept.append(loaded))
            token = _joined.set((self.engine, session))
            try:
                yield
            finally:
                _joined.reset(token)


def open_store(url: str, blobs: str, limits: Limits = USUAL_LIMITS) -> Store:
    """The store at a PostgreSQL address (``postgresql://…``) and a blob address."""
    engine = create_engine(
        url.replace("postgresql://", "postgresql+psycopg://", 1),
        pool_size=10,
        max_overflow=20,
        pool_pre_ping=True,
        json_deserializer=orjson.loads,
    )
    return Store(engine, Blobs(blobs), url, limits)
