"""The key with which the first administrator is made: printed where the server was started, and good until then."""

from __future__ import annotations

import secrets
from pathlib import Path

_FILE = "first-start.key"


def key_of(data: Path) -> str:
    """The key that is good now; made if there is none."""
    path = data / _FILE
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(24))
    return path.read_text()


def is_key(data: Path, given: str) -> bool:
    """Whether it is the key."""
    path = data / _FILE
    return path.exists() and secrets.compare_digest(path.read_text().encode(), given.encode())


def done(data: Path) -> None:
    """The key is of no use any more."""
    (data / _FILE).unlink(missing_ok=True)
