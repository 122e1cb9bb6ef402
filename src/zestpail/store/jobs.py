"""The job queue in the same database: a job is deferred in the transaction that causes it, or not at all."""

from __future__ import annotations

from enum import IntEnum
from typing import Any

import procrastinate
from sqlmodel import Session

QUEUE = "pages"

_app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector())


class Priority(IntEnum):
    """Of steps: what is nearest to its end goes first, and samples before batches: somebody waits for them."""

    READ = 0
    READ_SAMPLE = 5
    OPEN = 10
    OPEN_SAMPLE = 15
    EXTRACT = 20
    DELIVER = 30


def defer(
    session: Session,
    task: str,
    *,
    priority: int = 0,
    seconds: int = 0,
    lock: str | None = None,
    **arguments: Any,
) -> None:
    """Put a job into the queue when the session's transaction commits; higher priorities are worked off first."""
    connection = session.connection().connection.driver_connection
    _app.configure_task(
        task,
        queue=QUEUE,
        priority=priority,
        lock=lock,
        schedule_in={"seconds": seconds} if seconds else None,
        connection=connection,
    ).defer(**arguments)
