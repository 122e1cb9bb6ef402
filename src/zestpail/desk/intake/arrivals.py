"""Files arrive at a lane: each is kept before its arrival is acknowledged."""

from __future__ import annotations

import unicodedata
from collections.abc import Mapping
from pathlib import PureWindowsPath
from typing import NamedTuple

from sqlmodel import Session, col, select

from zestpail.core.reading.limits import USUAL_LIMITS, Limits
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.store import Store
from zestpail.store.document_origin import IDENTITY
from zestpail.store.jobs import Priority, defer
from zestpail.store.tables import ArrivedFile, Batch, Lane


class Arrival(NamedTuple):
    """The batch in which a file is, and why it was not taken again if it came before."""

    batch_id: int
    before: str = ""


def arrive_once(
    store: Store, lane_key: str, name: str, data: bytes, channel: str, identity: str = "",
    given: Mapping[str, str] = {}, *, only_content: bool = False,
) -> Arrival:  # fmt: skip
    """Keep a file that nobody watches over, as a batch of its own; ``given`` is what is known of it from elsewhere.

    What came to the lane by the same channel before is not taken twice; it is known again by its ``identity``, or by
    its bytes where it has none. With ``only_content`` other bytes under a known identity raise NotDone. Raises Missing.
    """
    blob = store.blobs.put(data)
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        session.get_one(Lane, lane.id, with_for_update=True)  # two that come at once see each other
        known = _known(session, lane, channel, identity or blob, by_bytes=not identity)
        if known and known.blob != blob and only_content:
            raise NotDone(f"Another file came under this key, as {known.name} in batch {known.batch_id}.")
        if known:
            message = f"It came already, as {known.name} in batch {known.batch_id}, and was not taken twice."
            return Arrival(known.batch_id, message)
        batch = Batch(lane_id=lane.id or 0, channel=channel)
        session.add(batch)
        session.flush()
        file = _keep(session, batch, name, blob, len(data), None)
        file.given = {**given, **({IDENTITY: identity} if identity else {})}
        return Arrival(batch.id or 0)


def arrive(
    store: Store, lane_key: str, name: str, data: bytes, person_id: int | None, batch_id: int | None,
    channel: str = "", known_as: str = "",
) -> int:  # fmt: skip
    """Keep one file and put it to work; returns its batch, begun here if ``batch_id`` is None.

    What came already under the name that it is ``known_as`` is not taken again. Raises Missing if there is no such
    lane, or no such batch of it.
    """
    blob = store.blobs.put(data)
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        known = _known(session, lane, channel, known_as) if known_as else None
        if known:
            return known.batch_id
        begun = Batch(lane_id=lane.id or 0, person_id=person_id, channel=channel)
        batch = session.get(Batch, batch_id) if batch_id else begun
        if batch is None or batch.lane_id != lane.id:
            raise Missing("There is no such batch in this lane.")
        session.add(batch)
        session.flush()
        file = _keep(session, batch, name, blob, len(data), person_id)
        file.given = {IDENTITY: known_as} if known_as else {}
        return batch.id or 0


def _known(session: Session, lane: Lane, channel: str, identity: str, by_bytes: bool = False) -> ArrivedFile | None:
    """The file that came to the lane by that channel under that name, or with those bytes."""
    again = col(ArrivedFile.blob) == identity if by_bytes else col(ArrivedFile.given)[IDENTITY].astext == identity
    of_lane = select(ArrivedFile).join(Batch, col(ArrivedFile.batch_id) == col(Batch.id))
    same = of_lane.where(Batch.lane_id == lane.id, Batch.channel == channel, col(ArrivedFile.of_id).is_(None), again)
    return session.exec(same).first()


def _keep(session: Session, batch: Batch, name: str, blob: str, size: int, person_id: int | None) -> ArrivedFile:
    file = ArrivedFile(batch_id=batch.id or 0, name=shown_name(name), blob=blob, size=size)
    session.add(file)
    session.flush()
    details = {"file": file.name, "bytes": file.size, "message": batch.channel}
    note(session, "arrived", batch_id=batch.id, person_id=person_id, after=details)
    defer(session, "open_file", priority=Priority.OPEN, file_id=file.id)
    return file


def may_arrive(name: str, size: int, limits: Limits = USUAL_LIMITS) -> None:
    """Refuse a file before it is taken in. Raises NotDone if it is larger than any that is read."""
    if size > limits.max_bytes:
        most = limits.max_bytes // 1_000_000
        raise NotDone(f"{shown_name(name)} has {size // 1_000_000} MB; at most {most} MB are taken. It was not kept.")


def shown_name(name: str) -> str:
    """The file's own name without folders and control characters, to be shown; it is never used as a path."""
    last = PureWindowsPath(name.replace("\0", "")).name
    plain = "".join(c for c in unicodedata.normalize("NFC", last) if c.isprintable())
    return plain.strip()[:200] or "a file without a name"
