"""Telling everybody who listens that something changed: PostgreSQL's NOTIFY, sent when the transaction commits."""

from __future__ import annotations

from collections.abc import Iterator

import psycopg
from sqlalchemy import text
from sqlmodel import Session

CHANNEL = "zestpail_changed"


def changed(session: Session, *topics: str) -> None:
    """Say that these topics ("today", "batch 12", "document 31") changed."""
    for topic in topics:
        session.execute(text("SELECT pg_notify(:channel, :topic)"), {"channel": CHANNEL, "topic": topic})


def listen(url: str, quiet: float) -> Iterator[str | None]:
    """Topics as they change; None whenever nothing came for ``quiet`` seconds, so that the caller can stop."""
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute(f"LISTEN {CHANNEL}")
        while True:
            for notice in connection.notifies(timeout=quiet, stop_after=1):
                yield notice.payload
            yield None
