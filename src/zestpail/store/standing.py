"""What of the service itself is down, so that a page can say so."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import text
from sqlmodel import Field, Session, SQLModel

from zestpail.store.columns import moment


class ProcessDown(SQLModel, table=True):
    """A process that ended again and again, and is started anew after a pause."""

    __tablename__ = "process_down"

    name: str = Field(primary_key=True)
    deaths: int
    """How often it ended in a row."""
    again_at: datetime | None = moment()


def live_workers(session: Session, within: float) -> int:
    """How many workers gave a sign of life in so many seconds."""
    query = "SELECT count(*) FROM procrastinate_workers WHERE last_heartbeat > now() - make_interval(secs => :within)"
    return int(session.execute(text(query), {"within": within}).scalar_one())


def steps_due(session: Session, since: float) -> int:
    """How many steps could have been taken up for so many seconds, and were not."""
    query = (
        "SELECT count(*) FROM procrastinate_jobs WHERE status = 'todo' AND coalesce(scheduled_at, (SELECT max(at) FROM "
        "procrastinate_events WHERE job_id = procrastinate_jobs.id)) < now() - make_interval(secs => :since)"
    )
    return int(session.execute(text(query), {"since": since}).scalar_one())
