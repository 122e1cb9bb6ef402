"""What every channel hands over, and how it learns that it was kept."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Arrived:
    """A file for a lane."""

    lane: str
    name: str
    data: bytes
    channel: str
    """By which way it came, as a person reads it."""
    identity: str = ""
    """What it is known by if it comes again; its bytes, where there is nothing better."""


class NotKept(Exception):
    """The file was not taken, for the reason said; the channel keeps or returns it."""


class KeptBefore(NotKept):
    """The same file came before and is safe: it is not taken twice."""


Keep = Callable[[Arrived], None]
"""Returns when the file is safe; raises NotKept."""
