"""Files arrive at a lane: each is kept before its arrival is acknowledged."""

from __future__ import annotations

import unicodedata
from pathlib import PureWindowsPath

from zestpail.core.reading.opening import Limits
from zestpail.desk.lanes import lane_of_key
from zestpail.desk.sentences import Missing, NotDone
from zestpail.desk.states import OPEN
from zestpail.desk.trail import note
from zestpail.store import Store
from zestpail.store.jobs import defer
from zestpail.store.tables import ArrivedFile, Batch


def arrive(store: Store, lane_key: str, name: str, data: bytes, person_id: int, batch_id: int | None) -> int:
    """Keep one file and put it to work; returns its batch, begun here if ``batch_id`` is None.

    Raises Missing if there is no such lane, or no such batch of it.
    """
    blob = store.blobs.put(data)
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        batch = session.get(Batch, batch_id) if batch_id else Batch(lane_id=lane.id or 0, person_id=person_id)
        if batch is None or batch.lane_id != lane.id:
            raise Missing("There is no such batch in this lane.")
        session.add(batch)
        session.flush()
        file = ArrivedFile(batch_id=batch.id or 0, name=shown_name(name), blob=blob, size=len(data))
        session.add(file)
        session.flush()
        note(
            session,
            "arrived",
            batch_id=batch.id,
            person_id=person_id,
            after={"file": file.name, "bytes": file.size},
        )
        defer(session, "open_file", priority=OPEN, file_id=file.id)
        return batch.id or 0


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
