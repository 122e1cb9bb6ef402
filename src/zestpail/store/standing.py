"""What of the service itself is down, so that a page can say so."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import BigInteger, Column, text
from sqlmodel import Field, Session, SQLModel

from zestpail.store.columns import moment


class ProcessDown(SQLModel, table=True):
    """A process that ended again and again, and is started anew after a pause."""

    __tablename__ = "process_down"

    name: str = Field(primary_key=True)
    deaths: int
    """How often it ended in a row."""
    again_at: datetime | None = moment()


class StepBroken(SQLModel, table=True):
    """A step that broke off by its own fault."""

    __tablename__ = "step_broken"

    job_id: int = Field(sa_column=Column(BigInteger, primary_key=True, autoincrement=False))
    ended: int = 0
    """How often it took its process down."""
    raised: int = 0
    """How often it raised something that nobody expected."""


def forget_steps_that_are_over(session: Session) -> None:
    """Keep nothing of steps that are not in the queue any more."""
    session.execute(text("DELETE FROM step_broken WHERE job_id NOT IN (SELECT id FROM procrastinate_jobs)"))


def take_for_dead(session: Session, job_id: int) -> None:
    """Have the step taken up by another worker soon: the one that had it is known to have ended."""
    query = (
        "UPDATE procrastinate_workers SET last_heartbeat = now() - interval '1 day' "
        "WHERE id = (SELECT worker_id FROM procrastinate_jobs WHERE id = :job AND status = 'doing')"
    )
    session.execute(text(query), {"job": job_id})


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
