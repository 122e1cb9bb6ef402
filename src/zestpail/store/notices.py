"""Telling everybody who listens that something changed: PostgreSQL's NOTIFY, sent when the transaction commits."""

from __future__ import annotations

from collections.abc import Iterator

import psycopg
from sqlalchemy import text
from sqlmodel import Session

CHANNEL = "zestpail_changed"


def changed(session: Session, *topics: str) -> None:
    """Say that these topics ("today", "batch 12", "document 31") changed."""
    query = text("SELECT pg_notify(:channel, topic) FROM unnest(CAST(:topics AS text[])) AS topic")
    session.execute(query, {"channel": CHANNEL, "topics": list(topics)})


def listen(url: str, quiet: float) -> Iterator[str | None]:
    """Topics as they change; None whenever nothing came for ``quiet`` seconds, so that the caller can stop."""
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute(f"LISTEN {CHANNEL}")
        while True:
            for notice in connection.notifies(timeout=quiet, stop_after=1):
                yield notice.payload
            yield None
