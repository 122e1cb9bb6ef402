"""News for programs, in an order in which none is ever passed over."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from sqlmodel import Session, col, func, or_, select, text

from zestpail.store.feed_tables import Hook, HookCall, HookCallState, News

NUMBERING = 20_412
"""What tells this lock from others of the database."""
_NUMBER = text(
    "UPDATE news SET seq = fresh.seq FROM (SELECT id, coalesce((SELECT max(seq) FROM news), 0) "
    "+ row_number() OVER (ORDER BY id) AS seq FROM news WHERE seq IS NULL) AS fresh WHERE news.id = fresh.id"
)


def number_news(session: Session) -> None:
    """Give what was committed since its places.

    One at a time, and after it is there for all to see: rows are numbered by the database as they begin, and become
    visible as they end, so that whoever asked for what came after number 7 would miss a 6 that ended later.
    """
    session.execute(select(func.pg_advisory_xact_lock(NUMBERING)))
    session.execute(_NUMBER)


def last_news(session: Session) -> int:
    """The place of the last one; 0 where there is none."""
    return session.exec(select(func.max(News.seq))).one() or 0


def news_after(
    session: Session, after: int, most: int, *, closed: Collection[int] = (), kinds: Collection[str] = (),
    jobs_of: int | None = None, all_jobs: bool = False,
) -> list[News]:  # fmt: skip
    """What comes after that place, in order; not of closed lanes, and of jobs only those of a token, or all."""
    wanted = select(News).where(col(News.seq) > after)
    if not all_jobs:
        wanted = wanted.where(or_(col(News.token_id).is_(None), News.token_id == jobs_of))
    if closed:
        wanted = wanted.where(or_(col(News.lane_id).is_(None), col(News.lane_id).not_in(closed)))
    if kinds:
        wanted = wanted.where(col(News.kind).in_(kinds))
    return list(session.exec(wanted.order_by(col(News.seq)).limit(most)))


def hooks(session: Session, *, also_ended: bool = False) -> Sequence[Hook]:
    """The addresses that are called, the newest first."""
    wanted = select(Hook).order_by(col(Hook.id).desc())
    return session.exec(wanted if also_ended else wanted.where(col(Hook.ended_at).is_(None))).all()


def calls_due(session: Session, now: object, most: int) -> Sequence[HookCall]:
    """The calls whose time has come, of addresses that are still called; held until the transaction ends."""
    wanted = select(HookCall).join(Hook, col(Hook.id) == col(HookCall.hook_id))
    wanted = wanted.where(HookCall.state == HookCallState.WAITING, col(HookCall.next_at) <= now)
    wanted = wanted.where(col(Hook.ended_at).is_(None)).order_by(col(HookCall.id)).limit(most)
    return session.exec(wanted.with_for_update(skip_locked=True, of=HookCall)).all()
