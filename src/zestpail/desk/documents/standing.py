"""Whether the service itself stands: what is down, and what that means for who waits."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from pathlib import Path

from sqlmodel import Session, col, delete, select

from zestpail.store import Store
from zestpail.store.notices import changed
from zestpail.store.standing import (
    ProcessDown,
    StepBroken,
    forget_steps_that_are_over,
    live_workers,
    steps_due,
    take_for_dead,
)

SIGN_OF_LIFE = 60.0
"""Seconds after which a worker that says nothing is taken for gone, and a step that nobody takes for left lying."""
MOST_ENDED, MOST_RAISED = 2, 3
"""How often a step may take its process down, or raise something, before it is put aside."""
_WITHOUT = {
    "intake": "Files from watched folders and e-mail are not taken meanwhile; nothing of them is lost.",
    "worker": "Reading is slower meanwhile.",
}


def tell_down(store: Store, down: Mapping[str, tuple[int, datetime]]) -> None:
    """Keep what is down now: by name how often it ended in a row, and when it is started again."""
    with store.transaction() as session:
        session.exec(delete(ProcessDown).where(col(ProcessDown.name).not_in(list(down))))
        for name, (deaths, again_at) in down.items():
            session.merge(ProcessDown(name=name, deaths=deaths, again_at=again_at))
        changed(session, "today")


def down_now(session: Session) -> list[tuple[str, datetime | None]]:
    """A sentence for each thing that is down, with when it is started again."""
    down = session.exec(select(ProcessDown).order_by(col(ProcessDown.name))).all()
    told: list[tuple[str, datetime | None]] = [(_sentence(one), one.again_at) for one in down]
    if not live_workers(session, SIGN_OF_LIFE) and (left := steps_due(session, SIGN_OF_LIFE)):
        waiting = "1 step waits" if left == 1 else f"{left} steps wait"
        told.append((f"No worker gives a sign of life: nothing is read or delivered, {waiting}.", None))
    return told


def mark_of(data: Path, process: int) -> Path:
    """Where a worker says which step it is at, so that others know when it is gone."""
    return data / "at_work" / str(process)


def step_broke(store: Store, job_id: int, *, ended: bool) -> None:
    """A step broke off by its own fault: with its process, or by raising something that nobody expected."""
    with store.transaction() as session:
        known = session.get(StepBroken, job_id, with_for_update=True) or StepBroken(job_id=job_id)
        known.ended, known.raised = known.ended + ended, known.raised + (not ended)
        session.add(known)
        if ended:
            take_for_dead(session, job_id)


def forget_broken_steps(store: Store) -> None:
    """Keep nothing of steps that are over."""
    with store.transaction() as session:
        forget_steps_that_are_over(session)


def broke_too_often(store: Store, job_id: int) -> bool:
    """Whether the step is not to be tried again."""
    with store.transaction() as session:
        known = session.get(StepBroken, job_id)
        return known is not None and (known.ended >= MOST_ENDED or known.raised >= MOST_RAISED)


def _sentence(one: ProcessDown) -> str:
    kind = one.name.split()[0]
    what = {"intake": "The intake", "worker": one.name.capitalize()}.get(kind, f"The stand-in {one.name}")
    return f"{what} ended {one.deaths} times in a row. {_WITHOUT.get(kind, 'Nothing reaches it meanwhile.')}"
