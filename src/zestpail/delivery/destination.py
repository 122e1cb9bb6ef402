"""What every destination can do."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import PurePosixPath
from typing import Protocol


class Refused(Exception):
    """The destination does not take it; ``str()`` is a sentence for a person."""


class Taken(Refused):
    """Another file has that name already."""


class Destination(Protocol):
    """A place that takes files under relative names."""

    def holds(self, path: PurePosixPath) -> bool:
        """Whether something of that name is there."""

    def put(self, path: PurePosixPath, data: bytes) -> None:
        """Write a file that was not there; the same content under the same name again is no error.

        Raises Taken if other content has that name, Refused with the reason if it cannot be written.
        """

    def rewrite(self, path: PurePosixPath, change: Callable[[bytes], bytes]) -> None:
        """Replace a file by what ``change`` makes of it (of nothing, if it is not there), one writer at a time.

        Raises Refused with the reason.
        """
