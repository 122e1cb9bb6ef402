"""Files by the hash of their content, behind fsspec: a folder by default, another address where asked for."""

from __future__ import annotations

import hashlib
import math
import os
import time
import uuid
from pathlib import Path, PurePath
from typing import Any

import fsspec
from fsspec.implementations.local import LocalFileSystem

DURABLE = not os.environ.get("ZESTPAIL_LOSES_FILES")
"""Whether the disk is waited for; tests, whose files may be lost, do not, nor do the servers that they start."""


class Blobs:
    """A store of immutable byte strings, addressed by their SHA-256."""

    def __init__(self, address: str) -> None:
        """``address`` is a folder or any fsspec URL."""
        self._files: Any
        self._files, self._root = fsspec.core.url_to_fs(address, auto_mkdir=True)

    def put(self, data: bytes) -> str:
        """Keep the data and return its hash; it is on the disk then. The same data is kept once.

        A crash leaves no half blob under its name; where one lies there all the same, it is written anew.
        """
        name = hashlib.sha256(data).hexdigest()
        path = self._path(name)
        if self._whole(path, data):
            self._touch(path)
        else:
            arriving = f"{path}.{uuid.uuid4().hex}.arriving"
            fresh = not self._files.exists(str(PurePath(path).parent))
            try:
                self._files.pipe_file(arriving, data)
                self._written_out(arriving)
                self._files.mv(arriving, path)
                for folder in list(PurePath(path).parents)[: 3 if fresh else 1]:
                    self._written_out(str(folder))
            except BaseException:  # such as a full disk: what is half there would fill it for good
                if self._files.exists(arriving):
                    self._files.rm_file(arriving)
                raise
        return name

    def get(self, name: str) -> bytes:
        """The data of that hash. Raises FileNotFoundError."""
        return bytes(self._files.cat_file(self._path(name)))

    def holds(self, name: str) -> bool:
        return bool(self._files.exists(self._path(name)))

    def forget(self, name: str) -> None:
        """Delete the data of that hash, if it is there. Who calls this knows that nothing refers to it any more."""
        if self.holds(name):
            self._files.rm_file(self._path(name))

    def age(self, name: str) -> float:
        """Seconds since somebody last put it there; endless where it is not, or where that cannot be told."""
        try:
            return time.time() - Path(self._path(name)).stat().st_mtime if self._on_disk else math.inf
        except FileNotFoundError:
            return math.inf

    @property
    def _on_disk(self) -> bool:
        return isinstance(self._files, LocalFileSystem)

    def _touch(self, path: str) -> None:
        if self._on_disk:
            os.utime(path)

    def _whole(self, path: str, data: bytes) -> bool:
        """Whether exactly that lies there: after a crash a file may be there and be empty."""
        try:
            return int(self._files.size(path) or 0) == len(data) and bytes(self._files.cat_file(path)) == data
        except FileNotFoundError:
            return False

    def _written_out(self, path: str) -> None:
        """Have the disk keep what was written to a file, or to a folder; elsewhere the store itself sees to that."""
        if not DURABLE or not self._on_disk:
            return
        opened = os.open(path, os.O_RDONLY)
        try:
            os.fsync(opened)
        finally:
            os.close(opened)

    def _path(self, name: str) -> str:
        return f"{self._root}/{name[:2]}/{name[2:4]}/{name}"
