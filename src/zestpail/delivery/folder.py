"""A folder of this machine as a destination."""

from __future__ import annotations

import hashlib
import os
import uuid
from collections.abc import Callable
from pathlib import Path, PurePosixPath

from filelock import FileLock

from zestpail.delivery.destination import Refused, Taken


class Folder:
    """Files under ``root``; nothing is ever written outside it or over something else.

    Writers of one file wait for each other by lock files in ``locks``, apart from what is delivered.
    """

    def __init__(self, root: Path, locks: Path) -> None:
        self._root, self._locks = root, locks

    def holds(self, path: PurePosixPath) -> bool:
        return self._inside(path).exists()

    def put(self, path: PurePosixPath, data: bytes) -> None:
        target = self._inside(path)
        try:
            arriving = self._written_beside(target, data)
            try:
                os.link(arriving, target)  # unlike a rename this fails if the name is taken
            except FileExistsError as error:
                if target.read_bytes() != data:
                    raise Taken(f"{path} is there already with other content.") from error
            finally:
                arriving.unlink()
        except OSError as error:
            raise Refused(f"{path} cannot be written: {(error.strerror or str(error)).lower()}.") from error

    def rewrite(self, path: PurePosixPath, change: Callable[[bytes], bytes]) -> None:
        target = self._inside(path)
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            self._locks.mkdir(parents=True, exist_ok=True)
            with FileLock(self._locks / f"{hashlib.sha256(bytes(target)).hexdigest()[:16]}.lock", timeout=60):
                before = target.read_bytes() if target.exists() else b""
                after = change(before)
                if after != before:
                    self._written_beside(target, after).replace(target)
        except (OSError, ValueError) as error:
            said = (error.strerror or str(error)) if isinstance(error, OSError) else str(error)
            raise Refused(f"{path} cannot be added to: {said}") from error

    def _inside(self, path: PurePosixPath) -> Path:
        if path.is_absolute() or ".." in path.parts:
            raise Refused(f"{path} lies outside the destination.")
        target = self._root.joinpath(*path.parts)
        if not target.resolve().is_relative_to(self._root.resolve()):
            raise Refused(f"{path} lies outside the destination.")
        return target

    def _written_beside(self, target: Path, data: bytes) -> Path:
        target.parent.mkdir(parents=True, exist_ok=True)
        arriving = target.with_name(f".{uuid.uuid4().hex}.arriving")
        with arriving.open("wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        return arriving
