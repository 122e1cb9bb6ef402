"""Large files that arrive in pieces: what is there already is not sent again after a break.

A piece is on the disk before it is answered. A file is known again by person, lane, name, size and time of change.
"""

from __future__ import annotations

import hashlib
import os
import re
import time
import uuid
from pathlib import Path

from filelock import FileLock
from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.limits import USUAL_LIMITS, Limits
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.intake.arrivals import arrive, may_arrive
from zestpail.store import Store

KEPT_FOR = 7 * 24 * 3600.0
"""Seconds after which a file that was never finished is forgotten."""
_KEY = re.compile(r"[0-9a-f]{64}")


class Wanted(BaseModel):
    """A file that is to arrive in pieces."""

    model_config = ConfigDict(frozen=True)

    lane: str
    name: str
    size: int
    """Bytes."""
    stamp: int
    """When it was changed last, as its sender's clock has it."""


def begin(folder: Path, wanted: Wanted, person_id: int, limits: Limits = USUAL_LIMITS) -> tuple[str, int]:
    """By what the file is known, and how much of it is there. Raises NotDone if it is too large."""
    may_arrive(wanted.name, wanted.size, limits)
    folder.mkdir(parents=True, exist_ok=True)
    _forget_old(folder)
    details = "\0".join(map(str, (person_id, wanted.lane, wanted.name, wanted.size, wanted.stamp)))
    key = hashlib.sha256(details.encode("utf-8", "surrogatepass")).hexdigest()
    path = folder / key
    with FileLock(f"{path}.lock"):
        if not path.exists():
            path.with_suffix(".id").write_text(uuid.uuid4().hex)
            path.touch()
    return key, _there(path)


def add(folder: Path, key: str, offset: int, piece: bytes) -> int:
    """Put a piece where it belongs; returns how much is there. A piece that does not follow on is not taken."""
    path = _path(folder, key)
    with FileLock(f"{path}.lock"):
        if offset == _there(path):
            with path.open("ab") as file:
                file.write(piece)
                file.flush()
                os.fsync(file.fileno())
        return _there(path)


def finish(store: Store, folder: Path, key: str, wanted: Wanted, person_id: int, batch_id: int | None) -> int:
    """The file is whole: it arrives; returns its batch. Broken off and asked again, it arrives once. Raises NotDone."""
    path = _path(folder, key)
    with FileLock(f"{path}.lock"):
        if _there(path) != wanted.size:
            raise NotDone(f"{wanted.name[:80]} is not whole: {_there(path)} of {wanted.size} bytes are there.")
        mark = path.with_suffix(".id")
        name = mark.read_text()
        batch = arrive(store, wanted.lane, wanted.name, path.read_bytes(), person_id, batch_id, known_as=name)
        path.unlink()
        mark.unlink()
    return batch


def _path(folder: Path, key: str) -> Path:
    if not _KEY.fullmatch(key) or not (folder / key).exists():
        raise Missing("No such file was begun; drop it again.")
    return folder / key


def _there(path: Path) -> int:
    return path.stat().st_size if path.exists() else 0


def _forget_old(folder: Path) -> None:
    for path in folder.iterdir():
        if time.time() - path.stat().st_mtime > KEPT_FOR:
            path.unlink(missing_ok=True)
