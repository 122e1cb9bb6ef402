"""Files arrive at a lane: each is kept before its arrival is acknowledged."""

from __future__ import annotations

import unicodedata
from pathlib import PureWindowsPath

from sqlmodel import Session, col, select

from zestpail.core.reading.opening import Limits
from zestpail.desk.lanes import lane_of_key
from zestpail.desk.sentences import Missing, NotDone
from zestpail.desk.states import OPEN
from zestpail.desk.trail import note
from zestpail.store import Store
from zestpail.store.jobs import defer
from zestpail.store.tables import ArrivedFile, Batch, Lane


def arrive_once(store: Store, lane_key: str, name: str, data: bytes, channel: str, identity: str = "") -> str:
    """Keep a file that nobody watches over, as a batch of its own; returns "" or why it was not taken again.

    What came to the lane by the same channel before is not taken twice; it is known again by its ``identity``, or by
    its bytes where it has none. Raises Missing.
    """
    blob = store.blobs.put(data)
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.get_one(Lane, lane.id, with_for_update=True)  # two that come at once see each other
        again = col(ArrivedFile.given)["identity"].astext == identity if identity else col(ArrivedFile.blob) == blob
        same = (
            select(ArrivedFile, Batch)
            .join(Batch, col(ArrivedFile.batch_id) == col(Batch.id))
            .where(Batch.lane_id == lane.id, Batch.channel == channel, col(ArrivedFile.of_id).is_(None), again)
        )
        known = session.exec(same).first()
        if known:
            file, batch = known
            return f"It came already, as {file.name} in batch {batch.id}, and was not taken twice."
        batch = Batch(lane_id=lane.id or 0, channel=channel)
        session.add(batch)
        session.flush()
        file = _keep(session, batch, name, blob, len(data), None)
        file.given = {"identity": identity} if identity else {}
        return ""


def arrive(
    store: Store, lane_key: str, name: str, data: bytes, person_id: int | None, batch_id: int | None, channel: str = ""
) -> int:
    """Keep one file and put it to work; returns its batch, begun here if ``batch_id`` is None.

    Raises Missing if there is no such lane, or no such batch of it.
    """
    blob = store.blobs.put(data)
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        batch = (
            session.get(Batch, batch_id)
            if batch_id
            else Batch(lane_id=lane.id or 0, person_id=person_id, channel=channel)
        )
        if batch is None or batch.lane_id != lane.id:
            raise Missing("There is no such batch in this lane.")
        session.add(batch)
        session.flush()
        _keep(session, batch, name, blob, len(data), person_id)
        return batch.id or 0


def _keep(session: Session, batch: Batch, name: str, blob: str, size: int, person_id: int | None) -> ArrivedFile:
    file = ArrivedFile(batch_id=batch.id or 0, name=shown_name(name), blob=blob, size=size)
    session.add(file)
    session.flush()
    told = {"file": file.name, "bytes": file.size, "said": batch.channel}
    note(session, "arrived", batch_id=batch.id, person_id=person_id, after=told)
    defer(session, "open_file", priority=OPEN, file_id=file.id)
    return file


def may_arrive(name: str, size: int, limits: Limits = Limits()) -> None:  # noqa: B008 - frozen
    """Refuse a file before it is taken in. Raises NotDone if it is larger than any that is read."""
    if size > limits.max_bytes:
        most = limits.max_bytes // 1_000_000
        raise NotDone(f"{shown_name(name)} has {size // 1_000_000} MB; at most {most} MB are taken. It was not kept.")


def shown_name(name: str) -> str:
    """The file's own name without folders and control characters, to be shown; it is never used as a path."""
    last = PureWindowsPath(name.replace("\0", "")).name
    plain = "".join(c for c in unicodedata.normalize("NFC", last) if c.isprintable())
    return plain.strip()[:200] or "a file without a name"
