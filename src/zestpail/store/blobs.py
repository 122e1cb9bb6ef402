"""Files by the hash of their content, behind fsspec: a folder by default, another address where asked for."""

from __future__ import annotations

import hashlib
import uuid
from typing import Any

import fsspec


class Blobs:
    """A store of immutable byte strings, addressed by their SHA-256."""

    def __init__(self, address: str) -> None:
        """``address`` is a folder or any fsspec URL."""
        self._files: Any
        self._files, self._root = fsspec.core.url_to_fs(address, auto_mkdir=True)

    def put(self, data: bytes) -> str:
        """Keep the data and return its hash. The same data is kept once; a crash leaves no half blob."""
        name = hashlib.sha256(data).hexdigest()
        path = self._path(name)
        if not self._files.exists(path):
            arriving = f"{path}.{uuid.uuid4().hex}.arriving"
            try:
                self._files.pipe_file(arriving, data)
                self._files.mv(arriving, path)
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

    def _path(self, name: str) -> str:
        return f"{self._root}/{name[:2]}/{name[2:4]}/{name}"
